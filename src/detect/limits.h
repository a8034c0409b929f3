// SPDX-License-Identifier: Apache-2.0
/// What the files of detection share. Private to this floor.
#pragma once

#include "world/world.h"

#include <cstdint>
#include <limits>

namespace snare::detect {

constexpr double radiansPerDegree = 0.017453292519943295;

/// No pair is noted for later than this, ticks, and no shape that moves is due later, unless it is
/// large for its speed.
constexpr double mostAhead = 63;

/// Ticks are counted up to this, which is more than a year of them; what begins anew is told from
/// what went on by it.
constexpr std::uint32_t mostCount = 0x7FFFFFFF;

/// What rests is not due at all.
constexpr std::uint32_t never = std::numeric_limits<std::uint32_t>::max();

/// What single precision may be off, as a part.
constexpr double rounding = 2.5e-7;

/// "At most" and "more than" (M4) against rounding.
constexpr double closed = 1e-9;

inline const world::LiveShape& shapeAt(const world::World& world, int index)
{
    return world.shapes()[static_cast<std::size_t>(index)];
}

/// Whether there is anything of a shape to meet (M1).
inline bool takesPart(const world::World& world, int index)
{
    const world::LiveShape& shape = shapeAt(world, index);
    return shape.isOn() && shape.partCount > 0 && world.piece(shape.piece).meetsPieces();
}

} // namespace snare::detect
