// SPDX-License-Identifier: Apache-2.0
// How pieces are expected to go on, the fat AABBs of their shapes (the broad phase), and who is
// looked at in a tick.
#include "detect/detection.h"
#include "detect/limits.h"

#include "geometry/impact.h"
#include "geometry/memory.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace snare::detect {

using geometry::Bounds;
using geometry::Motion;
using geometry::Pose;
using world::LivePiece;
using world::LiveShape;

namespace {

/// A shape that is large for its speed, and does not turn, has room for up to so many times as long
/// as others.
constexpr double mostStretched = 8;

/// How many times as long a shape of a size may have room for: in that time it goes a quarter of
/// its size.
double stretchOf(double size, const Vec& step)
{
    const double speed = std::max(std::abs(step.x), std::abs(step.y));
    return std::clamp(size * 0.25 / (speed * mostAhead), 1.0, mostStretched);
}

/// What a piece may be off its course, as a part of its smallest shape's size, but no more than of
/// this, m.
constexpr double leewayPart = 0.002;
constexpr double mostSize = 1e12;

} // namespace

/// Whether a piece is where its course says, and went there evenly.
bool Detection::keepsItsCourse(const World& world, PieceIndex index) const
{
    const auto i = static_cast<std::size_t>(index);
    const Course& course = courses_[i];
    const Pose& to = world.pose()[i];
    double turned = 0;
    if (world.howMoved(static_cast<PieceIndex>(i)) == World::Moved::turnedOrRose) {
        const Pose& from = world.before()[i];
        turned = to.turn - from.turn;
        if (from.z != to.z)
            return false;
        if (turned != 0 && course.turns == 0)
            return false; // however little: it would add up
    }
    double allowed = course.leeway;
    if (course.turns != 0) {
        // Each tick may add up to a whole course.
        const Spin& spin = spins_[i];
        const double turnedOff = std::abs(turned - spin.step) * radiansPerDegree * spin.radius;
        allowed -= turnedOff * mostAhead;
        if (allowed < 0)
            return false;
    }
    return geometry::squaredLength(to.at - course.placeIn(round_)) <= allowed * allowed;
}

/// From now on the piece is expected to go on as it did in this tick; all its shapes are looked at.
void Detection::setCourse(const World& world, PieceIndex index)
{
    const auto i = static_cast<std::size_t>(index);
    const Motion motion = world.motionOf(index);
    Course& course = courses_[i];
    const Vec step = motion.to.at - motion.from.at;
    course.at = motion.to.at;
    course.stepX = static_cast<float>(step.x);
    course.stepY = static_cast<float>(step.y);
    course.turns = motion.turns() ? 1 : 0;
    course.since = round_ & mostCount;
    double farthest = 0;
    double smallest = std::numeric_limits<double>::infinity();
    for (std::uint32_t shape = world.shapeStarts()[i]; shape < world.shapeStarts()[i + 1]; ++shape) {
        due_[shape] = round_;
        if (!known_[shape].takesPart)
            continue;
        Bounds bounds;
        for (const geometry::Hull& part : world.partsOf(world.shapes()[shape])) {
            farthest = std::max(farthest, geometry::boundingRadius(part) + part.radius);
            bounds.include(geometry::boundsOf(part));
        }
        smallest = std::min({smallest, std::max(bounds.size().x, bounds.size().y), mostSize});
        setPlain(world, static_cast<int>(shape));
    }
    spins_[i] = {static_cast<float>(motion.to.turn - motion.from.turn), static_cast<float>(farthest * (1 + rounding))};
    course.leeway = course.rests() || farthest == 0 ? 0 : static_cast<float>(smallest * leewayPart);
}

