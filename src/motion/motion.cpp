// SPDX-License-Identifier: Apache-2.0
#include "motion/motion.h"

#include "geometry/gap.h"
#include "geometry/impact.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace snare::motion {

using geometry::Bounds;
using geometry::Gap;
using geometry::Hull;
using world::LivePiece;
using world::LiveShape;
using world::Motion;
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
bool chase(World& world, LivePiece& piece, Pose& pose, Vec& velocity, double dt)
{
    const world::MoveOrder& move = piece.move;
    const bool pointer = world::isPointer(move.after);
    if (!pointer && !world.piece(move.after).present)
        return true;
    // Where it was at the start of the tick: the order of the pieces does not matter.
    const Pose goal = pointer ? Pose{piece.pinned ? world.pointer.glass : world.pointer.at, 0, pose.z}
                              : world.before[static_cast<std::size_t>(move.after)];
    const Vec way = goal.at - pose.at;
    const double rise = goal.z - pose.z;
    const double distance = std::hypot(way.x, way.y, rise);
    const double step = std::min(move.speed * dt, distance - move.arrive);
    velocity = step > 0 ? way / distance * (step / dt) : Vec{0, 0};
    pose.at += velocity * dt;
    pose.z += step > 0 ? rise / distance * step : 0;
    return false;
}

