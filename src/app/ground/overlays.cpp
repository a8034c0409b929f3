// SPDX-License-Identifier: Apache-2.0
#include "app/ground/overlays.h"
#include "app/ui/theme.h"

#include <cmath>

namespace snare::app {

namespace {

constexpr double rulerWidth = 18;
constexpr QSizeF largestOverview{150, 96};

} // namespace

void paintRulers(QPainter& painter, const GroundTransform& transform, const std::optional<QPointF>& pointer)
{
    const Theme& t = theme();
    const double width = transform.size.width();
    const double height = transform.size.height();
    painter.setPen(Qt::NoPen);
    painter.setBrush(t.panelDeep);
    painter.drawRect(QRectF{0, 0, width, rulerWidth});
    painter.drawRect(QRectF{0, 0, rulerWidth, height});
    double step = 0.1;
    for (const double wanted : {0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0, 5000.0})
        if (step * transform.scale < 44)
            step = wanted;
    painter.setFont(figureFont(-2));
    const Vec low = transform.toScene({0, height});
    const Vec high = transform.toScene({width, 0});
    const auto label = [&](double value) { return QString::number(std::round(value * 10) / 10); };
    for (double x = std::ceil(low.x / step) * step; x <= high.x; x += step) {
        const double at = transform.toView(Vec{x, 0}).x();
        painter.setPen(t.inkSoft);
        painter.drawLine(QPointF{at, rulerWidth - 5}, QPointF{at, rulerWidth});
        painter.drawText(QPointF{at + 3, rulerWidth - 6}, label(x));
    }
    for (double y = std::ceil(low.y / step) * step; y <= high.y; y += step) {
        const double at = transform.toView(Vec{0, y}).y();
        painter.setPen(t.inkSoft);
        painter.drawLine(QPointF{rulerWidth - 5, at}, QPointF{rulerWidth, at});
        painter.save();
        painter.translate(rulerWidth - 6, at - 3);
        painter.rotate(-90);
        painter.drawText(QPointF{0, 0}, label(y));
        painter.restore();
    }
    painter.setPen(t.hairline);
    painter.drawLine(QPointF{0, rulerWidth}, QPointF{width, rulerWidth});
    painter.drawLine(QPointF{rulerWidth, 0}, QPointF{rulerWidth, height});
    if (!pointer)
        return;
    painter.setPen(QPen{t.coral, 1.4});
    painter.drawLine(QPointF{pointer->x(), 0}, QPointF{pointer->x(), rulerWidth});
    painter.drawLine(QPointF{0, pointer->y()}, QPointF{rulerWidth, pointer->y()});
}

Overview::Overview(const geometry::Bounds& scene, const GroundTransform& transform)
    : scene_(scene), transform_(transform)
{
    const QRectF view = QRectF{QPointF{0, 0}, transform.size}.adjusted(-2, -2, 2, 2);
    if (view.contains(transform.toView(scene)))
        return;
    const Vec size = glm::max(scene.size(), Vec(1, 1));
    const double scale = std::min(largestOverview.width() / size.x, largestOverview.height() / size.y);
    const QSizeF box{std::max(30.0, size.x * scale) + 12, std::max(20.0, size.y * scale) + 12};
    box_ = {QPointF{transform.size.width() - box.width() - 12, 12}, box};
}

Vec Overview::toScene(const QPointF& point) const
{
    const QRectF in = inner();
    const Vec part{(point.x() - in.left()) / in.width(), (in.bottom() - point.y()) / in.height()};
    return scene_.low + scene_.size() * part;
}

QPointF Overview::placeOf(const Vec& point) const
{
    const QRectF in = inner();
    const Vec part = (point - scene_.low) / glm::max(scene_.size(), Vec(1e-6, 1e-6));
    return {in.left() + part.x * in.width(), in.bottom() - part.y * in.height()};
}

void Overview::paint(QPainter& painter, const std::vector<ShownPiece>& pieces, const Selection& selection) const
{
    if (box_.isEmpty())
        return;
    const Theme& t = theme();
    painter.setPen(QPen{t.hairline, 1});
    QColor paper = t.panel;
    paper.setAlpha(235);
    painter.setBrush(paper);
    painter.drawRoundedRect(box_, 4, 4);
    for (const ShownPiece& piece : pieces) {
        if (!piece.present)
            continue;
        const bool zone = !piece.piece->shapes.empty() && piece.piece->shapes.front().role == scene::Role::zone;
        QRectF speck{placeOf({piece.box.low.x, piece.box.high.y}), placeOf({piece.box.high.x, piece.box.low.y})};
        speck.setSize(speck.size().expandedTo(QSizeF{1.5, 1.5}));
        QColor colour = selection.has(piece.piece->id) ? t.coral : zone ? t.mint : t.slate;
        colour.setAlpha(zone ? 90 : 190);
        painter.fillRect(speck, colour);
    }
    const QRectF seen{placeOf(transform_.toScene({0, 0})),
                      placeOf(transform_.toScene({transform_.size.width(), transform_.size.height()}))};
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen{t.coral, 1.4});
    painter.drawRect(seen.intersected(box_.adjusted(1, 1, -1, -1)));
}

} // namespace snare::app
