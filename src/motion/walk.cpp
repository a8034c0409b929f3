// SPDX-License-Identifier: Apache-2.0
#include "motion/walk.h"

#include "geometry/gap.h"
#include "geometry/impact.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace snare::motion {

using geometry::Bounds;
using geometry::Gap;
using geometry::Hull;
using geometry::Motion;
using geometry::Vec;
using world::LivePiece;
using world::LiveShape;
using world::nobody;
using world::PieceIndex;
using world::Pose;
using world::World;

namespace {

/// How fast the ground takes away what a walker kept of a carrier or a push, m/s².
constexpr double groundDrag = 10;
/// What is left of the speed upwards when the key of the jump is let go early.
constexpr double shortJump = 0.5;

const scene::WalkerBody& bodyOf(const LivePiece& walker)
{
    return std::get<scene::WalkerBody>(walker.body);
}

bool anyDown(const std::vector<std::string>& keys, const std::vector<std::string>& keysDown)
{
    return std::ranges::any_of(
        keys, [&](const std::string& key) { return std::ranges::find(keysDown, key) != keysDown.end(); });
}

/// Up and along, where there is gravity.
struct Axes {
    Vec up{0, 0};
    Vec along{1, 0};

    explicit Axes(const Vec& gravity) : up(geometry::unitOr(-gravity, {0, 0})), along(up.y, -up.x) {}
    bool none() const { return up == Vec{0, 0}; }
};

/// Whether a walker touches a zone that it can climb (V6).
bool isInShrouds(const World& world, const LivePiece& walker, const Pose& pose)
{
    for (const LiveShape& zone : world.shapes()) {
        if (zone.role != scene::Role::zone || zone.group != walker.climbs || !zone.isOn() ||
            !world.piece(zone.piece).meetsPieces())
            continue;
        const Pose& its = world.pose()[static_cast<std::size_t>(zone.piece)];
        for (std::size_t i = walker.firstShape; i < walker.firstShape + walker.shapeCount; ++i) {
            const LiveShape& own = world.shapes()[i];
            if (own.role == scene::Role::solid && own.isOn() && own.partCount > 0 && zone.partCount > 0 &&
                geometry::gapBetween(world.partsOf(own), pose, world.partsOf(zone), its).distance < 0)
                return true;
        }
    }
    return false;
}

/// Grips, holds and lets go (V6).
void grip(const World& world, const LivePiece& walker, world::WalkState& walk, const Pose& pose, double upwards,
          bool upPressed, bool jumpPressed)
{
    if (walker.climbs < 0 || !isInShrouds(world, walker, pose)) {
        walk.climbing = walk.letGo = false;
        return;
    }
    const bool grounded = walker.standsOn != nobody;
    if (walk.climbing && jumpPressed) {
        walk.climbing = false;
        walk.letGo = true;
        return;
    }
    if (upwards != 0 && !(grounded && upwards < 0) && (!walk.letGo || upPressed)) {
        walk.climbing = true;
        walk.letGo = false;
    } else if (grounded && upwards <= 0) {
        walk.climbing = false;
    }
}

} // namespace

