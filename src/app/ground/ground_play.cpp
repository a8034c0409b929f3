// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ground_play.h"
#include "app/ground/figures.h"

#include "app/model/scene_keys.h"
#include "app/ui/key_names.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QObject>

namespace snare::app {

void paintViewFrame(QPainter& painter, const GroundTransform& transform, const geometry::Bounds& frame, bool named)
{
    const QRectF box = transform.toView(frame);
    painter.setBrush(Qt::NoBrush);
    QColor edge = theme().slate;
    edge.setAlpha(named ? 255 : 120);
    painter.setPen(QPen{edge, 1});
    painter.drawRoundedRect(box, 6, 6);
    painter.setPen(QPen{edge, 2.4, Qt::SolidLine, Qt::RoundCap});
    constexpr double arm = 16;
    for (const QPointF& corner : {box.topLeft(), box.topRight(), box.bottomLeft(), box.bottomRight()}) {
        const double x = corner.x() == box.left() ? 1 : -1;
        const double y = corner.y() == box.top() ? 1 : -1;
        painter.drawLine(corner + QPointF{x * 6, 0}, corner + QPointF{x * arm, 0});
        painter.drawLine(corner + QPointF{0, y * 6}, corner + QPointF{0, y * arm});
    }
    if (named)
        paintFigure(painter, box.topLeft() + QPointF{12, -8},
                    QObject::tr("glass  %1 × %2 m").arg(frame.size().x, 0, 'g', 4).arg(frame.size().y, 0, 'g', 4));
}

void paintPointer(QPainter& painter, const GroundTransform& transform, const sim::Record& record, std::int64_t tick,
                  bool recording)
{
    const sim::PointerMoment moment = sim::pointerAt(record, tick);
    if (!moment.pointer.there)
        return;
    const QPointF at = transform.toView(moment.pointer.at);
    if (moment.pointer.sweptFrom) {
        QColor wash = theme().coral;
        wash.setAlpha(28);
        painter.setPen(QPen{theme().coral, 1.4, Qt::DashLine});
        painter.setBrush(wash);
        painter.drawRect(QRectF{transform.toView(*moment.pointer.sweptFrom), at}.normalized());
    }
    if (recording)
        return;
    // A float on the water: a ring that fills while a button is down.
    const bool down = !moment.buttons.empty();
    painter.setPen(QPen{theme().paper, 4});
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(at, 7, 7);
    painter.setPen(QPen{theme().coral, 1.8});
    painter.setBrush(down ? QBrush{theme().coral} : QBrush{Qt::NoBrush});
    painter.drawEllipse(at, 7, 7);
    painter.drawLine(at + QPointF{0, -7}, at + QPointF{0, -13});
    painter.setBrush(theme().coral);
    painter.drawEllipse(at, 1.4, 1.4);
}

void paintPath(QPainter& painter, const GroundTransform& transform, const std::vector<PathPoint>& path,
               const QColor& colour)
{
    QPolygonF line;
    for (const PathPoint& point : path)
        line << transform.toView(point.at);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen{colour, 1.4, Qt::DotLine});
    painter.drawPolyline(line);
    for (const Handle& handle : pathHandles(path, transform)) {
        const bool isPlace = handle.kind == Handle::Kind::path;
        painter.setPen(QPen{colour, 1.4});
        painter.setBrush(theme().paper);
        painter.drawEllipse(handle.at, isPlace ? 3.6 : 2.0, isPlace ? 3.6 : 2.0);
    }
}

void paintKeyStrip(QPainter& painter, const QSizeF& size, const sim::Record& record, std::int64_t tick, bool recording)
{
    struct Cap {
        QString text;
        bool down;
    };
    std::vector<Cap> caps;
    const std::vector<std::string> down = sim::standingAt(record, tick).keysDown;
    constexpr std::size_t mostFaint = 14;
    if (recording)
        for (const std::string& key : keysOf(*record.scene))
            if (caps.size() < mostFaint)
                caps.push_back({keyLabel(toText(key)), std::ranges::find(down, key) != down.end()});
    for (const std::string& key : down) {
        const QString label = keyLabel(toText(key));
        if (std::ranges::find(caps, label, &Cap::text) == caps.end())
            caps.push_back({label, true});
    }
    for (const scene::Button button : sim::pointerAt(record, tick).buttons)
        caps.push_back({QObject::tr("%1 button").arg(toText(scene::wordOf(button))), true});
    if (caps.empty())
        return;
    painter.setFont(textFont(-0.5, true));
    const QFontMetricsF metrics{painter.font()};
    const double height = metrics.height() + 8;
    const auto widthOf = [&](const Cap& cap) { return std::max(height, metrics.horizontalAdvance(cap.text) + 14); };
    double total = 0;
    for (const Cap& cap : caps)
        total += widthOf(cap) + 5;
    double x = (size.width() - total + 5) / 2;
    const double y = size.height() - height - 12;
    for (const Cap& cap : caps) {
        const QRectF box{x, y + (cap.down ? 2 : 0), widthOf(cap), height};
        painter.setPen(QPen{cap.down ? theme().coral : theme().hairline, cap.down ? 1.8 : 1.0});
        painter.setBrush(cap.down ? theme().coral : theme().panel);
        painter.setOpacity(cap.down ? 1 : 0.75);
        painter.drawRoundedRect(box, 5, 5);
        painter.setPen(cap.down ? theme().onAccent : theme().inkSoft);
        painter.drawText(box, Qt::AlignCenter, cap.text);
        x += widthOf(cap) + 5;
    }
    painter.setOpacity(1);
}

} // namespace snare::app
