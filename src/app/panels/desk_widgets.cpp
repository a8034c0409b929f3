// SPDX-License-Identifier: Apache-2.0
#include "app/panels/desk_widgets.h"

#include "app/ui/accessible.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace snare::app {

// --- meter ---------------------------------------------------------------------------------------------------------

Meter::Meter(const QString& name, QWidget* parent) : QWidget(parent)
{
    setAccessibleName(name);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void Meter::setRange(double low, double high)
{
    low_ = low;
    high_ = high > low ? high : low + 1;
    update();
}

void Meter::preview(std::vector<double> values)
{
    values_ = std::move(values);
    live_ = false;
    update();
}

void Meter::add(double value)
{
    if (!std::exchange(live_, true))
        values_.clear();
    values_.push_back(value);
    if (values_.size() > length)
        values_.erase(values_.begin());
    update();
}

void Meter::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF{rect()}.adjusted(0.5, 0.5, -0.5, -0.5);
    painter.setPen(QPen{t.hairline, 1});
    painter.setBrush(t.paper);
    painter.drawRoundedRect(box, 4, 4);
    if (values_.empty())
        return;
    const double wide = box.width() - 64;
    QPolygonF line;
    for (std::size_t i = 0; i < values_.size(); ++i) {
        const double part = std::clamp((values_[i] - low_) / (high_ - low_), 0.0, 1.0);
        line << QPointF{box.left() + 4 + wide * static_cast<double>(i) / length,
                        box.bottom() - 4 - (box.height() - 8) * part};
    }
    painter.setPen(QPen{live_ ? t.blue : t.slate, 1.5, live_ ? Qt::SolidLine : Qt::DotLine});
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(line);
    if (!live_)
        return;
    painter.setFont(figureFont(0.5));
    painter.setPen(t.ink);
    painter.drawText(box.adjusted(0, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter,
                     QString::number(values_.back(), 'f', 2));
}

// --- gestures ------------------------------------------------------------------------------------------------------

GesturePad::GesturePad(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("gesturePad"));
    setAccessibleName(tr("Gesture pad"));
    setCursor(Qt::CrossCursor);
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
}

void GesturePad::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen{t.hairline, 1});
    painter.setBrush(t.paper);
    painter.drawRoundedRect(QRectF{rect()}.adjusted(0.5, 0.5, -0.5, -0.5), 6, 6);
    if (drawn_.empty()) {
        painter.setPen(t.inkSoft);
        painter.setFont(textFont(-0.5));
        painter.drawText(rect(), Qt::AlignCenter, tr("draw here"));
        return;
    }
    QPolygonF line;
    for (const geometry::Vec& point : drawn_)
        line << QPointF{point.x, point.y};
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen{judgement_.stroke ? t.mint : t.ink, 2.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin});
    painter.drawPolyline(line);
    painter.setBrush(t.paper);
    painter.drawEllipse(line.front(), 3, 3);
}

void GesturePad::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton)
        return;
    drawn_.assign(1, {event->position().x(), event->position().y()});
    judgement_ = {};
    update();
}

void GesturePad::mouseMoveEvent(QMouseEvent* event)
{
    if (!(event->buttons() & Qt::LeftButton) || drawn_.empty())
        return;
    drawn_.push_back({event->position().x(), event->position().y()});
    update();
}

void GesturePad::mouseReleaseEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton || drawn_.empty())
        return;
    std::vector<geometry::Vec> upright; // y grows downwards on the screen
    for (const geometry::Vec& point : drawn_)
        upright.push_back({point.x, -point.y});
    constexpr double smallestPixels = 24;
    judgement_ = desk::judge(upright, smallestPixels);
    update();
    emit judged();
}

