// SPDX-License-Identifier: Apache-2.0
#include "motion/dynamics.h"
#include "motion/dynamics_shared.h"

#include <algorithm>
#include <cmath>

namespace snare::motion {

using world::LivePiece;
using world::LiveShape;
using world::nobody;

namespace {

/// How hard a walker can push: as if it got up to speed this fast, m/s².
constexpr double walkersPush = 20;

bool moves(const LivePiece& piece)
{
    return piece.present && piece.here && piece.carrier == nobody && !piece.pinned;
}

/// Half the thickness of a part.
double innerOf(const Hull& part)
{
    const auto corners = part.corners();
    if (corners.size() < 3)
        return part.radius;
    Vec middle{0, 0};
    for (const Vec& corner : corners)
        middle += corner / static_cast<double>(corners.size());
    double inner = 1e300;
    for (std::size_t i = 0; i < corners.size(); ++i) {
        const Vec along = corners[(i + 1) % corners.size()] - corners[i];
        inner = std::min(inner, std::abs(geometry::cross(geometry::unitOr(along, {1, 0}), middle - corners[i])));
    }
    return inner + part.radius;
}

/// The mass of a piece with those of its riders that are dynamic, in its own axes.
Mass weightOf(const World& world, PieceIndex root)
{
    Mass sum;
    const Pose& pose = world.pose()[static_cast<std::size_t>(root)];
    forEachOf(world, root, [&](PieceIndex index) {
        const LivePiece& piece = world.piece(index);
        const auto* body = std::get_if<scene::DynamicBody>(&piece.body);
        Mass own;
        for (const LiveShape& shape : world.shapesOf(index))
            if (shape.role == scene::Role::solid && shape.isOn())
                for (const Hull& part : world.partsOf(shape))
                    own += massOf(part, body ? body->density : 1);
        if (index == root && own.mass <= 0)
            own.mass = 1; // nothing touches it, but it can fall
        if (body && body->mass)
            own = own.scaledTo(*body->mass);
        const Pose& its = world.pose()[static_cast<std::size_t>(index)];
        if (index == root)
            sum += own;
        else if (body)
            sum += own.placedAt({geometry::toLocal(pose, its.at), its.turn - pose.turn});
    });
    return sum;
}

} // namespace

double massOf(const World& world, PieceIndex index)
{
    const LivePiece& piece = world.piece(index);
    return piece.loose || piece.walks ? weightOf(world, index).mass : 0;
}

void Dynamics::forget()
{
    *this = {};
}

void Dynamics::follow(World& world)
{
    for (; known_ < world.pieces().size(); ++known_) {
        const LivePiece& piece = world.pieces()[known_];
        if (piece.present && (piece.loose || piece.walks))
            loose_.push_back(static_cast<PieceIndex>(known_));
    }
    if (states_.size() < known_) {
        states_.resize(known_);
        slots_.resize(known_, 0);
    }
    std::erase_if(loose_, [&](PieceIndex one) { return !world.piece(one).present; });
}

// --- sleep ---------------------------------------------------------------------------------------------------------

void Dynamics::wake(World& world, PieceIndex index)
{
    world.moving(index).asleep = false;
    stateOf(index).still = 0;
}

void Dynamics::sleep(World& world, PieceIndex index)
{
    world::MovingState& piece = world.moving(index);
    piece.asleep = true;
    piece.velocity = piece.approach = {0, 0};
    piece.spin = piece.turning = 0;
}

/// Wakes those whose fat AABB overlaps that of the piece.
void Dynamics::wakeAround(World& world, const Solids& solids, PieceIndex index)
{
    for (const LiveShape& shape : world.shapesOf(index))
        for (std::uint32_t part = shape.firstPart; part < shape.firstPart + shape.partCount; ++part) {
            if (!solids.holds(static_cast<int>(part)))
                continue;
            solids.visitNear(static_cast<int>(part), [&](int other) {
                const PieceIndex root =
                    rootOf(world, world.shapes()[static_cast<std::size_t>(solids.shapeOf(other))].piece);
                if (root >= 0 && world.piece(root).asleep)
                    wake(world, root);
            });
        }
}

void Dynamics::wakeNear(World& world, const Solids& solids, std::span<const PieceIndex> pieces)
{
    for (const PieceIndex index : pieces) {
        const PieceIndex root = rootOf(world, index);
        for (const PieceIndex one : {index, root}) {
            if (one < 0 || static_cast<std::size_t>(one) >= states_.size())
                continue;
            stateOf(one).isMassKnown = false;
            wake(world, one);
        }
        wakeAround(world, solids, index);
    }
}

void Dynamics::wakeThoseInTheWay(World& world, Solids& solids, double dt)
{
    for (const PieceIndex index : world.moved()) {
        const LivePiece& piece = world.piece(index);
        if (piece.loose && piece.carrier == nobody)
            continue; // below
        if (!piece.walks || piece.carrier != nobody)
            solids.placePiece(world, index, world.motionOf(index), fatMargin);
        wakeAround(world, solids, index);
    }
    for (const PieceIndex index : loose_) {
        const LivePiece& piece = world.piece(index);
        if (!moves(piece) || piece.asleep)
            continue;
        const Vec velocity = piece.walks ? piece.approach : piece.velocity;
        const Pose& pose = world.pose()[static_cast<std::size_t>(index)];
        if (piece.walks)
            solids.placePiece(world, index, {pose, {pose.at + velocity * dt, pose.turn, pose.z}}, fatMargin + 0.5);
        if (glm::length(velocity) < wakingSpeed)
            continue;
        if (piece.loose)
            solids.placePiece(world, index, {pose, {pose.at + velocity * dt, pose.turn, pose.z}}, fatMargin);
        wakeAround(world, solids, index);
    }
}

// --- setting up ----------------------------------------------------------------------------------------------------

/// The mass of a piece with its riders, in its own axes, and how thick the thinnest part of them
/// is.
void Dynamics::weigh(const World& world, PieceIndex root)
{
    State& state = stateOf(root);
    state.isMassKnown = true;
    state.mass = weightOf(world, root);
    state.inner = 1e300;
    state.radius = 0;
    const Vec centre = geometry::toScene(world.pose()[static_cast<std::size_t>(root)], state.mass.centre);
    forEachOf(world, root, [&](PieceIndex index) {
        for (const LiveShape& shape : world.shapesOf(index)) {
            if (shape.role != scene::Role::solid || !shape.isOn())
                continue;
            for (const Hull& part : world.partsOf(shape)) {
                state.inner = std::min(state.inner, innerOf(part));
                const Hull placed = geometry::placed(part, world.pose()[static_cast<std::size_t>(index)]);
                for (const Vec& corner : placed.corners())
                    state.radius = std::max(state.radius, glm::length(corner - centre));
            }
        }
    });
    state.inner = std::max(state.inner, 0.01);
}

/// What a kinematic piece carries goes with its whole motion (V4): a change of that motion is a
/// change of its own.
void Dynamics::ride(World& world, PieceIndex index, double dt)
{
    State& state = stateOf(index);
    if (state.carrier == nobody)
        return;
    world::MovingState& piece = world.moving(index);
    if (!world.piece(state.carrier).meetsPieces()) {
        state.carrier = nobody;
        return;
    }
    const geometry::Motion motion = world.motionOf(state.carrier);
    const Vec centre = geometry::toScene(world.pose()[static_cast<std::size_t>(index)], state.mass.centre);
    const Vec carried = (geometry::toScene(motion.to, geometry::toLocal(motion.from, centre)) - centre) / dt;
    const double spin = (motion.to.turn - motion.from.turn) / dt;
    piece.velocity += carried - state.carried;
    piece.spin += spin - state.carriedSpin;
    state.carried = carried;
    state.carriedSpin = spin;
}

void Dynamics::setUp(World& world, Solids& solids, double dt)
{
    for (const Body& body : bodies_)
        if (body.piece >= 0)
            slotOf(body.piece) = 0;
    bodies_.assign(1, Body{});
    for (const PieceIndex index : loose_) {
        const LivePiece& piece = world.piece(index);
        if (!moves(piece) || piece.asleep)
            continue;
        world::MovingState& moving = world.moving(index);
        State& state = stateOf(index);
        if (!state.isMassKnown)
            weigh(world, index);
        Body body;
        body.piece = index;
        body.inverseMass = 1 / state.mass.mass;
        const Pose& pose = world.pose()[static_cast<std::size_t>(index)];
        body.start = geometry::toScene(pose, state.mass.centre);
        body.acceleration = world.gravity() * piece.gravity;
        if (piece.walks) {
            if (piece.walk.climbing)
                body.acceleration = {0, 0};
            const Vec up = geometry::unitOr(-world.gravity(), {0, 0});
            const Vec along = piece.velocity - up * glm::dot(piece.velocity, up);
            const Vec wish = piece.approach - up * glm::dot(piece.approach, up);
            body.velocity = piece.velocity - along + geometry::towards(along, wish, walkersPush * dt);
        } else {
            ride(world, index, dt);
            const auto& dynamic = std::get<scene::DynamicBody>(piece.body);
            if (dynamic.damping > 0) {
                const double keeps = std::exp(-dynamic.damping * dt);
                const bool stops = glm::length(piece.velocity) < 1e-3 && body.acceleration == Vec{0, 0};
                moving.velocity *= stops ? 0 : keeps;
                moving.spin *= std::abs(piece.spin) < 0.05 && body.acceleration == Vec{0, 0} ? 0 : keeps;
            }
            body.velocity = piece.velocity;
            body.spin = piece.spin / degrees;
            if (!dynamic.upright && state.mass.inertia > 0)
                body.inverseInertia = 1 / state.mass.inertia;
            body.free = !state.touched;
            moving.approach = piece.velocity + body.acceleration * dt;
            moving.turning = piece.spin;
        }
        slotOf(index) = static_cast<int>(bodies_.size());
        bodies_.push_back(body);
        const Vec shift = (body.velocity + body.acceleration * dt) * dt;
        forEachOf(world, index, [&](PieceIndex one) {
            const Pose& from = world.pose()[static_cast<std::size_t>(one)];
            solids.placePiece(world, one, {from, after(from, body.start, shift, body.spin * dt)}, fatMargin);
        });
    }
    ownBodies_ = bodies_.size();
}

/// The body of a piece in this tick; 0 for what rests.
int Dynamics::bodyOf(const World& world, PieceIndex index, double dt)
{
    const PieceIndex root = rootOf(world, index);
    if (root >= 0) {
        if (const int slot = slotOf(root); isOwn(slot))
            return slot;
        if (world.piece(root).asleep)
            return 0;
    }
    const geometry::Motion motion = world.motionOf(index);
    if (motion.rests())
        return 0;
    if (slotOf(index) != 0)
        return slotOf(index);
    Body body;
    body.piece = index;
    body.start = motion.from.at;
    body.velocity = (motion.to.at - motion.from.at) / dt;
    body.spin = (motion.to.turn - motion.from.turn) / dt / degrees;
    slotOf(index) = static_cast<int>(bodies_.size());
    bodies_.push_back(body);
    return slotOf(index);
}

void Dynamics::advance(World& world, Solids& solids, double dt)
{
    wakeThoseInTheWay(world, solids, dt);
    const bool moving = std::ranges::any_of(loose_, [&](PieceIndex one) {
        const LivePiece& piece = world.piece(one);
        return piece.loose && !piece.asleep && moves(piece);
    });
    if (!moving) {
        contacts_.clear();
        return;
    }
    setUp(world, solids, dt);
    findContacts(world, solids, dt);
    carriers_.resize(std::max(carriers_.size(), bodies_.size()));
    solve(bodies_, contacts_, dt);
    writeBack(world, solids, dt);
    tellBumps(world, dt);
    findCarriers(world, dt);
    settleDown(world, dt);
}

} // namespace snare::motion
