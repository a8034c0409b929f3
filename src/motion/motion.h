// SPDX-License-Identifier: Apache-2.0
/// One tick of movement: what pieces do by themselves, by orders and by keys (K1 (2), V1, V3).
#pragma once

#include "world/world.h"

namespace snare::motion {

/// A move or turn that reached its end in this tick.
struct Arrival {
    world::PieceIndex piece;
    std::uint32_t order;
    bool turned; ///< it was a turn, which gives no `arrived` event
};

/// Moves everything by `dt` seconds. `keysDown` are the keys that steer walkers. `arrivals` is filled in scene order.
///
/// Kinematic pieces go first and are stopped by nothing; walkers follow in scene order and slide along the solids that
/// stop them (M2), keeping a gap of `walkerGap`.
void advance(world::World& world, const std::vector<std::string>& keysDown, double dt, std::vector<Arrival>& arrivals);

/// What a walker keeps between itself and what stops it: within the distance at which a stop meeting begins (M4).
inline constexpr double walkerGap = 0.005;

} // namespace snare::motion
