// SPDX-License-Identifier: Apache-2.0
#include "motion/orders.h"

#include <algorithm>
#include <cmath>

namespace snare::motion {

using world::LivePiece;
using world::PieceIndex;
using world::Pose;
using world::Vec;
using world::World;

namespace {

/// How much of the way is done when this much of the time has gone.
double eased(scene::Ease ease, double part)
{
    switch (ease) {
    case scene::Ease::in:
        return part * part;
    case scene::Ease::out:
        return part * (2 - part);
    case scene::Ease::both:
        return part * part * (3 - 2 * part);
    case scene::Ease::none:
        break;
    }
    return part;
}

/// One tick of a move that speeds up or slows down; true when it is there.
bool easeOn(world::MoveOrder& move, Pose& pose, double dt)
{
    move.done += dt;
    const double part = eased(move.ease, std::min(1.0, move.done / move.total));
    pose.at = move.from.at + (move.target - move.from.at) * part;
    pose.z = move.from.z + (move.height - move.from.z) * part;
    const double left = std::hypot(move.target.x - pose.at.x, move.target.y - pose.at.y, move.height - pose.z);
    return move.done >= move.total - 1e-9 || left <= move.arrive;
}

/// One tick after a piece, up to `arrive`; true when that piece is gone.
bool chase(const World& world, const LivePiece& piece, Pose& pose, Vec& velocity, double dt)
{
    const world::MoveOrder& move = piece.move;
    const bool pointer = world::isPointer(move.after);
    if (!pointer && !world.piece(move.after).present)
        return true;
    // Where it was at the start of the tick: the order of the pieces does not matter.
    const Pose goal = pointer ? Pose{piece.pinned ? world.pointer().glass : world.pointer().at, 0, pose.z}
                              : world.before()[static_cast<std::size_t>(move.after)];
    const Vec way = goal.at - pose.at;
    const double rise = goal.z - pose.z;
    const double distance = std::hypot(way.x, way.y, rise);
    const double step = std::min(move.speed * dt, distance - move.arrive);
    velocity = step > 0 ? way / distance * (step / dt) : Vec{0, 0};
    pose.at += velocity * dt;
    pose.z += step > 0 ? rise / distance * step : 0;
    return false;
}

/// One tick along the route: as far as its speed carries it, around corners too; true when a route
/// that ends is at its end.
bool goAlong(const scene::Route& route, world::RouteState& state, Pose& pose, double dt)
{
    const auto point = [&] {
        const Vec& given = route.points[state.next];
        return state.about ? geometry::toScene(*state.about, given) : given;
    };
    double left = route.speed * dt;
    // A route whose points all lie in one place would never use up its way.
    for (std::size_t corners = 0; corners <= 2 * route.points.size(); ++corners) {
        const Vec goal = point();
        const Vec way = goal - pose.at;
        const double distance = glm::length(way);
        if (distance > left) {
            pose.at += way / distance * left;
            return false;
        }
        pose.at = goal;
        left -= distance;
        const std::size_t last = route.points.size() - 1;
        switch (route.loop) {
        case scene::Loop::once:
            if (state.next == last) {
                state.under = false;
                return true;
            }
            ++state.next;
            break;
        case scene::Loop::cycle:
            state.next = state.next == last ? 0 : state.next + 1;
            break;
        case scene::Loop::back:
            if (state.next == (state.backwards ? 0 : last))
                state.backwards = !state.backwards;
            state.next = last == 0 ? 0 : state.backwards ? state.next - 1 : state.next + 1;
            break;
        }
    }
    return false;
}

} // namespace

void followOrders(World& world, PieceIndex index, double dt, std::vector<Arrival>& arrivals)
{
    world::MovingState& piece = world.moving(index);
    Pose pose = world.pose()[static_cast<std::size_t>(index)];
    Vec velocity = piece.velocity;
    if (piece.move.id != 0 && piece.move.after != world::nobody) {
        if (chase(world, world.piece(index), pose, velocity, dt))
            piece.move = {};
    } else if (piece.move.id != 0 && piece.move.ease != scene::Ease::none) {
        const Vec start = pose.at;
        const bool there = easeOn(piece.move, pose, dt);
        if (there) {
            pose.at = piece.move.target;
            pose.z = piece.move.height;
            arrivals.push_back({index, piece.move.id, false, piece.move.because});
            piece.move = {};
        }
        velocity = (pose.at - start) / dt;
    } else if (piece.move.id != 0) {
        const Vec way = piece.move.target - pose.at;
        const double rise = piece.move.height - pose.z;
        const double distance = rise == 0 ? glm::length(way) : std::hypot(way.x, way.y, rise);
        const double step = piece.move.speed * dt;
        if (distance <= std::max(step, piece.move.arrive)) { // V3: set exactly on the target, never past it
            velocity = way / dt;
            pose.at = piece.move.target;
            pose.z = piece.move.height;
            arrivals.push_back({index, piece.move.id, false, piece.move.because});
            piece.move = {};
        } else {
            velocity = way / distance * piece.move.speed;
            pose.at += velocity * dt;
            pose.z += rise / distance * step;
        }
    } else {
        const auto& route = std::get<scene::KinematicBody>(world.piece(index).body).route;
        if (route && piece.route.under) {
            const Vec start = pose.at;
            if (goAlong(*route, piece.route, pose, dt))
                arrivals.push_back({index, 0, false, -1});
            velocity = (pose.at - start) / dt;
        } else {
            pose.at += velocity * dt;
        }
        pose.z += piece.rise * dt;
    }
    piece.approach = velocity;

    const double before = pose.turn;
    if (piece.turn.id != 0) {
        const double rest = piece.turn.target - pose.turn;
        const double step = piece.turn.speed * dt;
        if (std::abs(rest) <= step) {
            pose.turn = piece.turn.target;
            arrivals.push_back({index, piece.turn.id, true, piece.turn.because});
            piece.turn = {};
        } else {
            pose.turn += std::copysign(step, rest);
        }
    } else {
        pose.turn += piece.spin * dt;
    }
    piece.turning = (pose.turn - before) / dt;
    world.moveTo(index, pose);
}

void goWhereLed(World& world, const world::Lead& lead, double dt)
{
    world::MovingState& piece = world.moving(lead.piece);
    const Pose& from = world.pose()[static_cast<std::size_t>(lead.piece)];
    piece.approach = (lead.to.at - from.at) / dt;
    piece.turning = (lead.to.turn - from.turn) / dt;
    if (lead.to.at != from.at || lead.to.turn != from.turn)
        world.moveTo(lead.piece, lead.to);
}

} // namespace snare::motion
