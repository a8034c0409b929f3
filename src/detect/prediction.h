// SPDX-License-Identifier: Apache-2.0
/// What detection expects of pieces and knows of their shapes, so that most pairs are not looked at
/// in most ticks (docs/decisions/12). Private to this floor.
#pragma once

#include "detect/limits.h"

#include "geometry/memory.h"

namespace snare::detect {

using world::PieceIndex;
using world::Vec;

/// How a piece is expected to go on: as it went in the tick in which it left its last course.
struct alignas(32) Course {
    Vec at{0, 0};    ///< at the end of that tick
    float stepX = 0; ///< m a tick
    float stepY = 0;
    float leeway = 0;             ///< m that it may be off; 0 if it rests
    std::uint32_t since : 31 = 0; ///< that tick: a run of a year fits in
    std::uint32_t turns : 1 = 0;

    bool rests() const { return stepX == 0 && stepY == 0 && turns == 0; }
    Vec step() const { return {stepX, stepY}; }
    /// Where it is expected at the end of a tick, m.
    Vec placeIn(std::uint32_t round) const { return at + step() * static_cast<double>(round - since); }
};

/// What turning does to a piece, apart from its course since few turn.
struct Spin {
    float step = 0;   ///< degrees a tick, of its course
    float radius = 0; ///< m, its farthest corner
};

/// What detection must know of a shape, to pass over most of those nearby without looking at the
/// world.
struct alignas(32) KnownShape {
    PieceIndex piece = 0;
    std::int32_t first = -1; ///< of its meetings, or -1
    std::uint32_t round = 0; ///< the detection in which it was looked at last
    std::int32_t group : 24 = 0;
    bool takesPart : 1 = false;
    bool resting : 1 = false;
    bool zone : 1 = false;
    /// A plain hull around its piece's place, without margin or heights, while the piece keeps to
    /// its course without turning: all that is asked of it then is here. The sizes are rounded up.
    bool plain : 1 = false;
    float halfX = 0; ///< m
    float halfY = 0;
    float radius = 0;
};

using KnownShapes = geometry::Table<KnownShape>;

} // namespace snare::detect
