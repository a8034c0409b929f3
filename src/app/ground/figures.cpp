// SPDX-License-Identifier: Apache-2.0
#include "app/ground/figures.h"

#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "world/outline.h"

#include <cmath>

namespace snare::app {

QColor withAlpha(QColor colour, int alpha)
{
    colour.setAlpha(alpha);
    return colour;
}

QColor colourOf(const scene::Look& look, const QColor& fallback)
{
    return look.colour.code.empty() ? fallback : QColor(toText(look.colour.code));
}

double brightness(const QColor& colour)
{
    return 0.3 * colour.redF() + 0.6 * colour.greenF() + 0.1 * colour.blueF();
}

void paintFigure(QPainter& painter, const QPointF& at, const QString& text)
{
    painter.setFont(figureFont(-0.5));
    const QFontMetricsF metrics{painter.font()};
    const QRectF box{at.x() - 5, at.y() - metrics.ascent() - 3, metrics.horizontalAdvance(text) + 10,
                     metrics.height() + 5};
    painter.setPen(Qt::NoPen);
    painter.setBrush(withAlpha(theme().panel, 225));
    painter.drawRoundedRect(box, 3, 3);
    painter.setPen(theme().ink);
    painter.drawText(at, text);
}

QPainterPath shapePath(const scene::Shape& shape, const geometry::Pose& pose, const GroundTransform& transform)
{
    QPainterPath path;
    if (const auto* circle = std::get_if<scene::Circle>(&shape.geometry)) {
        const double radius = circle->radius * transform.scale;
        path.addEllipse(transform.toView(geometry::toScene(pose, shape.at)), radius, radius);
        return path;
    }
    if (const auto* capsule = std::get_if<scene::Capsule>(&shape.geometry)) {
        const geometry::Rotation turn = geometry::rotationOf(shape.turn);
        const QPointF a = transform.toView(geometry::toScene(pose, shape.at + turn.apply(capsule->from)));
        const QPointF b = transform.toView(geometry::toScene(pose, shape.at + turn.apply(capsule->to)));
        const double radius = capsule->radius * transform.scale;
        const double angle = std::atan2(-(b.y() - a.y()), b.x() - a.x()) * 57.29577951308232;
        const auto around = [&](const QPointF& p) {
            return QRectF{p.x() - radius, p.y() - radius, 2 * radius, 2 * radius};
        };
        path.arcMoveTo(around(b), angle - 90);
        path.arcTo(around(b), angle - 90, 180);
        path.arcTo(around(a), angle + 90, 180);
        path.closeSubpath();
        return path;
    }
    if (const auto* traced = std::get_if<scene::Traced>(&shape.geometry))
        if (const scene::TracedArea* area = world::shownArea(*traced); area && !area->rings.empty()) {
            for (const geometry::Ring& ring : area->rings) {
                QPolygonF outline;
                for (const Vec& corner : ring)
                    outline << transform.toView(
                        geometry::toScene(pose, geometry::toScene({shape.at, shape.turn}, corner)));
                path.addPolygon(outline);
                path.closeSubpath();
            }
            return path; // odd and even: holes stay open
        }
    QPolygonF polygon;
    for (const Vec& corner : world::cornersOf(shape))
        polygon << transform.toView(geometry::toScene(pose, corner));
    path.addPolygon(polygon);
    const auto* line = std::get_if<scene::Line>(&shape.geometry);
    if (!line || line->closed)
        path.closeSubpath();
    return path;
}

void paintZone(QPainter& painter, const QPainterPath& path, const std::vector<QPointF>& loops, const QColor& colour,
               bool lit)
{
    painter.setBrush(withAlpha(colour, lit ? 70 : 34));
    QPen stitch{colour, 1.7};
    stitch.setDashPattern({5, 2.2, 1.2, 2.2});
    painter.setPen(stitch);
    painter.drawPath(path);
    painter.setPen(QPen{colour, 1.7});
    painter.setBrush(theme().ground);
    for (const QPointF& loop : loops)
        painter.drawEllipse(loop, 3.6, 3.6);
}

std::vector<QPointF> loopsOf(const scene::Shape& shape, const geometry::Pose& pose, const GroundTransform& transform)
{
    std::vector<QPointF> loops;
    if (const auto* circle = std::get_if<scene::Circle>(&shape.geometry)) {
        const Vec centre = geometry::toScene(pose, shape.at);
        for (const Vec& way : {Vec{1, 0}, Vec{0, 1}, Vec{-1, 0}, Vec{0, -1}})
            loops.push_back(transform.toView(centre + way * circle->radius));
        return loops;
    }
    if (std::holds_alternative<scene::Traced>(shape.geometry))
        return loops; // its outline says enough
    for (const Vec& corner : world::cornersOf(shape))
        loops.push_back(transform.toView(geometry::toScene(pose, corner)));
    return loops;
}

} // namespace snare::app
