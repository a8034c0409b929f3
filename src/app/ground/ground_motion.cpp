// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ground_motion.h"
#include "app/ground/figures.h"

#include "app/ui/theme.h"

#include <cmath>

namespace snare::app {

namespace {

constexpr double slowest = 0.05; ///< m/s, below this no arrow is drawn
constexpr int mostFigures = 24;  ///< with more movers than this only arrows

void paintHead(QPainter& painter, const QPointF& tip, const QPointF& way)
{
    const double length = std::hypot(way.x(), way.y());
    if (length <= 0)
        return;
    const QPointF along = way / length;
    const QPointF across{-along.y(), along.x()};
    painter.drawPolyline(QPolygonF{{tip - along * 7 + across * 4, tip, tip - along * 7 - across * 4}});
}

void paintRest(QPainter& painter, const QPointF& at)
{
    painter.setPen(QPen{theme().ochre, 2.4, Qt::SolidLine, Qt::FlatCap});
    painter.drawLine(at - QPointF{6, 0}, at + QPointF{6, 0});
}

/// Two feet on a line.
void paintFoot(QPainter& painter, const QPointF& at)
{
    painter.setPen(QPen{theme().mint, 1.8});
    painter.drawLine(at - QPointF{8, 0}, at + QPointF{8, 0});
    painter.drawLine(at + QPointF{-4, 0}, at + QPointF{-4, -5});
    painter.drawLine(at + QPointF{4, 0}, at + QPointF{4, -5});
}

} // namespace

void paintArrow(QPainter& painter, const QPointF& from, const QPointF& to)
{
    painter.setPen(QPen{theme().blue, 1.8});
    painter.setBrush(Qt::NoBrush);
    painter.drawLine(from, to);
    paintHead(painter, to, to - from);
}

const scene::Route* routeOf(const scene::Piece& piece)
{
    const auto* body = std::get_if<scene::KinematicBody>(&piece.body);
    return body && body->route && !body->route->points.empty() ? &*body->route : nullptr;
}

void paintRoute(QPainter& painter, const GroundTransform& transform, const ShownPiece& piece)
{
    const scene::Route* route = routeOf(*piece.piece);
    if (!route)
        return;
    QPen pen{theme().blue, 1.6};
    pen.setDashPattern({4, 3});
    const auto leg = [&](const Vec& from, const Vec& to, bool both) {
        const QPointF a = transform.toView(from);
        const QPointF b = transform.toView(to);
        painter.setBrush(Qt::NoBrush);
        painter.setPen(pen);
        painter.drawLine(a, b);
        painter.setPen(QPen{theme().blue, 1.6});
        if (std::hypot(b.x() - a.x(), b.y() - a.y()) < 24)
            return;
        // Not in the middle, where its handle is.
        paintHead(painter, a + (b - a) * 0.64, b - a);
        if (both)
            paintHead(painter, a + (b - a) * 0.36, a - b);
    };
    Vec from = piece.start.at;
    for (std::size_t i = 0; i < route->points.size(); ++i) {
        leg(from, route->points[i], i > 0 && route->loop == scene::Loop::back);
        from = route->points[i];
    }
    if (route->loop == scene::Loop::cycle && route->points.size() > 1)
        leg(from, route->points.front(), false);
    for (std::size_t i = 0; i < route->points.size(); ++i) {
        const QPointF at = transform.toView(route->points[i]);
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme().blue);
        painter.drawEllipse(at, 3, 3);
        paintFigure(painter, at + QPointF{9, -7}, QString::number(i + 1));
    }
}