NearnessList::NearnessList(QWidget* parent) : QWidget(parent)
{
    setAccessibleName(tr("Known strokes"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void NearnessList::show(const desk::Judgement& judgement)
{
    judgement_ = judgement;
    update();
}

void NearnessList::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(textFont(-0.5));
    const QFontMetricsF metrics{painter.font()};
    const double rowHeight = static_cast<double>(height()) / static_cast<double>(desk::knownStrokes().size());
    double top = 0;
    for (const desk::Stroke& stroke : desk::knownStrokes()) {
        const auto found = std::ranges::find(judgement_.nearness, stroke.name, &desk::Nearness::name);
        const double near = found == judgement_.nearness.end() ? -1 : found->near;
        const bool chosen = judgement_.stroke == stroke.name;
        // The stroke itself, small.
        QPolygonF line;
        QRectF around;
        for (const geometry::Vec& point : stroke.line) {
            line << QPointF{point.x, -point.y};
            around = around.united(QRectF{line.back() - QPointF{0.01, 0.01}, QSizeF{0.02, 0.02}});
        }
        around = line.boundingRect();
        const double scale =
            std::min(22 / std::max(around.width(), 0.1), (rowHeight - 8) / std::max(around.height(), 0.1));
        QTransform place;
        place.translate(15, top + rowHeight / 2);
        place.scale(scale, scale);
        place.translate(-around.center().x(), -around.center().y());
        painter.setPen(QPen{chosen ? t.mint : t.slate, 1.5});
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(place.map(line));
        painter.setPen(chosen ? t.mintText : t.ink);
        painter.drawText(QRectF{34, top, 60, rowHeight}, Qt::AlignVCenter, toText(stroke.name));
        const QRectF bar{84, top + rowHeight / 2 - 3, std::max(10.0, width() - 124.0), 6};
        painter.setPen(Qt::NoPen);
        painter.setBrush(t.panelDeep);
        painter.drawRoundedRect(bar, 3, 3);
        if (near >= 0) {
            QRectF filled = bar;
            filled.setWidth(bar.width() * near);
            painter.setBrush(chosen ? t.mint : t.slate);
            painter.drawRoundedRect(filled, 3, 3);
            painter.setFont(figureFont(-1));
            painter.setPen(t.ink);
            painter.drawText(QRectF{bar.right() + 6, top, 34, rowHeight}, Qt::AlignVCenter,
                             QString::number(near, 'f', 2));
            painter.setFont(textFont(-0.5));
        }
        painter.setPen(QPen{t.coral, 1});
        const double needed = bar.left() + bar.width() * desk::nearEnough;
        painter.drawLine(QPointF{needed, bar.top() - 2}, QPointF{needed, bar.bottom() + 2});
        top += rowHeight;
    }
}

// --- sticks --------------------------------------------------------------------------------------------------------

Stick::Stick(const QString& name, QWidget* parent) : QWidget(parent)
{
    setObjectName(name);
    giveRole(this, QAccessible::Dial, name);
    setFocusPolicy(Qt::TabFocus); // a click leaves the keys to the scene
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
    setToolTip(tr("Drag it, or use the arrow keys; it springs back"));
}

void Stick::set(const geometry::Vec& value)
{
    const double length = glm::length(value);
    const geometry::Vec held = length > 1 ? value / length : value;
    const geometry::Vec next{std::round(held.x * 100) / 100, std::round(held.y * 100) / 100};
    if (next == value_)
        return;
    value_ = next;
    update();
    emit moved();
}

void Stick::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF middle = QRectF{rect()}.center();
    const double radius = std::min(width(), height()) / 2.0 - 4;
    painter.setPen(QPen{hasFocus() ? t.mint : t.hairline, 1.4});
    painter.setBrush(t.paper);
    painter.drawEllipse(middle, radius, radius);
    painter.setPen(QPen{t.hairline, 1});
    painter.drawLine(middle - QPointF{radius, 0}, middle + QPointF{radius, 0});
    painter.drawLine(middle - QPointF{0, radius}, middle + QPointF{0, radius});
    const QPointF knob = middle + QPointF{value_.x, -value_.y} * (radius - 14);
    painter.setPen(QPen{t.slate, 2});
    painter.drawLine(middle, knob);
    painter.setPen(QPen{t.ink, 1.2});
    painter.setBrush(value_ == geometry::Vec{0, 0} ? t.solid : t.coral);
    painter.drawEllipse(knob, 11, 11);
}

void Stick::mousePressEvent(QMouseEvent* event)
{
    mouseMoveEvent(event);
}

void Stick::mouseMoveEvent(QMouseEvent* event)
{
    if (!(event->buttons() & Qt::LeftButton))
        return;
    const double radius = std::min(width(), height()) / 2.0 - 18;
    const QPointF way = event->position() - QRectF{rect()}.center();
    set({way.x() / radius, -way.y() / radius});
}

void Stick::mouseReleaseEvent(QMouseEvent*)
{
    set({0, 0});
}

void Stick::keyPressEvent(QKeyEvent* event)
{
    geometry::Vec next = value_;
    switch (event->key()) {
    case Qt::Key_Left:
        next.x = -1;
        break;
    case Qt::Key_Right:
        next.x = 1;
        break;
    case Qt::Key_Up:
        next.y = 1;
        break;
    case Qt::Key_Down:
        next.y = -1;
        break;
    default:
        return QWidget::keyPressEvent(event);
    }
    set(next);
}

void Stick::keyReleaseEvent(QKeyEvent* event)
{
    if (!event->isAutoRepeat())
        set({0, 0});
}

} // namespace snare::app
