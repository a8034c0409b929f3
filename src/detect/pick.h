// SPDX-License-Identifier: Apache-2.0
/// Picking: what is at a point, in a rectangle or first along a line, as the world is now.
///
/// Only pieces that are there and shown are picked; disabled ones too, since they are seen. The
/// topmost piece is that of the highest layer, then the latest (P2).
#pragma once

#include "world/world.h"

#include <optional>

namespace snare::detect {

/// A shape that was picked, index in World::shapes, and its piece.
struct Picked {
    world::PieceIndex piece = world::nobody;
    int shape = -1;

    friend bool operator==(const Picked&, const Picked&) = default;
};

/// The shapes that cover the point or touch it within `slack` (m), one a piece, topmost first.
std::vector<Picked> allAt(const world::World& world, const world::Vec& point, double slack = 0);

/// The first of `allAt`.
std::optional<Picked> topmostAt(const world::World& world, const world::Vec& point, double slack = 0);

/// The shapes that overlap the rectangle, one a piece, in the order of the world.
std::vector<Picked> allIn(const world::World& world, const geometry::Bounds& area);

/// Whether a shape is at the pointer, its edges counted in.
bool isAtPointer(const world::World& world, int shape);

/// The same; while the pointer's box is open, whether the shape overlaps that (P5). Pinned pieces
/// are not swept.
bool isUnderPointer(const world::World& world, int shape);

/// Whether one piece lies over another: what is on the glass over the world, then by layer, then by
/// the place in the scene (P2, P6).
bool isOver(const world::World& world, world::PieceIndex one, world::PieceIndex other);

/// The unit normal, out of the shape, of its edge nearest to a point in the piece's surroundings;
/// nothing if none is within `near` (m).
std::optional<world::Vec> edgeNormalAt(const world::World& world, int shape, const world::Vec& point, double near);

/// Where a straight line first meets a shape.
struct Sighted {
    Picked picked;
    double along = 0; ///< part of the way, 0 to 1
    world::Vec point{0, 0};
    world::Vec normal{1, 0}; ///< unit, out of the shape; against the line where it starts inside
};

/// The first shape on the way from one point to another that `counts`; of several at the same place
/// the topmost.
template <class Counts>
std::optional<Sighted> nearestAlong(const world::World& world, const world::Vec& from, const world::Vec& to,
                                    Counts&& counts);

/// The same for all solids and zones.
std::optional<Sighted> nearestAlong(const world::World& world, const world::Vec& from, const world::Vec& to);

namespace inner {

std::optional<Sighted> sight(const world::World& world, int shape, const world::Vec& from, const world::Vec& to);
/// Whether a piece is there to be seen: present in the phase of the scene, not removed, not hidden.
bool isSeen(const world::World& world, world::PieceIndex piece);

} // namespace inner

template <class Counts>
std::optional<Sighted> nearestAlong(const world::World& world, const world::Vec& from, const world::Vec& to,
                                    Counts&& counts)
{
    std::optional<Sighted> nearest;
    for (std::size_t i = 0; i < world.shapes().size(); ++i) {
        const world::LiveShape& shape = world.shapes()[i];
        if (!inner::isSeen(world, shape.piece) || !counts(static_cast<int>(i)))
            continue;
        const auto found = inner::sight(world, static_cast<int>(i), from, to);
        if (found && (!nearest || found->along < nearest->along ||
                      (found->along == nearest->along && isOver(world, shape.piece, nearest->picked.piece))))
            nearest = found;
    }
    return nearest;
}

} // namespace snare::detect