void steer(World& world, PieceIndex index, const std::vector<std::string>& keysDown, double dt)
{
    const LivePiece& walker = world.piece(index);
    world::MovingState& moving = world.moving(index);
    world::WalkState& walk = moving.walk;
    const scene::WalkerBody& body = bodyOf(walker);
    const Axes axes{world.gravity()};
    const scene::KeyLists& keys = walker.keys;
    const double sideways = (anyDown(keys.right, keysDown) ? 1 : 0) - (anyDown(keys.left, keysDown) ? 1 : 0);
    const bool up = anyDown(keys.up, keysDown);
    const double upwards = (up ? 1 : 0) - (anyDown(keys.down, keysDown) ? 1 : 0);
    const double gain = body.acceleration ? *body.acceleration * dt : 1e300;

    // What a response gave it since.
    const Vec given = walker.velocity - walk.told;
    const Vec way = axes.none() ? geometry::unitOr({sideways, upwards}, {0, 0}) : axes.along * sideways;
    if (way != Vec{0, 0})
        moving.facing = std::atan2(way.y, way.x) * 180 / std::numbers::pi; // V8
    if (axes.none()) {
        walk.drift = geometry::towards(walk.drift + given, {0, 0}, groundDrag * dt);
        walk.pace = geometry::towards(walk.pace, way * walker.speed, gain);
        moving.approach = walk.pace + walk.drift;
        return;
    }
    const double lift = glm::dot(given, axes.up);
    walk.fall += lift;
    walk.drift += given - axes.up * lift;
    if (lift > 0.01)
        moving.standsOn = nobody;

    const bool jump = anyDown(keys.jump, keysDown);
    const bool jumpPressed = jump && !walk.jumpDown;
    // Where up and jump are one key, climbing wins inside.
    const bool isOneKey = up && std::ranges::any_of(keys.jump, [&](const std::string& key) {
                              return std::ranges::find(keys.up, key) != keys.up.end();
                          });
    const bool upPressed = up && !walk.upDown;
    walk.jumpDown = jump;
    walk.upDown = up;
    const bool climbedBefore = walk.climbing;
    grip(world, walker, walk, world.pose()[static_cast<std::size_t>(index)], upwards, upPressed,
         jumpPressed && !isOneKey);
    walk.pace = geometry::towards(walk.pace, axes.along * (sideways * walker.speed), gain);
    if (walk.climbing) {
        walk.fall = 0;
        walk.drift = {0, 0};
        walk.sincePress = 1e9;
        walk.rising = false;
        moving.standsOn = nobody;
        walk.pace = axes.along * (sideways * walker.speed);
        moving.approach = walk.pace + axes.up * (upwards * body.climbSpeed.value_or(walker.speed));
        return;
    }
    const bool grounded = walker.standsOn != nobody;
    walk.sinceGround = grounded ? 0 : walk.sinceGround + dt;
    walk.sincePress = jumpPressed ? 0 : walk.sincePress + dt;
    const bool canJump = grounded || walk.sinceGround <= body.coyote + 1e-9 || (climbedBefore && walk.letGo);
    if (body.jump > 0 && canJump && walk.sincePress <= body.jumpBuffer + 1e-9 && (jumpPressed || body.jumpBuffer > 0)) {
        Vec carried{0, 0};
        if (grounded) { // V8
            const Motion motion = world.motionOf(walker.standsOn);
            const Vec at = world.pose()[static_cast<std::size_t>(index)].at;
            carried = (geometry::toScene(motion.to, geometry::toLocal(motion.from, at)) - at) / dt;
        }
        walk.fall = body.jump + std::max(0.0, glm::dot(carried, axes.up));
        walk.drift += carried - axes.up * glm::dot(carried, axes.up);
        walk.rising = true;
        walk.sinceGround = walk.sincePress = 1e9;
        moving.standsOn = nobody;
    }
    if (walker.standsOn != nobody) {
        walk.fall = 0;
        walk.drift = geometry::towards(walk.drift, {0, 0}, groundDrag * dt);
    } else {
        if (walk.rising && !jump && walk.fall > 0)
            walk.fall *= shortJump;
        walk.rising = walk.rising && jump && walk.fall > 0;
        walk.fall -= glm::length(world.gravity()) * walker.gravity * dt; // V2
    }
    moving.approach = walk.pace + walk.drift + axes.up * walk.fall;
}

namespace {

/// A part of the walker and a part of a solid in its way, which is placed.
struct Obstacle {
    const Hull* own;
    const Hull* part;
    Hull hull; ///< where it is now
    PieceIndex piece;
};

/// Carries one walker along its way, around what stops it.
class Walk {
  public:
    Walk(World& world, Solids& solids, PieceIndex walker, double dt)
        : world_(world), solids_(solids), index_(walker), walker_(world.piece(walker)), moving_(world.moving(walker)),
          axes_(world.gravity()), body_(bodyOf(walker_)), at_(start().at), dt_(dt),
          flattest_(std::cos(body_.slope * std::numbers::pi / 180) - 1e-9)
    {
    }

