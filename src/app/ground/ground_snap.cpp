// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ground_snap.h"

#include "app/ui/settings.h"

#include <cmath>

namespace snare::app {

namespace {

constexpr double snapPixels = 5;

double rounded(double value, double step)
{
    return std::round(std::round(value / step) * step * 1000) / 1000;
}

} // namespace

Vec onGrid(const Vec& point, Qt::KeyboardModifiers modifiers)
{
    const double step = modifiers & Qt::AltModifier ? 0.001 : Settings::instance().gridStep();
    return {rounded(point.x, step), rounded(point.y, step)};
}

SnapLines::SnapLines(const std::vector<ShownPiece>& pieces, const GroundTransform& transform,
                     const std::function<bool(const ShownPiece&)>& except)
    : reach_(snapPixels / transform.scale)
{
    geometry::Bounds view;
    view.include(transform.toScene({0, 0}));
    view.include(transform.toScene({transform.size.width(), transform.size.height()}));
    for (const ShownPiece& piece : pieces) {
        if (!piece.present || !piece.shown || except(piece))
            continue;
        const geometry::Bounds box = boundsOf(piece);
        if (!box.overlaps(view))
            continue;
        const Vec centre = box.centre();
        for (const double x : {box.low.x, centre.x, box.high.x})
            upright_.push_back({x, box.low.y, box.high.y});
        for (const double y : {box.low.y, centre.y, box.high.y})
            level_.push_back({y, box.low.x, box.high.x});
    }
    std::ranges::sort(upright_, {}, &LineAt::value);
    std::ranges::sort(level_, {}, &LineAt::value);
}

const SnapLines::LineAt* SnapLines::nearest(const std::vector<LineAt>& lines, double value) const
{
    const auto after = std::ranges::lower_bound(lines, value, {}, &LineAt::value);
    const LineAt* best = nullptr;
    if (after != lines.end())
        best = &*after;
    if (after != lines.begin() && (!best || value - std::prev(after)->value < best->value - value))
        best = &*std::prev(after);
    return best && std::abs(best->value - value) <= reach_ ? best : nullptr;
}

Snap SnapLines::point(const Vec& point, Qt::KeyboardModifiers modifiers) const
{
    geometry::Bounds spot;
    spot.include(point);
    Snap result = way(spot, point, {0, 0}, modifiers);
    result.point += point;
    result.point = onGrid(result.point, Qt::AltModifier);
    return result;
}

Snap SnapLines::way(const geometry::Bounds& box, const Vec& anchor, const Vec& by,
                    Qt::KeyboardModifiers modifiers) const
{
    Snap result;
    result.point = onGrid(anchor + by, modifiers) - anchor;
    if (modifiers & Qt::AltModifier)
        return result;
    geometry::Bounds moved = box;
    moved.low += by;
    moved.high += by;
    const auto lineUp = [&](const std::vector<LineAt>& lines, const std::array<double, 3>& places, double& way,
                            double wanted) -> const LineAt* {
        const LineAt* best = nullptr;
        double least = reach_;
        for (const double place : places)
            if (const LineAt* line = nearest(lines, place); line && std::abs(line->value - place) <= least) {
                least = std::abs(line->value - place);
                best = line;
                way = wanted + line->value - place;
            }
        return best;
    };
    const Vec centre = moved.centre();
    const LineAt* upright = lineUp(upright_, {centre.x, moved.low.x, moved.high.x}, result.point.x, by.x);
    const LineAt* level = lineUp(level_, {centre.y, moved.low.y, moved.high.y}, result.point.y, by.y);
    geometry::Bounds last = box;
    last.low += result.point;
    last.high += result.point;
    if (upright)
        result.guides.push_back({{upright->value, std::min(upright->low, last.low.y)},
                                 {upright->value, std::max(upright->high, last.high.y)}});
    if (level)
        result.guides.push_back(
            {{std::min(level->low, last.low.x), level->value}, {std::max(level->high, last.high.x), level->value}});
    return result;
}

void paintGuides(QPainter& painter, const std::vector<Guide>& guides, const GroundTransform& transform)
{
    painter.setPen(QPen{theme().plum, 1, Qt::DashLine});
    for (const Guide& guide : guides) {
        const QPointF from = transform.toView(guide.from);
        const QPointF to = transform.toView(guide.to);
        const QPointF over = from.x() == to.x() ? QPointF{0, from.y() > to.y() ? 12.0 : -12.0}
                                                : QPointF{from.x() > to.x() ? 12.0 : -12.0, 0};
        painter.drawLine(from + over, to - over);
    }
}

} // namespace snare::app