void paintMotion(QPainter& painter, const GroundTransform& transform, const sim::Record& record, std::int64_t tick,
                 const std::vector<ShownPiece>& pieces)
{
    if (record.snapshots.count() == 0)
        return;
    const std::vector<sim::PieceState> now = record.snapshots.at(tick);
    const std::vector<sim::PieceState> before = record.snapshots.at(std::max<std::int64_t>(0, tick - 1));
    std::map<std::string_view, std::size_t> numbers; // in the record, by name
    for (std::size_t i = 0; i < std::min(now.size(), record.pieces.size()); ++i)
        numbers.emplace(record.pieces[i].id, i);
    struct Mover {
        QPointF at;
        QPointF way;
        double speed;
    };
    std::vector<Mover> movers;
    const QRectF view{QPointF{0, 0}, transform.size};
    for (const ShownPiece& piece : pieces) {
        const auto found = numbers.find(piece.piece->id);
        const QRectF box = transform.toView(piece.box);
        if (found == numbers.end() || !piece.present || piece.pinned || !box.intersects(view))
            continue;
        const sim::PieceState& state = now[found->second];
        if (state.on >= 0 && static_cast<std::size_t>(state.on) < now.size()) {
            const sim::PieceState& carrier = now[static_cast<std::size_t>(state.on)];
            const bool moves = static_cast<std::size_t>(state.on) < before.size() &&
                               before[static_cast<std::size_t>(state.on)].pose != carrier.pose;
            if (moves) {
                painter.setPen(QPen{theme().mint, 1.4, Qt::DotLine});
                painter.drawLine(box.center(), transform.toView(carrier.pose.at));
            }
            paintFoot(painter, QPointF{box.center().x(), box.bottom() + 2});
        }
        if (state.asleep)
            paintRest(painter, box.center());
        if (found->second >= before.size() || !before[found->second].present)
            continue;
        const Vec velocity = (state.pose.at - before[found->second].pose.at) * static_cast<double>(record.scene->rate);
        const double speed = glm::length(velocity);
        if (speed < slowest)
            continue;
        constexpr double shortest = 12;
        constexpr double longest = 110;
        const double pixels = std::clamp(speed * 0.25 * transform.scale, shortest, longest);
        movers.push_back({transform.toView(piece.pose.at), QPointF{velocity.x, -velocity.y} / speed * pixels, speed});
    }
    for (const Mover& mover : movers) {
        paintArrow(painter, mover.at, mover.at + mover.way);
        if (movers.size() <= mostFigures)
            paintFigure(painter, mover.at + mover.way + QPointF{mover.way.x() < 0 ? -58.0 : 8.0, 4},
                        QObject::tr("%1 m/s").arg(mover.speed, 0, 'f', mover.speed < 10 ? 2 : 1));
    }
}

void paintMotionLegend(QPainter& painter, const QPointF& at)
{
    const QString words[] = {QObject::tr("speed"), QObject::tr("rests"), QObject::tr("stands on"),
                             QObject::tr("carried by")};
    painter.setFont(figureFont(-0.5));
    const QFontMetricsF metrics{painter.font()};
    constexpr double sign = 26;
    constexpr double apart = 16;
    double width = -apart;
    for (const QString& word : words)
        width += sign + metrics.horizontalAdvance(word) + apart;
    QColor veil = theme().panel;
    veil.setAlpha(225);
    painter.setPen(Qt::NoPen);
    painter.setBrush(veil);
    painter.drawRoundedRect(QRectF{at.x() - width / 2 - 10, at.y() - 20, width + 20, 24}, 4, 4);
    double x = at.x() - width / 2;
    const double y = at.y() - 8;
    for (int i = 0; i < 4; ++i) {
        if (i == 0)
            paintArrow(painter, {x, y}, {x + 18, y});
        else if (i == 1)
            paintRest(painter, {x + 9, y});
        else if (i == 2)
            paintFoot(painter, {x + 9, y + 3});
        else {
            painter.setPen(QPen{theme().mint, 1.4, Qt::DotLine});
            painter.drawLine(QPointF{x, y}, QPointF{x + 19, y});
        }
        painter.setFont(figureFont(-0.5));
        painter.setPen(theme().ink);
        painter.drawText(QPointF{x + sign, y + 4}, words[i]);
        x += sign + metrics.horizontalAdvance(words[i]) + apart;
    }
}

} // namespace snare::app