    void go()
    {
        const Vec wish = moving_.approach * dt_;
        const Vec carried = carriedWay();
        gatherObstacles(glm::length(wish) + glm::length(carried));
        if (carried != Vec{0, 0})
            slideFreely(carried, moving_.standsOn);
        const Vec beforePushes = at_;
        shove();
        pushOut();
        const Vec pushed = at_ - beforePushes;
        if (axes_.none() || moving_.walk.climbing)
            axes_.none() ? slideFreely(wish) : climb(wish);
        else
            goOverGround(carried);
        pushOut();
        moving_.approach += carried / dt_;
        // Whatever pushes it has met it before: it comes as fast as it was pushed then (M10).
        const Vec away = geometry::unitOr(pushed, {0, 0});
        moving_.approach += away * std::max(0.0, glm::dot(moving_.walk.told - moving_.approach, away));
        world_.moveTo(index_, {at_, start().turn, start().z});
        moving_.velocity = (at_ - world_.before()[static_cast<std::size_t>(index_)].at) / dt_;
        moving_.walk.told = moving_.velocity;
    }

  private:
    static constexpr int mostBends = 5;
    static constexpr double slack = 1e-7;

    const Pose& start() const { return world_.pose()[static_cast<std::size_t>(index_)]; }
    Hull placedAt(const Hull& part, const Vec& at) const { return geometry::placed(part, {at, start().turn}); }

    /// How what it stands on moved it in this tick (V4).
    Vec carriedWay() const
    {
        if (moving_.standsOn == nobody || !world_.piece(moving_.standsOn).meetsPieces())
            return {0, 0};
        const Motion motion = world_.motionOf(moving_.standsOn);
        if (motion.rests())
            return {0, 0};
        const Vec foot = start().at - axes_.up * (glm::dot(start().at, axes_.up) - lowest());
        return geometry::toScene(motion.to, geometry::toLocal(motion.from, foot)) - foot;
    }

    /// The height of its lowest point.
    double lowest() const
    {
        double low = 1e300;
        for (const LiveShape& shape : std::as_const(world_).shapesOf(index_)) {
            if (shape.role != scene::Role::solid)
                continue;
            for (const Hull& part : world_.partsOf(shape)) {
                const Hull hull = placedAt(part, at_);
                for (const Vec& corner : hull.corners())
                    low = std::min(low, glm::dot(corner, axes_.up) - part.radius);
            }
        }
        return low;
    }

    void gatherObstacles(double length)
    {
        solids_.placePiece(world_, index_, {start(), start()}, length + body_.step + 1);
        for (const LiveShape& shape : std::as_const(world_).shapesOf(index_))
            for (std::uint32_t part = shape.firstPart; part < shape.firstPart + shape.partCount; ++part)
                if (solids_.holds(static_cast<int>(part)))
                    solids_.visitNear(static_cast<int>(part), [&](int other) {
                        const LiveShape& its = world_.shapes()[static_cast<std::size_t>(solids_.shapeOf(other))];
                        if (!stopEachOther(world_, shape, its))
                            return;
                        const Hull& hull = world_.parts()[static_cast<std::size_t>(other)];
                        obstacles_.push_back(
                            {&world_.parts()[part], &hull,
                             geometry::placed(hull, world_.pose()[static_cast<std::size_t>(its.piece)]), its.piece});
                    });
        // The grid gives them in no order of the scene.
        std::ranges::sort(obstacles_, [](const Obstacle& a, const Obstacle& b) {
            return a.own != b.own ? a.own < b.own : a.part < b.part;
        });
    }