void Detection::setPlain(const World& world, int index)
{
    KnownShape& known = known_[static_cast<std::size_t>(index)];
    const LiveShape& shape = shapeAt(world, index);
    known.plain = false;
    if (shape.partCount != 1 || shape.margin != 0 || shape.band.limited() || courseOf(known).turns != 0)
        return;
    const double turn = world.pose()[static_cast<std::size_t>(shape.piece)].turn;
    const auto plain = geometry::plainOf(world.partsOf(shape).front(), turn);
    const double size = plain ? std::max({plain->half.x, plain->half.y, plain->radius}) : 0;
    if (!plain || plain->middle != Vec{0, 0} || size > mostSize)
        return;
    known.plain = true;
    known.halfX = static_cast<float>(plain->half.x * (1 + rounding));
    known.halfY = static_cast<float>(plain->half.y * (1 + rounding));
    known.radius = static_cast<float>(plain->radius * (1 + rounding));
}

/// What a shape covers at the end of this tick, with all that it may be off its course.
Bounds Detection::placeNow(const World& world, int index) const
{
    const KnownShape& known = known_[static_cast<std::size_t>(index)];
    if (known.plain) {
        const Course& course = courseOf(known);
        const Vec at = course.placeIn(round_);
        const Vec half = Vec(known.halfX, known.halfY) + Vec(known.radius, known.radius);
        const double off = stopEnds * 0.5 + closed + 3.0 * course.leeway;
        return {at - half - off, at + half + off};
    }
    const LiveShape& shape = shapeAt(world, index);
    const Course& course = courses_[static_cast<std::size_t>(shape.piece)];
    const Pose& pose = world.pose()[static_cast<std::size_t>(shape.piece)];
    Bounds bounds;
    if (course.turns != 0) { // it covers as much whichever way it is turned
        bounds.include(pose.at);
        bounds.grow(spins_[static_cast<std::size_t>(shape.piece)].radius);
    } else {
        for (const geometry::Hull& part : world.partsOf(shape))
            bounds.include(geometry::sweptBounds(part, {pose, pose}));
    }
    // Each of two reaches half way.
    const double margin = shape.role == scene::Role::zone ? shape.margin : 0;
    bounds.grow(std::max(stopEnds * 0.5, margin) + closed + 2.0 * course.leeway);
    return bounds;
}

/// Sees to it that the fat AABB of a shape in the grid has room ahead of it, and notes when it will
/// have left it.
void Detection::refit(const World& world, int index)
{
    const KnownShape& known = known_[static_cast<std::size_t>(index)];
    std::uint32_t& due = due_[static_cast<std::size_t>(index)];
    due = never;
    if (!known.takesPart)
        return;
    const Course& course = courseOf(known);
    const Bounds now = placeNow(world, index);
    const Vec step = course.step();
    const Vec low = glm::min(now.low, now.low - step);
    const Vec high = glm::max(now.high, now.high - step);
    const double size = std::max(high.x - low.x, high.y - low.y);
    const double stretch = course.turns == 0 && !course.rests() ? stretchOf(size, step) : 1;
    if (grid_.holds(index)) {
        const Box& fat = grid_.boxOf(index);
        double ahead = mostAhead * stretch;
        for (const int axis : {0, 1}) {
            const double fatLow = axis == 0 ? fat.lowX : fat.lowY;
            const double fatHigh = axis == 0 ? fat.highX : fat.highY;
            if (low[axis] < fatLow || high[axis] > fatHigh)
                ahead = 0;
            else if (step[axis] > 0)
                ahead = std::min(ahead, (fatHigh - high[axis]) / step[axis]);
            else if (step[axis] < 0)
                ahead = std::min(ahead, (low[axis] - fatLow) / -step[axis]);
        }
        // What left its course just now will do so again.
        const double enough = round_ == course.since ? 1 : 6;
        if (ahead >= enough) {
            if (!course.rests())
                due = round_ + static_cast<std::uint32_t>(ahead);
            return;
        }
    }
    // Not the same for all, so that they do not all look in the same tick; but the same for
    // neighbours, who look at the same others then.
    int exponent = 0;
    std::frexp(size, &exponent);
    const auto tileOf = [&](double at) {
        constexpr int tile = 5; // so many times as large, as a power of two
        return static_cast<std::uint32_t>(
            static_cast<std::int64_t>(std::clamp(std::floor(std::ldexp(at, -exponent - tile)), -1e15, 1e15)));
    };
    constexpr std::uint32_t shortest = 15; // ticks
    constexpr std::uint32_t rounds = 48;
    const std::uint32_t turn = (tileOf(low.x) * 73856093U ^ tileOf(low.y) * 19349663U) % rounds;
    const std::uint32_t longest =
        std::max(3U, 2 * (round_ - course.since)); // the longer it was kept, the longer it may be
    const std::uint32_t inTurn = shortest + (turn + rounds - (round_ + shortest) % rounds) % rounds;
    const std::uint32_t ahead = std::min(longest, static_cast<std::uint32_t>(inTurn * stretch));
    const Vec way = step * static_cast<double>(ahead);
    // It lies among those that it would lie among with the most room, so that its neighbours need
    // not be looked for in several orders of size.
    const double most = std::min(static_cast<double>(longest), mostAhead) * stretch;
    const double least = std::max(2.5 * size, most * std::max(std::abs(step.x), std::abs(step.y)));
    grid_.place(index, Box{Bounds{glm::min(low, now.low + way), glm::max(high, now.high + way)}},
                static_cast<float>(least));
    if (!course.rests())
        due = round_ + ahead;
}

