// SPDX-License-Identifier: Apache-2.0
#include "detect/pick.h"

#include "geometry/gap.h"
#include "geometry/impact.h"

#include <algorithm>

namespace snare::detect {

using geometry::Bounds;
using geometry::Hull;
using geometry::Motion;
using geometry::Pose;
using world::LiveShape;
using world::PieceIndex;
using world::Vec;
using world::World;

namespace inner {

bool isSeen(const World& world, PieceIndex piece)
{
    const world::LivePiece& live = world.piece(piece);
    return live.present && live.here && live.shown;
}

bool isOver(const World& world, PieceIndex one, PieceIndex other)
{
    const int layer = world.piece(one).layer;
    const int otherLayer = world.piece(other).layer;
    return layer != otherLayer ? layer > otherLayer : one > other;
}

std::optional<Sighted> sight(const World& world, int index, const Vec& from, const Vec& to)
{
    const LiveShape& shape = world.shapes[static_cast<std::size_t>(index)];
    const Pose& pose = world.pose[static_cast<std::size_t>(shape.piece)];
    const Hull eye = geometry::discHull({0, 0}, 0);
    const Motion way{{from, 0}, {to, 0}};
    Bounds around;
    around.include(from);
    around.include(to);
    std::optional<Sighted> nearest;
    for (const Hull& part : world.partsOf(shape)) {
        const Hull hull = geometry::placed(part, pose);
        if (!around.overlaps(geometry::boundsOf(hull)))
            continue;
        // Edges have no inside: a line of sight meets them as soon as it touches.
        const bool thin = hull.count == 2 && hull.radius == 0;
        const auto span = geometry::nearSpan(hull, {}, eye, way, thin ? 1e-9 : 0);
        if (!span || (nearest && nearest->along <= span->enter))
            continue;
        const Vec point = from + (to - from) * span->enter;
        const geometry::Gap gap = geometry::gapBetween(hull, geometry::discHull(point, 0));
        nearest = {
            {shape.piece, index}, span->enter, point, span->atStart ? geometry::unitOr(from - to, {1, 0}) : gap.normal};
    }
    return nearest;
}

} // namespace inner

namespace {

/// The last shape of each piece that `covers`: it is drawn over the others.
template <class Covers> std::vector<Picked> pickEach(const World& world, Covers&& covers)
{
    std::vector<Picked> result;
    for (std::size_t piece = 0; piece < world.pieces.size(); ++piece) {
        const auto index = static_cast<PieceIndex>(piece);
        if (!inner::isSeen(world, index))
            continue;
        for (std::size_t shape = world.shapeStarts[piece + 1]; shape-- > world.shapeStarts[piece];)
            if (covers(world.shapes[shape])) {
                result.push_back({index, static_cast<int>(shape)});
                break;
            }
    }
    return result;
}

} // namespace

std::vector<Picked> allAt(const World& world, const Vec& point, double slack)
{
    const Hull spot = geometry::discHull(point, std::max(slack, 0.0));
    std::vector<Picked> result = pickEach(world, [&](const LiveShape& shape) {
        const auto parts = world.partsOf(shape);
        return !parts.empty() &&
               geometry::gapBetween(parts, world.pose[static_cast<std::size_t>(shape.piece)], {&spot, 1}, {})
                       .distance <= 0;
    });
    std::ranges::sort(result, [&](const Picked& a, const Picked& b) { return inner::isOver(world, a.piece, b.piece); });
    return result;
}

std::optional<Picked> topmostAt(const World& world, const Vec& point, double slack)
{
    const std::vector<Picked> all = allAt(world, point, slack);
    return all.empty() ? std::nullopt : std::optional(all.front());
}

std::vector<Picked> allIn(const World& world, const Bounds& area)
{
    const Hull box = geometry::boxHull(area.size(), {area.centre(), 0});
    return pickEach(world, [&](const LiveShape& shape) {
        const auto parts = world.partsOf(shape);
        return !parts.empty() &&
               geometry::gapBetween(parts, world.pose[static_cast<std::size_t>(shape.piece)], {&box, 1}, {}).distance <
                   0;
    });
}

std::optional<Sighted> nearestAlong(const World& world, const Vec& from, const Vec& to)
{
    return nearestAlong(world, from, to, [](int) { return true; });
}

} // namespace snare::detect
