// SPDX-License-Identifier: Apache-2.0
/// Dynamics after solving: no way through others, bumps, carriers and sleep (V4, V7).
#include "motion/dynamics.h"
#include "motion/dynamics_shared.h"

#include <algorithm>
#include <cmath>

namespace snare::motion {

using world::LivePiece;
using world::LiveShape;
using world::nobody;

namespace {

/// What is slower than this may fall asleep, m/s and radians/s,
constexpr double stillSpeed = 0.05;
constexpr double stillSpin = 0.1;
/// after this long, s.
constexpr double untilSleep = 0.5;

/// How much of its way a part that is in a solid already can go without getting deeper, 0 to 1.
double freeWayInside(const Hull& part, const geometry::Motion& motion, const Hull& solid,
                     const geometry::Motion& motionOfSolid)
{
    constexpr int samples = 8;
    const auto gapAt = [&](double frac) {
        return geometry::gapBetween(geometry::placed(part, motion.at(frac)),
                                    geometry::placed(solid, motionOfSolid.at(frac)))
            .distance;
    };
    constexpr double allowed = 0.001; // m, so that what rubs along others is not held by them
    const double deepest = std::min(gapAt(0), -skinWidth) - allowed;
    for (int i = 1; i <= samples; ++i)
        if (gapAt(static_cast<double>(i) / samples) < deepest)
            return static_cast<double>(i - 1) / samples;
    return 1;
}

} // namespace

/// How much of its way a fast body can go before it gets into another one, or deeper into one, 0
/// to 1.
double Dynamics::freeWay(const World& world, Solids& solids, const Body& body) const
{
    double free = 1;
    const State& state = states_[static_cast<std::size_t>(body.piece)];
    forEachOf(world, body.piece, [&](PieceIndex piece) {
        const geometry::Motion motion = wayOf(world, body, piece);
        solids.placePiece(world, piece, motion, fatMargin);
        for (const LiveShape& shape : world.shapesOf(piece))
            for (std::uint32_t part = shape.firstPart; part < shape.firstPart + shape.partCount; ++part) {
                if (!solids.holds(static_cast<int>(part)))
                    continue;
                solids.visitNear(static_cast<int>(part), [&](int other) {
                    const LiveShape& its = world.shapes()[static_cast<std::size_t>(solids.shapeOf(other))];
                    if (!stopEachOther(world, shape, its))
                        return;
                    const PieceIndex root = rootOf(world, its.piece);
                    const int slot = root >= 0 ? slots_[static_cast<std::size_t>(root)] : 0;
                    const auto flies = [](const Body& one) { return one.free && !one.thrown; };
                    if (isOwn(slot) && flies(body) && flies(bodies_[static_cast<std::size_t>(slot)]))
                        return; // both went where they were expected, and were looked at there
                    const geometry::Motion itsMotion =
                        isOwn(slot) ? wayOf(world, bodies_[static_cast<std::size_t>(slot)], its.piece)
                                    : world.motionOf(its.piece);
                    const Hull& solid = world.parts()[static_cast<std::size_t>(other)];
                    const Hull& own = world.parts()[part];
                    const Vec itsWay = itsMotion.to.at - itsMotion.from.at;
                    const double travel = glm::length(body.shift - itsWay) + state.radius * std::abs(body.turned);
                    if (travel > 2 * state.inner) { // it could be past the other one
                        const auto span = geometry::nearSpan(own, motion, solid, itsMotion);
                        if (span && !span->atStart) {
                            free = std::min(free, span->enter);
                            return;
                        }
                        if (!span)
                            return;
                    }
                    const double gap =
                        geometry::gapBetween(geometry::placed(own, motion.to), geometry::placed(solid, itsMotion.to))
                            .distance;
                    if (gap < -skinWidth)
                        free = std::min(free, freeWayInside(own, motion, solid, itsMotion));
                });
            }
    });
    return free;
}

/// How a body takes a piece along in this tick.
geometry::Motion Dynamics::wayOf(const World& world, const Body& body, PieceIndex piece) const
{
    const Pose& from = world.before()[static_cast<std::size_t>(piece)];
    return {from, after(from, body.start, body.shift, body.turned)};
}

void Dynamics::writeBack(World& world, Solids& solids, double dt)
{
    for (std::size_t i = 1; i < ownBodies_; ++i) {
        Body& body = bodies_[i];
        const LivePiece& piece = world.piece(body.piece);
        body.thrown = glm::length(body.shift - piece.approach * dt) +
                          stateOf(body.piece).radius * std::abs(body.turned - piece.turning / degrees * dt) >
                      contactMargin / 2;
    }
    // Twice: who is stopped may be in the way of who was looked at before.
    for (int round = 0; round < 2; ++round)
        for (std::size_t i = 1; i < ownBodies_; ++i) {
            Body& body = bodies_[i];
            const State& state = stateOf(body.piece);
            if (world.piece(body.piece).walks ||
                glm::length(body.shift) + state.radius * std::abs(body.turned) <= 0.25 * state.inner)
                continue;
            const double free = freeWay(world, solids, body);
            body.shift *= free;
            body.turned *= free;
            // It cannot go on as fast against what it does not get through.
            const double keeps = std::max(free, 0.5);
            body.velocity *= keeps;
            body.spin *= keeps;
        }
    for (std::size_t i = 1; i < ownBodies_; ++i) {
        Body& body = bodies_[i];
        world::MovingState& piece = world.moving(body.piece);
        if (piece.walks)
            continue; // it goes its way by itself
        Pose to = after(world.pose()[static_cast<std::size_t>(body.piece)], body.start, body.shift, body.turned);
        to.z += piece.rise * dt;
        world.moveTo(body.piece, to);
        piece.velocity = body.velocity;
        piece.spin = body.spin * degrees;
    }
}

/// What bumped may be away again at the end of the tick: detection is told.
void Dynamics::tellBumps(World& world, double dt) const
{
    for (const Contact& contact : contacts_) {
        double first = 1;
        for (int i = 0; i < contact.count; ++i)
            if (const ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
                point.most > 0 && point.before < -restitutionThreshold)
                first = std::min(first, std::max(0.0, point.separation / (-point.before * dt)));
        if (first < 1)
            world.addBump({std::min(contact.shapeA, contact.shapeB), std::max(contact.shapeA, contact.shapeB), first});
    }
}

/// Who stands on what, and whom a kinematic piece carries, also over others that stand on it (V4).
void Dynamics::findCarriers(World& world, double dt)
{
    constexpr double supports = 0.5; // cosine of the angle against gravity
    const Vec up = geometry::unitOr(-world.gravity(), {0, 0});
    for (std::size_t i = 1; i < ownBodies_; ++i) {
        State& state = stateOf(bodies_[i].piece);
        state.touched = false;
        if (world.piece(bodies_[i].piece).loose)
            world.moving(bodies_[i].piece).standsOn = nobody;
        carriers_[i] = nobody;
    }
    const auto pieceOf = [&](int shape) { return world.shapes()[static_cast<std::size_t>(shape)].piece; };
    const auto stand = [&](int upper, PieceIndex on) {
        world::MovingState& piece = world.moving(bodyAt(upper).piece);
        if (piece.loose && piece.standsOn == nobody)
            piece.standsOn = on;
    };
    std::vector<std::pair<int, int>> rests; // upper, lower
    for (const Contact& contact : contacts_) {
        if (!contact.presses())
            continue;
        stateOf(bodyAt(contact.a).piece).touched = true;
        if (isOwn(contact.b))
            stateOf(bodyAt(contact.b).piece).touched = true;
        const double slope = glm::dot(contact.normal, up);
        if (slope < -supports) { // A lies on B
            stand(contact.a, pieceOf(contact.shapeB));
            if (isOwn(contact.b)) {
                rests.emplace_back(contact.a, contact.b);
            } else {
                const PieceIndex carrier = rootOf(world, pieceOf(contact.shapeB));
                if (carrier >= 0 && world.piece(carrier).isUnstopped())
                    carriers_[static_cast<std::size_t>(contact.a)] = carrier;
            }
        } else if (slope > supports && isOwn(contact.b)) {
            stand(contact.b, pieceOf(contact.shapeA));
            rests.emplace_back(contact.b, contact.a);
        }
    }
    for (bool more = !rests.empty(); more;) {
        more = false;
        for (const auto& [upper, lower] : rests) {
            int& carrier = carriers_[static_cast<std::size_t>(upper)];
            if (carrier == nobody && carriers_[static_cast<std::size_t>(lower)] != nobody) {
                carrier = carriers_[static_cast<std::size_t>(lower)];
                more = true;
            }
        }
    }
    for (std::size_t i = 1; i < ownBodies_; ++i) {
        State& state = stateOf(bodies_[i].piece);
        const PieceIndex carrier = carriers_[i];
        const bool isNew = std::exchange(state.isNew, false);
        if (carrier == state.carrier)
            continue;
        state.carrier = carrier;
        state.carried = {0, 0};
        state.carriedSpin = 0;
        if (carrier == nobody)
            continue;
        const geometry::Motion motion = world.motionOf(carrier);
        const Vec centre = bodies_[i].start + bodies_[i].shift;
        state.carried = (geometry::toScene(motion.to, geometry::toLocal(motion.from, centre)) - centre) / dt;
        state.carriedSpin = (motion.to.turn - motion.from.turn) / dt;
        world::MovingState& piece = world.moving(bodies_[i].piece);
        if (!isNew || !piece.loose)
            continue;
        // It stood there from the start: it goes along with the first tick too.
        Pose pose = world.pose()[static_cast<std::size_t>(bodies_[i].piece)];
        pose.at += state.carried * dt - (bodies_[i].shift - piece.approach * dt);
        pose.turn += state.carriedSpin * dt;
        world.moveTo(bodies_[i].piece, pose);
        piece.velocity = state.carried;
        piece.spin = state.carriedSpin;
    }
}

/// What has been still for long, among neighbours that have been still for half as long, falls
/// asleep; what stirs wakes the sleepers that it touches (V7). So a restless corner does not keep a
/// whole heap awake.
void Dynamics::settleDown(World& world, double dt)
{
    std::vector<char> restless(ownBodies_, 0);
    for (std::size_t i = 1; i < ownBodies_; ++i) {
        const Body& body = bodies_[i];
        State& state = stateOf(body.piece);
        const bool still = glm::length(body.velocity) < stillSpeed && std::abs(body.spin) < stillSpin;
        state.still = still ? state.still + dt : 0;
        const bool held =
            state.touched || (body.velocity == Vec{0, 0} && body.spin == 0 && body.acceleration == Vec{0, 0});
        if (!world.piece(body.piece).loose || state.still < untilSleep || !held)
            restless[i] = 1;
    }
    const auto stillFor = [&](int body) { return stateOf(bodyAt(body).piece).still; };
    for (const Contact& contact : contacts_) {
        if (world.piece(bodyAt(contact.a).piece).walks)
            continue;
        if (isOwn(contact.b)) {
            if (!contact.presses() || world.piece(bodyAt(contact.b).piece).walks)
                continue;
            if (stillFor(contact.a) < untilSleep / 2)
                restless[static_cast<std::size_t>(contact.b)] = 1;
            if (stillFor(contact.b) < untilSleep / 2)
                restless[static_cast<std::size_t>(contact.a)] = 1;
        } else if (contact.b != 0) {
            if (contact.presses())
                restless[static_cast<std::size_t>(contact.a)] = 1; // it lies on something that moves
        } else if (glm::length(bodyAt(contact.a).velocity) > wakingSpeed) {
            const PieceIndex root = rootOf(world, world.shapes()[static_cast<std::size_t>(contact.shapeB)].piece);
            if (root >= 0 && world.piece(root).asleep)
                wake(world, root);
        }
    }
    for (std::size_t i = 1; i < ownBodies_; ++i)
        if (restless[i] == 0)
            sleep(world, bodies_[i].piece);
}

} // namespace snare::motion