    /// What moved against it takes it along, as far as something else does not stop it.
    void shove()
    {
        for (const Obstacle& obstacle : obstacles_) {
            if (obstacle.piece == moving_.standsOn)
                continue;
            const Motion motion = world_.motionOf(obstacle.piece);
            if (motion.rests())
                continue;
            const Pose here{at_, start().turn};
            const auto span = geometry::nearSpan(*obstacle.own, {here, here}, *obstacle.part, motion, walkerGap);
            if (!span)
                continue;
            const Pose then = motion.at(span->enter);
            const Gap gap = geometry::gapBetween(placedAt(*obstacle.own, at_), geometry::placed(*obstacle.part, then));
            const Vec rest = geometry::toScene(motion.to, geometry::toLocal(then, gap.point)) - gap.point;
            const double closing = -glm::dot(rest, gap.normal);
            if (closing > 0)
                slideFreely(gap.normal * -closing, obstacle.piece);
        }
    }

    /// Out of what it stands in: the deepest first.
    void pushOut()
    {
        for (int i = 0; i < 8; ++i) {
            Gap deepest{0, {0, 0}, {0, 0}};
            for (const Obstacle& obstacle : obstacles_) {
                const Gap gap = geometry::gapBetween(placedAt(*obstacle.own, at_), obstacle.hull);
                if (gap.distance < deepest.distance)
                    deepest = gap;
            }
            if (deepest.distance >= 0)
                return;
            at_ += deepest.normal * (deepest.distance - walkerGap);
        }
    }

    /// The first obstacle on a way.
    struct Stop {
        double free = 1;
        Vec normal{0, 0}; ///< towards the obstacle
        const Obstacle* obstacle = nullptr;
        double footing = 0; ///< cosine of the slope of what it could stand on there
        double height = 0;  ///< of the point where it stops
    };

    Stop firstStop(const Vec& way, PieceIndex passing = nobody) const
    {
        Stop stop;
        const Pose from{at_, start().turn};
        const Pose to{at_ + way, start().turn};
        const double alongside = glm::length(way) * 1e-9; // what closes no more than this goes past
        for (const Obstacle& obstacle : obstacles_) {
            if (obstacle.piece == passing)
                continue;
            const Gap gap = geometry::gapBetween(placedAt(*obstacle.own, at_), obstacle.hull);
            const double closing = glm::dot(way, gap.normal);
            if (gap.distance <= walkerGap + slack) {
                if (closing <= alongside)
                    continue;
                // Where two parts meet in a corner, the one that it can stand on counts.
                const double more = stop.free > 0 ? closing : closing - glm::dot(way, stop.normal);
                const double footing = footingOf(gap, obstacle);
                if (more > alongside || (more > -alongside && footing > stop.footing))
                    stop = {0, gap.normal, &obstacle, footing, glm::dot(gap.point, axes_.up)};
                continue;
            }
            if (stop.free == 0)
                continue;
            const auto span = geometry::nearSpan(*obstacle.own, {from, to}, obstacle.hull, {{}, {}}, walkerGap);
            constexpr double together = 1e-9;
            if (!span || span->enter > stop.free + together)
                continue;
            const Gap then = geometry::gapBetween(placedAt(*obstacle.own, at_ + way * span->enter), obstacle.hull);
            const double footing = footingOf(then, obstacle);
            if (span->enter < stop.free - together || !stop.obstacle || footing > stop.footing)
                stop = {std::min(stop.free, span->enter), then.normal, &obstacle, footing,
                        glm::dot(then.point, axes_.up)};
        }
        return stop;
    }

    /// How level the ground is at a point: at a corner that is not too high to step on, that of its
    /// flattest side.
    double footingOf(const Gap& gap, const Obstacle& obstacle) const
    {
        double footing = -glm::dot(gap.normal, axes_.up);
        const auto corners = obstacle.hull.corners();
        if (axes_.none() || corners.size() < 2 || obstacle.hull.radius > 0 || footing < 0 ||
            glm::dot(gap.point, axes_.up) > lowest() + body_.step + walkerGap)
            return footing;
        for (std::size_t i = 0; i < corners.size(); ++i) {
            if (geometry::squaredLength(corners[i] - gap.point) > 1e-12)
                continue;
            for (const std::size_t step : {std::size_t{1}, corners.size() - 1}) {
                const Vec along = geometry::unitOr(corners[(i + step) % corners.size()] - corners[i], {1, 0});
                footing = std::max(footing, std::abs(glm::dot(along, axes_.along)));
            }
        }
        return footing;
    }

