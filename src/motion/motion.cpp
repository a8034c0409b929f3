// SPDX-License-Identifier: Apache-2.0
#include "motion/motion.h"

namespace snare::motion {

using geometry::Motion;
using geometry::Vec;
using world::LivePiece;
using world::nobody;
using world::PieceIndex;
using world::World;

namespace {

/// A kinematic or driven piece that goes nowhere in this tick, unless it is led.
bool isStill(const LivePiece& piece)
{
    if (piece.driven)
        return true;
    return piece.velocity == Vec{0, 0} && piece.rise == 0 && piece.spin == 0 && piece.move.id == 0 &&
           piece.turn.id == 0 && !piece.route.under;
}

} // namespace

void Movement::forget()
{
    solids_.forget();
    dynamics_.forget();
}

void Movement::advance(World& world, const std::vector<std::string>& keysDown, double dt,
                       std::vector<Arrival>& arrivals)
{
    arrivals.clear();
    world.beginMotion();
    dynamics_.follow(world);
    const auto walkers = [&](auto&& visit) {
        for (const PieceIndex index : dynamics_.bodies()) {
            const LivePiece& piece = world.piece(index);
            if (piece.walks && piece.here && piece.carrier == nobody)
                visit(index);
        }
    };
    for (const world::Lead& lead : world.leads()) // V10
        if (const LivePiece& piece = world.piece(lead.piece); piece.present && piece.here && piece.carrier == nobody)
            goWhereLed(world, lead, dt);
    for (std::size_t i = 0; i < world.pieces().size(); ++i) {
        const LivePiece& piece = world.pieces()[i];
        if (!piece.present || !piece.here || piece.resting || piece.walks || piece.loose || piece.led ||
            piece.carrier != nobody)
            continue;
        if (isStill(piece)) {
            if (piece.approach != Vec{0, 0} || piece.turning != 0) { // in the last tick it moved
                world::MovingState& moving = world.moving(static_cast<PieceIndex>(i));
                moving.approach = {0, 0};
                moving.turning = 0;
            }
            continue;
        }
        followOrders(world, static_cast<PieceIndex>(i), dt, arrivals);
    }
    if (dynamics_.any()) {
        world.carry(); // what rides on kinematic pieces is in the way of others
        dynamics_.wakeNear(world, solids_, world.woken());
        solids_.refresh(world);
        dynamics_.wakeNear(world, solids_, world.woken());
        walkers([&](PieceIndex index) { steer(world, index, keysDown, dt); });
        dynamics_.advance(world, solids_, dt);
        world.carry();
        walkers([&](PieceIndex index) { walk(world, solids_, index, dt); });
    }
    world.clearWoken();
    world.carry();
    for (const PieceIndex index : world.carried()) {
        world::MovingState& piece = world.moving(index);
        const Motion motion = world.motionOf(index);
        piece.approach = (motion.to.at - motion.from.at) / dt;
        piece.turning = (motion.to.turn - motion.from.turn) / dt;
        if (piece.walks)
            piece.velocity = piece.walk.told = piece.approach;
    }
}

} // namespace snare::motion
