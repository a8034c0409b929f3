// SPDX-License-Identifier: Apache-2.0
/// What kinematic pieces are told to do: velocity, moves, turns and routes (V1, V3); and where
/// driven ones go (V10).
#pragma once

#include "world/world.h"

namespace snare::motion {

/// A move, turn or route that reached its end in this tick.
struct Arrival {
    world::PieceIndex piece;
    std::uint32_t order; ///< 0: the end of a route
    bool turned;         ///< it was a turn, which gives no `arrived` event
    std::int32_t because; ///< the line of the log that gave the order; -1: of a route
};

/// One tick of `dt` seconds of a kinematic piece, which nothing stops.
void followOrders(world::World& world, world::PieceIndex piece, double dt, std::vector<Arrival>& arrivals);

/// A driven piece goes where it is led, in one tick of `dt` seconds (V10).
void goWhereLed(world::World& world, const world::Lead& lead, double dt);

} // namespace snare::motion