    bool canStand(double footing) const { return footing >= flattest_; }

    /// Goes along a way and along what stops it, in any direction.
    void slideFreely(Vec way, PieceIndex passing = nobody)
    {
        Vec blockedBy{0, 0};
        for (int i = 0; i < mostBends && geometry::squaredLength(way) > 1e-20; ++i) {
            const Stop stop = firstStop(way, passing);
            at_ += way * stop.free;
            if (!stop.obstacle)
                return;
            way *= 1 - stop.free;
            way -= stop.normal * std::max(0.0, glm::dot(way, stop.normal));
            // In a corner the way along one solid runs into the other: nothing is left that is free
            // of both.
            if (blockedBy != Vec{0, 0} && glm::dot(way, blockedBy) > 0)
                return;
            blockedBy = stop.normal;
        }
    }

    /// Up and down only where it is free and there is something to hold on to (V6).
    void climb(const Vec& wish)
    {
        const double rise = glm::dot(wish, axes_.up);
        slideFreely(wish - axes_.up * rise);
        const Vec before = at_;
        slideFreely(axes_.up * rise);
        for (int halves = 0; rise > 0 && halves < 6 && !isInShrouds(world_, walker_, {at_, start().turn, start().z});
             ++halves)
            at_ = before + (at_ - before) * (halves < 5 ? 0.5 : 0.0);
        moving_.standsOn = nobody;
        if (rise < 0 && at_ != before + axes_.up * rise)
            findGround();
    }

    void goOverGround(const Vec& carried)
    {
        world::WalkState& walk = moving_.walk;
        const bool grounded = moving_.standsOn != nobody;
        const Vec across = walk.pace + walk.drift;
        if (grounded) {
            findGround();
            const Vec slope = moving_.standsOn == nobody ? axes_.along : Vec{-ground_.y, ground_.x};
            const double sign = glm::dot(slope, axes_.along) < 0 ? -1 : 1;
            walkAlong(slope * (sign * glm::dot(across, axes_.along) * dt_), true);
            stepDown();
        } else {
            walkAlong(across * dt_, false);
            fall();
        }
        findGround();
        if (moving_.standsOn != nobody) {
            walk.fall = 0;
            walk.rising = false;
            if (!grounded)
                walk.drift = {0, 0};
        } else if (grounded) { // V8: it walked off
            walk.fall = std::min(0.0, glm::dot(carried, axes_.up) / dt_);
            walk.drift = (carried - axes_.up * glm::dot(carried, axes_.up)) / dt_;
            walk.sinceGround = 0;
        }
    }

    /// Along the ground or through the air: up what is not too steep, over steps if it stands.
    void walkAlong(Vec way, bool standing)
    {
        for (int i = 0; i < mostBends && geometry::squaredLength(way) > 1e-20; ++i) {
            const Stop stop = firstStop(way);
            at_ += way * stop.free;
            if (!stop.obstacle)
                return;
            way *= 1 - stop.free;
            if (canStand(stop.footing)) { // on along the slope
                const Vec rest = way - stop.normal * glm::dot(way, stop.normal);
                way = geometry::unitOr(rest, {0, 0}) * glm::length(way);
            } else if (standing && stepOver(way)) {
                return;
            } else if (glm::dot(stop.normal, axes_.up) > 0) { // something hangs over it: below it, if there is room
                way -= stop.normal * glm::dot(way, stop.normal);
                if (glm::dot(way, axes_.up) > 0)
                    return;
            } else {
                moving_.walk.pace = {0, 0};
                return;
            }
        }
    }

