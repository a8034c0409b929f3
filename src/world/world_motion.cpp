// SPDX-License-Identifier: Apache-2.0
/// What rules tell a piece of its way: velocities, orders, where it is led.
#include "world/world.h"

namespace snare::world {

void World::launch(PieceIndex index, const Vec& velocity)
{
    LivePiece& one = at(index);
    if (!one.resting && !one.driven)
        one.velocity = one.approach = velocity;
    origin(index).moved = because_;
}

void World::push(PieceIndex index, const Vec& velocity)
{
    at(index).velocity += velocity;
    stir(index);
}

/// It moves otherwise from now on.
void World::stir(PieceIndex index)
{
    origin(index).moved = because_;
    wake(index);
}

void World::endLeads()
{
    for (const Lead& lead : leads_)
        at(lead.piece).led = false;
    leads_.clear();
}

void World::lead(PieceIndex index, const Vec& to, std::optional<double> turn)
{
    LivePiece& one = at(index);
    if (!one.driven || !one.present || one.carrier != nobody)
        return;
    const Pose& now = pose_[static_cast<std::size_t>(index)];
    const Pose goal{to, turn.value_or(now.turn), now.z};
    if (std::exchange(one.led, true))
        std::ranges::find(leads_, index, &Lead::piece)->to = goal;
    else
        leads_.push_back({index, goal});
}

void World::orderMove(PieceIndex index, const MoveOrder& order)
{
    at(index).move = order;
    at(index).move.because = because_;
    origin(index).moved = because_;
}

void World::orderTurn(PieceIndex index, const TurnOrder& order)
{
    at(index).turn = order;
    at(index).turn.because = because_;
    origin(index).moved = because_;
}

void World::setWalkSpeed(PieceIndex index, double speed)
{
    at(index).speed = std::max(0.0, speed);
    origin(index).moved = because_;
}

void World::halt(PieceIndex index)
{
    LivePiece& one = at(index);
    one.velocity = {0, 0};
    one.rise = 0;
    one.spin = 0;
    one.route.under = false;
    stir(index);
}

void World::setVelocity(PieceIndex index, const Vec& velocity)
{
    at(index).velocity = velocity;
    stir(index);
}

void World::setRise(PieceIndex index, double rise)
{
    at(index).rise = rise;
    stir(index);
}

void World::setSpin(PieceIndex index, double spin)
{
    at(index).spin = spin;
    stir(index);
}

void World::setGravity(PieceIndex index, double times)
{
    at(index).gravity = times;
    stir(index);
}

} // namespace snare::world
