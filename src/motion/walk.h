// SPDX-License-Identifier: Apache-2.0
/// Walkers: steered, stopped by solids, carried and pushed by what moves (V1, V4, V5, V6, V8).
///
/// A walker is moved by its shape alone: it goes as far as solids let it, along what stops it, and
/// keeps `walkerGap` from everything. Where there is gravity it walks along the ground, over steps
/// and up slopes, falls, jumps and climbs.
#pragma once

#include "motion/solids.h"

namespace snare::motion {

/// What a walker keeps between itself and what stops it: within the distance at which a stop
/// meeting begins (M4), m.
inline constexpr double walkerGap = 0.005;

/// What the keys make a walker want in this tick; its wish is its `approach` until it has gone.
void steer(world::World& world, world::PieceIndex walker, const std::vector<std::string>& keysDown, double dt);

/// Moves a walker by `dt` seconds. All other bodies have moved already.
void walk(world::World& world, Solids& solids, world::PieceIndex walker, double dt);

} // namespace snare::motion
