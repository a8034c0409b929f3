// SPDX-License-Identifier: Apache-2.0
#include "detect/pick.h"

#include "geometry/gap.h"
#include "geometry/impact.h"
#include "geometry/outline.h"

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

std::optional<Sighted> sight(const World& world, int index, const Vec& from, const Vec& to)
{
    const LiveShape& shape = world.shapes()[static_cast<std::size_t>(index)];
    const Pose& pose = world.pose()[static_cast<std::size_t>(shape.piece)];
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

bool isOver(const World& world, PieceIndex one, PieceIndex other)
{
    if (world.piece(one).pinned != world.piece(other).pinned) // the glass is over the world (P6)
        return world.piece(one).pinned;
    const int layer = world.piece(one).layer;
    const int otherLayer = world.piece(other).layer;
    return layer != otherLayer ? layer > otherLayer : one > other;
}

bool isAtPointer(const World& world, int index)
{
    const LiveShape& shape = world.shapes()[static_cast<std::size_t>(index)];
    const Vec point =
        geometry::toLocal(world.pose()[static_cast<std::size_t>(shape.piece)], world.pointerFor(shape.piece));
    return std::ranges::any_of(world.partsOf(shape), [&](const Hull& part) { return geometry::contains(part, point); });
}

bool isUnderPointer(const World& world, int index)
{
    if (!world.pointer().sweptFrom)
        return isAtPointer(world, index);
    const LiveShape& shape = world.shapes()[static_cast<std::size_t>(index)];
    if (world.piece(shape.piece).pinned || shape.partCount == 0)
        return false;
    Bounds area;
    area.include(*world.pointer().sweptFrom);
    area.include(world.pointer().at);
    const Pose& pose = world.pose()[static_cast<std::size_t>(shape.piece)];
    const bool thin = std::min(area.size().x, area.size().y) < 1e-9;
    const Hull box =
        thin ? geometry::capsuleHull(area.low, area.high, 0) : geometry::boxHull(area.size(), {area.centre(), 0});
    return geometry::gapBetween(world.partsOf(shape), pose, {&box, 1}, {}).distance < 0;
}

std::optional<Vec> edgeNormalAt(const World& world, int index, const Vec& point, double near)
{
    const LiveShape& shape = world.shapes()[static_cast<std::size_t>(index)];
    const Pose& pose = world.pose()[static_cast<std::size_t>(shape.piece)];
    std::vector<Hull> parts;
    for (const Hull& part : world.partsOf(shape))
        parts.push_back(geometry::placed(part, pose));
    std::optional<Vec> normal;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const geometry::Gap gap = geometry::gapBetween(parts[i], geometry::discHull(point, 0));
        if (std::abs(gap.distance) > near)
            continue;
        // An edge between two parts of the same shape is none of the shape.
        const Vec outside = point - gap.normal * (gap.distance - 1e-6);
        const auto holdsIt = [&](const Hull& other) {
            return &other != &parts[i] && geometry::contains(other, outside);
        };
        if (std::ranges::any_of(parts, holdsIt))
            continue;
        near = std::abs(gap.distance);
        normal = gap.normal;
    }
    return normal;
}

namespace {

/// The last shape of each piece that `covers`: it is drawn over the others.
template <class Covers> std::vector<Picked> pickEach(const World& world, Covers&& covers)
{
    std::vector<Picked> result;
    for (std::size_t piece = 0; piece < world.pieces().size(); ++piece) {
        const auto index = static_cast<PieceIndex>(piece);
        if (!inner::isSeen(world, index))
            continue;
        for (std::size_t shape = world.shapeStarts()[piece + 1]; shape-- > world.shapeStarts()[piece];)
            if (covers(world.shapes()[shape])) {
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
               geometry::gapBetween(parts, world.pose()[static_cast<std::size_t>(shape.piece)], {&spot, 1}, {})
                       .distance <= 0;
    });
    std::ranges::sort(result, [&](const Picked& a, const Picked& b) { return isOver(world, a.piece, b.piece); });
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
               geometry::gapBetween(parts, world.pose()[static_cast<std::size_t>(shape.piece)], {&box, 1}, {})
                       .distance < 0;
    });
}

std::optional<Sighted> nearestAlong(const World& world, const Vec& from, const Vec& to)
{
    return nearestAlong(world, from, to, [](int) { return true; });
}

} // namespace snare::detect
