// SPDX-License-Identifier: Apache-2.0
#include "motion/dynamics.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace snare::motion {

using geometry::Bounds;
using geometry::Pose;
using world::LivePiece;
using world::LiveShape;
using world::nobody;
using world::PieceIndex;
using world::World;

namespace {

constexpr double degrees = 180 / std::numbers::pi;

/// What is slower than this may fall asleep, m/s and radians/s,
constexpr double stillSpeed = 0.05;
constexpr double stillSpin = 0.1;
/// after this long, s.
constexpr double untilSleep = 0.5;
/// What is faster than this wakes what it comes near, m/s.
constexpr double wakingSpeed = 0.15;
/// How hard a walker can push: as if it got up to speed this fast, m/s².
constexpr double walkersPush = 20;
/// How far around a part others are looked for, m.
constexpr double room = restGap + contactRoom;

bool moves(const LivePiece& piece)
{
    return piece.present && piece.here && piece.carrier == nobody && !piece.pinned;
}

/// A pose after its body has shifted, and turned around `centre`.
Pose after(const Pose& pose, const Vec& centre, const Vec& shift, double turned)
{
    if (turned == 0)
        return {pose.at + shift, pose.turn, pose.z};
    const double cos = std::cos(turned);
    const double sin = std::sin(turned);
    const Vec arm = pose.at - centre;
    return {centre + shift + Vec{cos * arm.x - sin * arm.y, sin * arm.x + cos * arm.y}, pose.turn + turned * degrees,
            pose.z};
}

/// A piece and what rides on it.
template <class Visit> void forEachOf(const World& world, PieceIndex root, Visit&& visit)
{
    visit(root);
    for (const PieceIndex rider : world.carried)
        if (world.carrierOfAll(rider) == root)
            visit(rider);
}

PieceIndex rootOf(const World& world, PieceIndex piece)
{
    return world.carried.empty() ? piece : world.carrierOfAll(piece);
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
    const Pose& pose = world.pose[static_cast<std::size_t>(root)];
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
        const Pose& its = world.pose[static_cast<std::size_t>(index)];
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
    for (; known_ < world.pieces.size(); ++known_) {
        const LivePiece& piece = world.pieces[known_];
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
    world.piece(index).asleep = false;
    stateOf(index).still = 0;
}

void Dynamics::sleep(World& world, PieceIndex index)
{
    LivePiece& piece = world.piece(index);
    piece.asleep = true;
    piece.velocity = piece.approach = {0, 0};
    piece.spin = piece.turning = 0;
}

/// Wakes those whose room overlaps that of the piece.
void Dynamics::wakeAround(World& world, const Solids& solids, PieceIndex index)
{
    for (const LiveShape& shape : world.shapesOf(index))
        for (std::uint32_t part = shape.firstPart; part < shape.firstPart + shape.partCount; ++part) {
            if (!solids.holds(static_cast<int>(part)))
                continue;
            solids.visitNear(static_cast<int>(part), [&](int other) {
                const PieceIndex root =
                    rootOf(world, world.shapes[static_cast<std::size_t>(solids.shapeOf(other))].piece);
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
    for (const PieceIndex index : world.moved) {
        const LivePiece& piece = world.piece(index);
        if (piece.loose && piece.carrier == nobody)
            continue; // below
        if (!piece.walks || piece.carrier != nobody)
            solids.placePiece(world, index, world.motionOf(index), room);
        wakeAround(world, solids, index);
    }
    for (const PieceIndex index : loose_) {
        const LivePiece& piece = world.piece(index);
        if (!moves(piece) || piece.asleep)
            continue;
        const Vec velocity = piece.walks ? piece.approach : piece.velocity;
        const Pose& pose = world.pose[static_cast<std::size_t>(index)];
        if (piece.walks)
            solids.placePiece(world, index, {pose, {pose.at + velocity * dt, pose.turn, pose.z}}, room + 0.5);
        if (glm::length(velocity) < wakingSpeed)
            continue;
        if (piece.loose)
            solids.placePiece(world, index, {pose, {pose.at + velocity * dt, pose.turn, pose.z}}, room);
        wakeAround(world, solids, index);
    }
}

// --- setting up ----------------------------------------------------------------------------------------------------

/// The mass of a piece with its riders, in its own axes, and how thick the thinnest part of them is.
void Dynamics::weigh(const World& world, PieceIndex root)
{
    State& state = stateOf(root);
    state.isMassKnown = true;
    state.mass = weightOf(world, root);
    state.inner = 1e300;
    state.radius = 0;
    const Vec centre = geometry::toScene(world.pose[static_cast<std::size_t>(root)], state.mass.centre);
    forEachOf(world, root, [&](PieceIndex index) {
        for (const LiveShape& shape : world.shapesOf(index)) {
            if (shape.role != scene::Role::solid || !shape.isOn())
                continue;
            for (const Hull& part : world.partsOf(shape)) {
                state.inner = std::min(state.inner, innerOf(part));
                const Hull placed = geometry::placed(part, world.pose[static_cast<std::size_t>(index)]);
                for (const Vec& corner : placed.corners())
                    state.radius = std::max(state.radius, glm::length(corner - centre));
            }
        }
    });
    state.inner = std::max(state.inner, 0.01);
}

/// What a kinematic piece carries goes with its whole motion (V4): a change of that motion is a change of its own.
void Dynamics::ride(World& world, PieceIndex index, double dt)
{
    State& state = stateOf(index);
    if (state.carrier == nobody)
        return;
    LivePiece& piece = world.piece(index);
    if (!world.piece(state.carrier).meetsPieces()) {
        state.carrier = nobody;
        return;
    }
    const geometry::Motion motion = world.motionOf(state.carrier);
    const Vec centre = geometry::toScene(world.pose[static_cast<std::size_t>(index)], state.mass.centre);
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
        LivePiece& piece = world.piece(index);
        if (!moves(piece) || piece.asleep)
            continue;
        State& state = stateOf(index);
        if (!state.isMassKnown)
            weigh(world, index);
        Body body;
        body.piece = index;
        body.inverseMass = 1 / state.mass.mass;
        const Pose& pose = world.pose[static_cast<std::size_t>(index)];
        body.start = geometry::toScene(pose, state.mass.centre);
        body.acceleration = world.gravity * piece.gravity;
        if (piece.walks) {
            if (piece.walk.climbing)
                body.acceleration = {0, 0};
            const Vec up = geometry::unitOr(-world.gravity, {0, 0});
            const Vec along = piece.velocity - up * glm::dot(piece.velocity, up);
            const Vec wish = piece.approach - up * glm::dot(piece.approach, up);
            body.velocity = piece.velocity - along + geometry::towards(along, wish, walkersPush * dt);
        } else {
            ride(world, index, dt);
            const auto& dynamic = std::get<scene::DynamicBody>(piece.body);
            if (dynamic.damping > 0) {
                const double keeps = std::exp(-dynamic.damping * dt);
                const bool stops = glm::length(piece.velocity) < 1e-3 && body.acceleration == Vec{0, 0};
                piece.velocity *= stops ? 0 : keeps;
                piece.spin *= std::abs(piece.spin) < 0.05 && body.acceleration == Vec{0, 0} ? 0 : keeps;
            }
            body.velocity = piece.velocity;
            body.spin = piece.spin / degrees;
            if (!dynamic.upright && state.mass.inertia > 0)
                body.inverseInertia = 1 / state.mass.inertia;
            body.free = !state.touched;
            piece.approach = piece.velocity + body.acceleration * dt;
            piece.turning = piece.spin;
        }
        slotOf(index) = static_cast<int>(bodies_.size());
        bodies_.push_back(body);
        const Vec shift = (body.velocity + body.acceleration * dt) * dt;
        forEachOf(world, index, [&](PieceIndex one) {
            const Pose& from = world.pose[static_cast<std::size_t>(one)];
            solids.placePiece(world, one, {from, after(from, body.start, shift, body.spin * dt)}, room);
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

// --- contacts ------------------------------------------------------------------------------------------------------

namespace {

Mover moverOf(const World& world, const Body& body, bool own, PieceIndex piece, const Hull& part, double dt)
{
    Mover mover;
    mover.part = &part;
    mover.velocity = body.velocity + body.acceleration * dt;
    mover.centre = body.start;
    mover.spin = body.spin;
    const Pose& pose = world.pose[static_cast<std::size_t>(piece)];
    if (own)
        mover.motion = {pose, after(pose, body.start, mover.velocity * dt, body.spin * dt)};
    else
        mover.motion = world.motionOf(piece);
    return mover;
}

/// Where a point that is at `at` after `time` was at the start, from the centre. It lies `rounding` outside of the
/// core, and only the core turns.
Vec armOf(const Mover& mover, const Vec& at, const Vec& rounding, double time)
{
    const Vec core = at - rounding - mover.centre - mover.velocity * time;
    if (time == 0 || mover.spin == 0)
        return core + rounding;
    const double cos = std::cos(mover.spin * time);
    const double sin = std::sin(mover.spin * time);
    return Vec{cos * core.x + sin * core.y, cos * core.y - sin * core.x} + rounding;
}

/// Contacts with what gives way come first, then by the parts: the order in which they are solved, and found again.
std::uint64_t keyOf(bool fixed, int part, int other)
{
    return static_cast<std::uint64_t>(fixed) << 63 | static_cast<std::uint64_t>(part) << 32 |
           static_cast<std::uint64_t>(other);
}

int otherPartOf(std::uint64_t key)
{
    return static_cast<int>(key & 0x7FFFFFFFU);
}

} // namespace

void Dynamics::findContacts(World& world, const Solids& solids, double dt)
{
    std::swap(contacts_, previous_);
    contacts_.clear();
    for (std::size_t body = 1; body < ownBodies_; ++body)
        findContactsOf(world, solids, static_cast<int>(body), dt);
    std::ranges::sort(contacts_, {}, &Contact::key);
    warmUp();
}

void Dynamics::findContactsOf(const World& world, const Solids& solids, int index, double dt)
{
    const std::size_t from = contacts_.size();
    const PieceIndex root = bodyAt(index).piece;
    const bool walks = world.piece(root).walks;
    forEachOf(world, root, [&](PieceIndex piece) {
        for (const LiveShape& shape : world.shapesOf(piece))
            for (std::uint32_t part = shape.firstPart; part < shape.firstPart + shape.partCount; ++part) {
                if (!solids.holds(static_cast<int>(part)))
                    continue;
                const Mover mover = moverOf(world, bodyAt(index), true, piece, world.parts[part], dt);
                solids.visitNear(static_cast<int>(part), [&](int other) {
                    const int shapeOfOther = solids.shapeOf(other);
                    const LiveShape& its = world.shapes[static_cast<std::size_t>(shapeOfOther)];
                    if (!stopEachOther(world, shape, its))
                        return;
                    const int b = bodyOf(world, its.piece, dt);
                    const bool own = isOwn(b);
                    if (own && (other < static_cast<int>(part) || (walks && world.piece(bodyAt(b).piece).walks)))
                        return; // found from the other side; walkers are stopped by each other, but do not push
                    const Mover itsMover =
                        moverOf(world, bodyAt(b), own, its.piece, world.parts[static_cast<std::size_t>(other)], dt);
                    const auto touching = touchingOf(mover, itsMover, dt);
                    if (!touching)
                        return;
                    Contact contact;
                    contact.key = keyOf(!own, static_cast<int>(part), other);
                    contact.shapeA = static_cast<int>(&shape - world.shapes.data());
                    contact.shapeB = shapeOfOther;
                    contact.a = index;
                    contact.b = b;
                    contact.normal = touching->manifold.normal;
                    contact.count = touching->manifold.count;
                    contact.roundA = mover.part->radius;
                    contact.roundB = itsMover.part->radius;
                    const world::Surface& one = world.surfaces[static_cast<std::size_t>(contact.shapeA)];
                    const world::Surface& two = world.surfaces[static_cast<std::size_t>(contact.shapeB)];
                    const bool steered = walks || (own && world.piece(bodyAt(b).piece).walks);
                    contact.friction = steered ? 0 : std::sqrt(one.friction * two.friction); // V7
                    contact.bounce = steered ? 0 : std::max(one.bounce, two.bounce);
                    for (int i = 0; i < contact.count; ++i) {
                        const auto& found = touching->manifold.points[static_cast<std::size_t>(i)];
                        ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
                        // What meets at a moment to come is still apart at the start.
                        point.onA = armOf(mover, found.at, contact.normal * contact.roundA, touching->moment * dt);
                        point.onB = armOf(itsMover, found.at, -contact.normal * contact.roundB, touching->moment * dt);
                        const Vec apart = itsMover.centre + point.onB - mover.centre - point.onA;
                        point.separation = found.distance - restGap + glm::dot(apart, contact.normal);
                        point.mark = geometry::toLocal(itsMover.motion.from, found.at);
                    }
                    contacts_.push_back(contact);
                });
            }
    });
    if (contacts_.size() - from > 1)
        dropInnerJoints(world, from);
}

/// Takes out contacts with corners that lie inside a line or a row of solids.
void Dynamics::dropInnerJoints(const World& world, std::size_t from)
{
    const auto isInner = [&](const Contact& contact) {
        if (contact.count != 1 || isOwn(contact.b))
            return false;
        const ContactPoint& point = contact.points[0];
        const Vec at = bodyAt(contact.b).start + point.onB;
        return std::any_of(
            contacts_.begin() + static_cast<std::ptrdiff_t>(from), contacts_.end(), [&](const Contact& other) {
                const int part = otherPartOf(other.key);
                if (part == otherPartOf(contact.key) || other.b != contact.b)
                    return false;
                const PieceIndex piece = world.shapes[static_cast<std::size_t>(other.shapeB)].piece;
                const Hull hull =
                    geometry::placed(world.parts[static_cast<std::size_t>(part)], world.motionOf(piece).from);
                return isInnerJoint(hull, at, -contact.normal);
            });
    };
    // All are judged before one goes.
    std::vector<std::uint64_t> inner;
    for (std::size_t i = from; i < contacts_.size(); ++i)
        if (isInner(contacts_[i]))
            inner.push_back(contacts_[i].key);
    if (!inner.empty())
        contacts_.erase(
            std::remove_if(contacts_.begin() + static_cast<std::ptrdiff_t>(from), contacts_.end(),
                           [&](const Contact& one) { return std::ranges::find(inner, one.key) != inner.end(); }),
            contacts_.end());
}

/// Gives contacts of the last tick their impulses again.
void Dynamics::warmUp()
{
    constexpr double turnedAway = 0.9; // cosine
    auto old = previous_.begin();
    for (Contact& contact : contacts_) {
        while (old != previous_.end() && old->key < contact.key)
            ++old;
        if (old == previous_.end())
            break;
        if (old->key != contact.key || glm::dot(old->normal, contact.normal) < turnedAway)
            continue;
        for (int i = 0; i < contact.count; ++i) {
            ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
            int match = i;
            if (old->count != contact.count) { // the nearest of two, or the one
                match = 0;
                if (old->count == 2 && geometry::squaredLength(old->points[1].mark - point.mark) <
                                           geometry::squaredLength(old->points[0].mark - point.mark))
                    match = 1;
                else if (contact.count == 2 &&
                         geometry::squaredLength(contact.points[static_cast<std::size_t>(1 - i)].mark -
                                                 old->points[0].mark) <
                             geometry::squaredLength(point.mark - old->points[0].mark))
                    continue;
            }
            const ContactPoint& before = old->points[static_cast<std::size_t>(match)];
            point.normalImpulse = before.normalImpulse;
            point.tangentImpulse = before.tangentImpulse;
        }
    }
}

// --- after solving -------------------------------------------------------------------------------------------------

namespace {

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
    const double deepest = std::min(gapAt(0), -restGap) - allowed;
    for (int i = 1; i <= samples; ++i)
        if (gapAt(static_cast<double>(i) / samples) < deepest)
            return static_cast<double>(i - 1) / samples;
    return 1;
}

} // namespace

/// How much of its way a fast body can go before it gets into another one, or deeper into one, 0 to 1.
double Dynamics::freeWay(const World& world, Solids& solids, const Body& body) const
{
    double free = 1;
    const State& state = states_[static_cast<std::size_t>(body.piece)];
    forEachOf(world, body.piece, [&](PieceIndex piece) {
        const geometry::Motion motion = wayOf(world, body, piece);
        solids.placePiece(world, piece, motion, room);
        for (const LiveShape& shape : world.shapesOf(piece))
            for (std::uint32_t part = shape.firstPart; part < shape.firstPart + shape.partCount; ++part) {
                if (!solids.holds(static_cast<int>(part)))
                    continue;
                solids.visitNear(static_cast<int>(part), [&](int other) {
                    const LiveShape& its = world.shapes[static_cast<std::size_t>(solids.shapeOf(other))];
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
                    const Hull& solid = world.parts[static_cast<std::size_t>(other)];
                    const Hull& own = world.parts[part];
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
                    if (gap < -restGap)
                        free = std::min(free, freeWayInside(own, motion, solid, itsMotion));
                });
            }
    });
    return free;
}

/// How a body takes a piece along in this tick.
geometry::Motion Dynamics::wayOf(const World& world, const Body& body, PieceIndex piece) const
{
    const Pose& from = world.before[static_cast<std::size_t>(piece)];
    return {from, after(from, body.start, body.shift, body.turned)};
}

void Dynamics::writeBack(World& world, Solids& solids, double dt)
{
    for (std::size_t i = 1; i < ownBodies_; ++i) {
        Body& body = bodies_[i];
        const LivePiece& piece = world.piece(body.piece);
        body.thrown = glm::length(body.shift - piece.approach * dt) +
                          stateOf(body.piece).radius * std::abs(body.turned - piece.turning / degrees * dt) >
                      contactRoom / 2;
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
        LivePiece& piece = world.piece(body.piece);
        if (piece.walks)
            continue; // it goes its way by itself
        Pose to = after(world.pose[static_cast<std::size_t>(body.piece)], body.start, body.shift, body.turned);
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
                point.most > 0 && point.before < -bounceFrom)
                first = std::min(first, std::max(0.0, point.separation / (-point.before * dt)));
        if (first < 1)
            world.bumps.push_back(
                {std::min(contact.shapeA, contact.shapeB), std::max(contact.shapeA, contact.shapeB), first});
    }
}

/// Who stands on what, and whom a kinematic piece carries, also over others that stand on it (V4).
void Dynamics::findCarriers(World& world, double dt)
{
    constexpr double supports = 0.5; // cosine of the angle against gravity
    const Vec up = geometry::unitOr(-world.gravity, {0, 0});
    for (std::size_t i = 1; i < ownBodies_; ++i) {
        State& state = stateOf(bodies_[i].piece);
        state.touched = false;
        if (world.piece(bodies_[i].piece).loose)
            world.piece(bodies_[i].piece).standsOn = nobody;
        carriers_[i] = nobody;
    }
    const auto pieceOf = [&](int shape) { return world.shapes[static_cast<std::size_t>(shape)].piece; };
    const auto stand = [&](int upper, PieceIndex on) {
        LivePiece& piece = world.piece(bodyAt(upper).piece);
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
                if (carrier >= 0 && std::holds_alternative<scene::KinematicBody>(world.piece(carrier).body))
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
        LivePiece& piece = world.piece(bodies_[i].piece);
        if (!isNew || !piece.loose)
            continue;
        // It stood there from the start: it goes along with the first tick too.
        Pose pose = world.pose[static_cast<std::size_t>(bodies_[i].piece)];
        pose.at += state.carried * dt - (bodies_[i].shift - piece.approach * dt);
        pose.turn += state.carriedSpin * dt;
        world.moveTo(bodies_[i].piece, pose);
        piece.velocity = state.carried;
        piece.spin = state.carriedSpin;
    }
}

/// What has been still for long, among neighbours that have been still for half as long, falls asleep; what stirs wakes
/// the sleepers that it touches (V7). So a restless corner does not keep a whole heap awake.
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
            const PieceIndex root = rootOf(world, world.shapes[static_cast<std::size_t>(contact.shapeB)].piece);
            if (root >= 0 && world.piece(root).asleep)
                wake(world, root);
        }
    }
    for (std::size_t i = 1; i < ownBodies_; ++i)
        if (restless[i] == 0)
            sleep(world, bodies_[i].piece);
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
