// SPDX-License-Identifier: Apache-2.0
#include "app/ground/because_line.h"

#include "app/ui/theme.h"

namespace snare::app {

std::vector<Vec> placesOf(const sim::Record& record, const std::vector<std::int32_t>& chain)
{
    std::vector<Vec> places;
    std::int64_t at = -1;
    std::vector<sim::PieceState> states;
    for (const std::int32_t number : chain) {
        const rules::Line& line = record.journal.lines[static_cast<std::size_t>(number)];
        if (line.tick != at)
            states = record.snapshots.at(line.tick);
        at = line.tick;
        // What comes in is where something happens, not the middle of a large zone.
        const bool met = line.kind == rules::LineKind::event && rules::isContact(line.event) && line.visitor >= 0;
        const world::PieceIndex piece = met ? line.visitor : line.self;
        std::optional<Vec> place;
        if (line.kind == rules::LineKind::event && line.spot >= 0)
            place = record.journal.spotOf(line).point;
        else if (piece >= 0 && static_cast<std::size_t>(piece) < states.size() &&
                 !record.pieces[static_cast<std::size_t>(piece)].model->pinned)
            place = states[static_cast<std::size_t>(piece)].pose.at;
        constexpr double apart = 0.05; // m
        if (place && (places.empty() || glm::length(*place - places.back()) > apart))
            places.push_back(*place);
    }
    return places;
}

void paintBecause(QPainter& painter, const GroundTransform& transform, const std::vector<Vec>& places)
{
    if (places.empty())
        return;
    const Theme& t = theme();
    QPolygonF way;
    for (const Vec& place : places)
        way << transform.toView(place);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen{t.paper, 4});
    painter.drawPolyline(way);
    painter.setPen(QPen{t.plum, 1.6});
    painter.drawPolyline(way);
    painter.setPen(QPen{t.paper, 1});
    painter.setBrush(t.plum);
    for (const QPointF& stop : way)
        painter.drawEllipse(stop, 3, 3);
    painter.setPen(QPen{t.plum, 1.6});
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(way.back(), 7, 7);
}

} // namespace snare::app