void followOrders(World& world, PieceIndex index, double dt, std::vector<Arrival>& arrivals)
{
    LivePiece& piece = world.piece(index);
    Pose pose = world.pose[static_cast<std::size_t>(index)];
    Vec velocity = piece.velocity;
    if (piece.move.id != 0 && piece.move.after != world::nobody) {
        if (chase(world, piece, pose, velocity, dt))
            piece.move = {};
    } else if (piece.move.id != 0 && piece.move.ease != scene::Ease::none) {
        const Vec start = pose.at;
        const bool there = easeOn(piece.move, pose, dt);
        if (there) {
            pose.at = piece.move.target;
            pose.z = piece.move.height;
            arrivals.push_back({index, piece.move.id, false});
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
            arrivals.push_back({index, piece.move.id, false});
            piece.move = {};
        } else {
            velocity = way / distance * piece.move.speed;
            pose.at += velocity * dt;
            pose.z += rise / distance * step;
        }
    } else {
        pose.at += velocity * dt;
        pose.z += piece.rise * dt;
    }
    piece.approach = velocity;

    const double before = pose.turn;
    if (piece.turn.id != 0) {
        const double rest = piece.turn.target - pose.turn;
        const double step = piece.turn.speed * dt;
        if (std::abs(rest) <= step) {
            pose.turn = piece.turn.target;
            arrivals.push_back({index, piece.turn.id, true});
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

Vec steering(const LivePiece& walker, const std::vector<std::string>& keysDown)
{
    const auto any = [&](const std::vector<std::string>& keys) {
        return std::ranges::any_of(
            keys, [&](const std::string& key) { return std::ranges::find(keysDown, key) != keysDown.end(); });
    };
    const Vec way{(any(walker.keys.right) ? 1 : 0) - (any(walker.keys.left) ? 1 : 0),
                  (any(walker.keys.up) ? 1 : 0) - (any(walker.keys.down) ? 1 : 0)};
    return geometry::unitOr(way, {0, 0}) * walker.speed;
}

/// A part of the walker and a part of a solid in its way, which is placed.
struct Obstacle {
    const Hull* own;
    Hull hull;
};

/// Whether the bands of two shapes overlap where they are now (M15).
bool levelWith(const World& world, const LiveShape& a, const LiveShape& b)
{
    const Pose& poseOfA = world.pose[static_cast<std::size_t>(a.piece)];
    const Pose& poseOfB = world.pose[static_cast<std::size_t>(b.piece)];
    return !geometry::heightWindow(a.band, {poseOfA, poseOfA}, b.band, {poseOfB, poseOfB}).empty();
}

bool stops(const World& world, const LiveShape& walker, const LiveShape& other)
{
    return walker.role == scene::Role::solid && other.role == scene::Role::solid && other.enabled && walker.enabled &&
           walker.piece != other.piece && world.piece(other.piece).meetsPieces() &&
           world.groups.between(walker.group, other.group) == scene::Contact::stop && levelWith(world, walker, other) &&
           (world.carried.empty() || world.carrierOfAll(walker.piece) != world.carrierOfAll(other.piece));
}

/// Carries one walker along its way, around what stops it.
class Walk {
  public:
    Walk(World& world, PieceIndex walker)
        : world_(world), walker_(walker), at_(world.pose[static_cast<std::size_t>(walker)].at)
    {
    }

    void go(const Vec& way)
    {
        gatherObstacles(glm::length(way));
        pushOut();
        Vec left = way;
        for (int i = 0; i < mostBends && geometry::squaredLength(left) > 0; ++i)
            left = slide(left);
        pushOut();
        world_.moveTo(walker_, {at_, start().turn, start().z});
    }

  private:
    static constexpr int mostBends = 5;

    const Pose& start() const { return world_.pose[static_cast<std::size_t>(walker_)]; }

    void gatherObstacles(double length)
    {
        for (const LiveShape& shape : std::as_const(world_).shapesOf(walker_)) {
            for (const Hull& part : world_.partsOf(shape)) {
                Bounds near = geometry::boundsOf(geometry::placed(part, start()));
                near.grow(length + 1);
                for (const LiveShape& other : world_.shapes)
                    if (stops(world_, shape, other))
                        gatherParts(part, other, near);
            }
        }
    }

    void gatherParts(const Hull& part, const LiveShape& other, const Bounds& near)
    {
        for (const Hull& one : world_.partsOf(other)) {
            const Hull hull = geometry::placed(one, world_.pose[static_cast<std::size_t>(other.piece)]);
            if (near.overlaps(geometry::boundsOf(hull)))
                obstacles_.push_back({&part, hull});
        }
    }

    Hull placedAt(const Hull& part, const Vec& at) const { return geometry::placed(part, {at, start().turn}); }

    /// Out of what it stands in: the deepest first.
    void pushOut()
    {
        for (int i = 0; i < 8; ++i) {
            Gap deepest{0, {0, 0}, {0, 0}};
            for (const auto& [own, hull] : obstacles_) {
                const Gap gap = geometry::gapBetween(placedAt(*own, at_), hull);
                if (gap.distance < deepest.distance)
                    deepest = gap;
            }
            if (deepest.distance >= 0)
                return;
            at_ += deepest.normal * (deepest.distance - walkerGap);
        }
    }

    /// Goes along `way` up to the first obstacle; what is left of the way runs along it.
    Vec slide(const Vec& way)
    {
        double free = 1;
        Vec normal{0, 0};
        const Pose from{at_, start().turn};
        const Pose to{at_ + way, start().turn};
        for (const auto& [own, hull] : obstacles_) {
            const Gap gap = geometry::gapBetween(placedAt(*own, at_), hull);
            const double closing = glm::dot(way, gap.normal);
            if (gap.distance <= walkerGap + slack) {
                if (closing > 0 && free > 0) {
                    free = 0;
                    normal = gap.normal;
                }
                continue;
            }
            const auto span = geometry::nearSpan(*own, {from, to}, hull, {{}, {}}, walkerGap);
            if (span && span->enter < free) {
                free = span->enter;
                normal = geometry::gapBetween(placedAt(*own, at_ + way * free), hull).normal;
            }
        }
        at_ += way * free;
        if (free == 1)
            return {0, 0};
        Vec rest = way * (1 - free);
        rest -= normal * std::max(0.0, glm::dot(rest, normal));
        // In a corner the way along one solid runs into the other: nothing is left that is free of both.
        if (blockedBy_ != Vec{0, 0} && glm::dot(rest, blockedBy_) > 0)
            rest = {0, 0};
        blockedBy_ = normal;
        return rest;
    }

    static constexpr double slack = 1e-7;

    World& world_;
    PieceIndex walker_;
    Vec at_;
    Vec blockedBy_{0, 0};
    std::vector<Obstacle> obstacles_;
};

} // namespace

void advance(World& world, const std::vector<std::string>& keysDown, double dt, std::vector<Arrival>& arrivals)
{
    arrivals.clear();
    world.beginMotion();
    for (std::size_t i = 0; i < world.pieces.size(); ++i) {
        LivePiece& piece = world.pieces[i];
        if (piece.present && piece.here && !piece.resting && !piece.walks && piece.carrier == world::nobody)
            followOrders(world, static_cast<PieceIndex>(i), dt, arrivals);
    }
    for (std::size_t i = 0; i < world.pieces.size(); ++i) {
        LivePiece& piece = world.pieces[i];
        if (!piece.present || !piece.here || !piece.walks || piece.carrier != world::nobody)
            continue;
        const Vec velocity = steering(piece, keysDown);
        piece.approach = velocity;
        if (velocity != Vec{0, 0})
            piece.facing = std::atan2(velocity.y, velocity.x) * 180 / std::numbers::pi; // V8
        Walk{world, static_cast<PieceIndex>(i)}.go(velocity * dt);
        piece.velocity = (world.pose[i].at - world.before[i].at) / dt;
    }
    world.carry();
    for (const PieceIndex index : world.carried) {
        LivePiece& piece = world.piece(index);
        const Motion motion = world.motionOf(index);
        piece.approach = (motion.to.at - motion.from.at) / dt;
        piece.turning = (motion.to.turn - motion.from.turn) / dt;
        if (piece.walks)
            piece.velocity = piece.approach;
    }
}

} // namespace snare::motion