    /// Tries a step: up, on, and down again; true if that brings it on.
    bool stepOver(const Vec& way)
    {
        if (body_.step <= 0)
            return false;
        const Vec before = at_;
        const double level = glm::dot(before, axes_.up);
        const double highestStep = lowest() + body_.step + walkerGap;
        const Vec across = axes_.along * glm::dot(way, axes_.along);
        at_ += axes_.up * (body_.step * firstStop(axes_.up * body_.step).free);
        const double on = firstStop(across).free;
        at_ += across * on;
        const double drop = glm::dot(at_, axes_.up) - level;
        const Stop down = firstStop(-axes_.up * drop);
        at_ -= axes_.up * (drop * down.free);
        if (on > 0.01 && down.obstacle && canStand(down.footing) && down.height <= highestStep)
            return true;
        at_ = before;
        return false;
    }

    /// Stays on the ground where that goes down.
    void stepDown()
    {
        const double reach = body_.step + walkerGap;
        const Stop stop = firstStop(-axes_.up * reach);
        if (stop.obstacle && canStand(stop.footing))
            at_ -= axes_.up * (reach * stop.free);
    }

    /// Up or down through the air.
    void fall()
    {
        world::WalkState& walk = moving_.walk;
        Vec way = axes_.up * (walk.fall * dt_);
        for (int i = 0; i < mostBends && geometry::squaredLength(way) > 1e-20; ++i) {
            const Stop stop = firstStop(way);
            at_ += way * stop.free;
            if (!stop.obstacle)
                return;
            if (walk.fall > 0) {
                walk.fall = 0; // against a ceiling
                return;
            }
            if (canStand(stop.footing))
                return;
            way *= 1 - stop.free;
            way -= stop.normal * glm::dot(way, stop.normal);
            // Down a slope that is too steep to stand on it gets no faster than along it.
            walk.fall *= std::clamp(1 - std::pow(glm::dot(stop.normal, -axes_.up), 2), 0.0, 1.0);
            if (glm::dot(way, axes_.up) > 0)
                return;
        }
    }

    /// What is below it within reach (V5): the flattest of those that are equally near.
    void findGround()
    {
        moving_.standsOn = nobody;
        if (moving_.walk.fall > 0 || moving_.walk.climbing)
            return;
        const double reach = body_.groundReach;
        double nearest = 1;
        double flattest = flattest_;
        const Pose from{at_, start().turn};
        const Pose to{at_ - axes_.up * reach, start().turn};
        for (const Obstacle& obstacle : obstacles_) {
            Gap gap = geometry::gapBetween(placedAt(*obstacle.own, at_), obstacle.hull);
            double when = 0;
            if (gap.distance > walkerGap + slack) {
                const auto span = geometry::nearSpan(*obstacle.own, {from, to}, obstacle.hull, {{}, {}}, walkerGap);
                if (!span)
                    continue;
                when = span->enter;
                gap = geometry::gapBetween(placedAt(*obstacle.own, at_ - axes_.up * (reach * when)), obstacle.hull);
            }
            const double footing = footingOf(gap, obstacle);
            if (!canStand(footing) || when > nearest || (when == nearest && footing <= flattest))
                continue;
            nearest = when;
            flattest = footing;
            moving_.standsOn = obstacle.piece;
            // At a corner the ground is as level as the walker can stand there.
            ground_ = canStand(-glm::dot(gap.normal, axes_.up)) ? -gap.normal : axes_.up;
        }
    }

    World& world_;
    Solids& solids_;
    PieceIndex index_;
    const LivePiece& walker_;
    world::MovingState& moving_;
    Axes axes_;
    const scene::WalkerBody& body_;
    Vec at_;
    double dt_;
    double flattest_;  ///< cosine of the steepest slope that it walks up
    Vec ground_{0, 1}; ///< unit, out of what it stands on
    std::vector<Obstacle> obstacles_;
};

} // namespace

void walk(World& world, Solids& solids, PieceIndex walker, double dt)
{
    Walk{world, solids, walker, dt}.go();
}

} // namespace snare::motion
