// SPDX-License-Identifier: Apache-2.0
/// Dynamics: who touches whom in a tick, and with which impulses it begins (V7).
#include "motion/dynamics.h"
#include "motion/dynamics_shared.h"

#include <algorithm>
#include <cmath>

namespace snare::motion {

using world::LiveShape;

namespace {

Mover moverOf(const World& world, const Body& body, bool own, PieceIndex piece, const Hull& part, double dt)
{
    Mover mover;
    mover.part = &part;
    mover.velocity = body.velocity + body.acceleration * dt;
    mover.centre = body.start;
    mover.spin = body.spin;
    const Pose& pose = world.pose()[static_cast<std::size_t>(piece)];
    if (own)
        mover.motion = {pose, after(pose, body.start, mover.velocity * dt, body.spin * dt)};
    else
        mover.motion = world.motionOf(piece);
    return mover;
}

/// Where a point that is at `at` after `time` was at the start, from the centre. It lies `rounding`
/// outside of the core, and only the core turns.
Vec armOf(const Mover& mover, const Vec& at, const Vec& rounding, double time)
{
    const Vec core = at - rounding - mover.centre - mover.velocity * time;
    if (time == 0 || mover.spin == 0)
        return core + rounding;
    const double cos = std::cos(mover.spin * time);
    const double sin = std::sin(mover.spin * time);
    return Vec{cos * core.x + sin * core.y, cos * core.y - sin * core.x} + rounding;
}

/// Contacts with what gives way come first, then by the parts: the order in which they are solved,
/// and found again.
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
                const Mover mover = moverOf(world, bodyAt(index), true, piece, world.parts()[part], dt);
                solids.visitNear(static_cast<int>(part), [&](int other) {
                    const int shapeOfOther = solids.shapeOf(other);
                    const LiveShape& its = world.shapes()[static_cast<std::size_t>(shapeOfOther)];
                    if (!stopEachOther(world, shape, its))
                        return;
                    const int b = bodyOf(world, its.piece, dt);
                    const bool own = isOwn(b);
                    if (own && (other < static_cast<int>(part) || (walks && world.piece(bodyAt(b).piece).walks)))
                        return; // found from the other side; walkers are stopped by each other, but do not push
                    const Mover itsMover =
                        moverOf(world, bodyAt(b), own, its.piece, world.parts()[static_cast<std::size_t>(other)], dt);
                    const auto touching = touchingOf(mover, itsMover, dt);
                    if (!touching)
                        return;
                    Contact contact;
                    contact.key = keyOf(!own, static_cast<int>(part), other);
                    contact.shapeA = static_cast<int>(&shape - world.shapes().data());
                    contact.shapeB = shapeOfOther;
                    contact.a = index;
                    contact.b = b;
                    contact.normal = touching->manifold.normal;
                    contact.count = touching->manifold.count;
                    contact.roundA = mover.part->radius;
                    contact.roundB = itsMover.part->radius;
                    const world::Surface& one = world.surfaces()[static_cast<std::size_t>(contact.shapeA)];
                    const world::Surface& two = world.surfaces()[static_cast<std::size_t>(contact.shapeB)];
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
                        point.separation = found.distance - skinWidth + glm::dot(apart, contact.normal);
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
                const PieceIndex piece = world.shapes()[static_cast<std::size_t>(other.shapeB)].piece;
                const Hull hull =
                    geometry::placed(world.parts()[static_cast<std::size_t>(part)], world.motionOf(piece).from);
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

} // namespace snare::motion