/// Shapes of pieces that left their course or that something happened to, and those that are due.
void Detection::findDue(World& world, bool atStart)
{
    const bool anew = atStart || known_.empty();
    grid_.resize(world.shapes().size());
    known_.resize(world.shapes().size());
    due_.resize(world.shapes().size(), never);
    courses_.resize(world.pieces().size());
    spins_.resize(world.pieces().size());
    looked_.reserve(world.shapes().size());
    previous_.reserve(world.pieces().size());
    ++round_;
    const auto refreshAll = [&](PieceIndex piece) {
        for (std::uint32_t shape = world.shapeStarts()[static_cast<std::size_t>(piece)];
             shape < world.shapeStarts()[static_cast<std::size_t>(piece) + 1]; ++shape)
            refresh(world, static_cast<int>(shape));
        setCourse(world, piece);
    };
    if (anew) {
        for (std::size_t piece = 0; piece < world.pieces().size() && !isCancelled(); ++piece)
            refreshAll(static_cast<PieceIndex>(piece));
    } else {
        for (const int shape : world.changed())
            if (const PieceIndex piece = shapeAt(world, shape).piece;
                courses_[static_cast<std::size_t>(piece)].since != round_)
                refreshAll(piece);
        for (std::size_t i = 0; i < world.moved().size(); ++i) {
            constexpr std::size_t ahead = 16;
            const auto later = static_cast<std::size_t>(world.moved()[std::min(i + ahead, world.moved().size() - 1)]);
            geometry::prefetch(&courses_[later]);
            geometry::prefetch(&world.pose()[later]);
            if (!keepsItsCourse(world, world.moved()[i]))
                setCourse(world, world.moved()[i]);
        }
        for (const PieceIndex piece : previous_)
            if (world.howMoved(piece) == World::Moved::no && !courses_[static_cast<std::size_t>(piece)].rests())
                setCourse(world, piece); // it has come to rest
    }
    previous_.assign(world.moved().begin(), world.moved().end());
    looked_.clear();
    std::ranges::fill(isLookedAt_, 0);
    isLookedAt_.resize((due_.size() + 63) / 64);
    for (std::size_t shape = 0; shape < due_.size(); ++shape)
        if (due_[shape] <= round_) {
            known_[shape].round = round_;
            isLookedAt_[shape / 64] |= std::uint64_t{1} << shape % 64;
            looked_.push_back(static_cast<int>(shape));
        }
}

void Detection::refresh(const World& world, int index)
{
    const LiveShape& shape = shapeAt(world, index);
    const LivePiece& piece = world.piece(shape.piece);
    KnownShape& known = known_[static_cast<std::size_t>(index)];
    known.piece = shape.piece;
    known.group = shape.group & 0x7FFFFF;
    known.takesPart = takesPart(world, index);
    known.resting = piece.resting;
    known.zone = shape.role == scene::Role::zone;
    grid_.remove(index);
}

} // namespace snare::detect
