// SPDX-License-Identifier: Apache-2.0
/// The narrow phase of detection: what a tick made of two shapes that are near each other, as
/// closely as it needs, and in which tick that could change again.
#include "detect/detection.h"
#include "detect/limits.h"

#include "geometry/gap.h"
#include "geometry/impact.h"

#include <algorithm>
#include <cmath>

namespace snare::detect {

using geometry::Motion;
using geometry::Pose;
using geometry::Span;
using scene::Contact;
using world::LiveShape;

namespace {

struct Hysteresis {
    double begin;
    double end;
};

constexpr Hysteresis stopHysteresis{stopBegins + closed, stopEnds + closed};

Hysteresis hysteresisOf(const LiveShape& a, const LiveShape& b, Manner manner)
{
    if (manner == Manner::stop)
        return stopHysteresis;
    const auto margin = [](const LiveShape& shape) { return shape.role == scene::Role::zone ? shape.margin : 0.0; };
    return {0, std::max(margin(a), margin(b))};
}

} // namespace

/// The narrow phase of a pair of which all that it takes is known, without reading the world unless
/// something could have changed. False if this is no such pair; then nothing is done.
bool Detection::narrowPhaseAxial(const World& world, int indexOfA, int indexOfB)
{
    const KnownShape& a = known_[static_cast<std::size_t>(indexOfA)];
    const KnownShape& b = known_[static_cast<std::size_t>(indexOfB)];
    if (!a.plain || !b.plain)
        return false;
    const Course& courseOfA = courseOf(a);
    const Course& courseOfB = courseOf(b);
    // Who left its course, or had something happen to it, may have come from elsewhere.
    if (courseOfA.since == round_ || courseOfB.since == round_ || (courseOfA.rests() && courseOfB.rests()))
        return false;
    const Contact contact = contactOf(world, indexOfA, indexOfB);
    if (contact == Contact::pass)
        return true;
    const Vec atA = courseOfA.placeIn(round_);
    const Vec atB = courseOfB.placeIn(round_);
    // They are where their courses say up to the leeway, now and then.
    const double off = 2 * (static_cast<double>(courseOfA.leeway) + courseOfB.leeway) + 2 * closed +
                       (std::abs(atA.x) + std::abs(atA.y) + std::abs(atB.x) + std::abs(atB.y)) * 1e-14;
    const Hysteresis hysteresis = contact == Contact::stop ? stopHysteresis : Hysteresis{0, 0};
    const Vec half{static_cast<double>(a.halfX) + b.halfX, static_cast<double>(a.halfY) + b.halfY};
    const double radius = static_cast<double>(a.radius) + b.radius;
    const auto windowOf = [&](double within) {
        return geometry::plainWindow(atB - atA, courseOfB.step() - courseOfA.step(), half, radius + within);
    };
    int link = a.first >= 0 && b.first >= 0 ? graph_.between(known_, indexOfA, indexOfB) : -1;
    bool isTold = false;
    if (link < 0) {
        const geometry::Window window = windowOf(hysteresis.begin + off); // it is not nearer outside of this
        if (window.empty() || window.to <= -1)
            return true;
        if (window.from > 0) {
            schedule(indexOfA, indexOfB, window.from);
            return true;
        }
        sweepPair(world, indexOfA, indexOfB, -1, contact, false);
        isTold = true;
        link = graph_.between(known_, indexOfA, indexOfB);
        if (link < 0) {
            if (window.to > 0)
                schedule(indexOfA, indexOfB, 0);
            return true;
        }
    }
    // The sizes are rounded up.
    const geometry::Window window = windowOf(hysteresis.end - off - (half.x + half.y + radius) * 2 * rounding);
    graph_.at(link).seen = count_;
    if (!isTold && !(window.from <= -1 && window.to > 0))
        sweepPair(world, indexOfA, indexOfB, link, contact, false);
    schedule(indexOfA, indexOfB, window.from <= 0 && window.to > 0 ? window.to : 0);
    return true;
}

/// Two shapes in their narrow phase.
struct Detection::NarrowPair {
    int indexOfA;
    int indexOfB;
    const LiveShape& a;
    const LiveShape& b;
    const Course& courseOfA;
    const Course& courseOfB;
    Motion motionOfA;
    Motion motionOfB;
    Contact contact;
    bool atStart;
    bool mustFollow; ///< more may have changed than where they are
    int link;        ///< their meeting, or -1

    /// How far their courses may be off, m: they are where these say up to the leeway, now and
    /// then.
    double leeway() const
    {
        const Vec& atA = motionOfA.to.at;
        const Vec& atB = motionOfB.to.at;
        return 2 * (static_cast<double>(courseOfA.leeway) + courseOfB.leeway) + closed +
               (std::abs(atA.x) + std::abs(atA.y) + std::abs(atB.x) + std::abs(atB.y)) * 1e-14;
    }
};

/// The narrow phase of a pair, as closely as it needs: what this tick changed, and when it could
/// change again.
void Detection::narrowPhase(const World& world, int indexOfA, int indexOfB, bool atStart)
{
    const Contact contact = contactOf(world, indexOfA, indexOfB);
    if (contact == Contact::pass)
        return;
    const LiveShape& a = shapeAt(world, indexOfA);
    const LiveShape& b = shapeAt(world, indexOfB);
    NarrowPair pair{indexOfA,
                    indexOfB,
                    a,
                    b,
                    courses_[static_cast<std::size_t>(a.piece)],
                    courses_[static_cast<std::size_t>(b.piece)],
                    world.motionOf(a.piece),
                    world.motionOf(b.piece),
                    contact,
                    atStart,
                    false,
                    graph_.between(known_, indexOfA, indexOfB)};
    const Motion& motionOfA = pair.motionOfA;
    const Motion& motionOfB = pair.motionOfB;
    const bool hasHeights = a.band.limited() || b.band.limited();
    const bool rises = hasHeights && (motionOfA.from.z != motionOfA.to.z || motionOfB.from.z != motionOfB.to.z);
    pair.mustFollow = atStart || rises || a.changed != Cause::moved || b.changed != Cause::moved;
    // Above each other, they are until one rises.
    const bool isLevel =
        !hasHeights ||
        !geometry::heightWindow(a.band, {motionOfA.to, motionOfA.to}, b.band, {motionOfB.to, motionOfB.to}).empty();
    if (rises || !isLevel || (pair.courseOfA.rests() && pair.courseOfB.rests())) {
        sweepIf(world, pair, true);
        if (rises)
            schedule(indexOfA, indexOfB, 0);
        return;
    }
    const bool isStraight = world.partsOf(a).size() == 1 && world.partsOf(b).size() == 1 && !motionOfA.turns() &&
                            !motionOfB.turns() && pair.courseOfA.turns == 0 && pair.courseOfB.turns == 0;
    if (isStraight)
        narrowStraight(world, pair);
    else
        narrowTurning(world, pair);
}

void Detection::sweepIf(const World& world, NarrowPair& pair, bool wanted)
{
    if (wanted) {
        sweepPair(world, pair.indexOfA, pair.indexOfB, pair.link, pair.contact, pair.atStart);
        pair.link = graph_.between(known_, pair.indexOfA, pair.indexOfB);
    } else if (pair.link >= 0) {
        graph_.at(pair.link).seen = count_;
    }
}

/// Two convex shapes that do not turn: when they come near, and go, is known to the end of their
/// courses.
void Detection::narrowStraight(const World& world, NarrowPair& pair)
{
    const Hysteresis hysteresis =
        hysteresisOf(pair.a, pair.b, pair.contact == Contact::stop ? Manner::stop : Manner::sense);
    const double off = pair.leeway();
    const auto goingOn = [](const Pose& now, const Course& course) {
        return Motion{now, {now.at + course.step(), now.turn, now.z}};
    };
    const auto windowOf = [&](double within) {
        return geometry::straightWindow(world.partsOf(pair.a).front(), goingOn(pair.motionOfA.to, pair.courseOfA),
                                        world.partsOf(pair.b).front(), goingOn(pair.motionOfB.to, pair.courseOfB),
                                        within);
    };
    bool isTold = false;
    if (pair.link < 0) {
        const geometry::Window window = windowOf(hysteresis.begin + off); // it is not nearer outside of this
        isTold = pair.mustFollow || (!window.empty() && window.from <= 0 && window.to > -1);
        sweepIf(world, pair, isTold);
        if (pair.link < 0) {
            if (!window.empty() && window.to > 0)
                schedule(pair.indexOfA, pair.indexOfB, std::max(0.0, window.from));
            return;
        }
    }
    const geometry::Window window = windowOf(hysteresis.end - off); // and surely nearer within this
    if (!isTold)
        sweepIf(world, pair, pair.mustFollow || !(window.from <= -1 && window.to > 0));
    schedule(pair.indexOfA, pair.indexOfB, window.from <= 0 && window.to > 0 ? window.to : 0);
}

/// Shapes that turn or have several parts. As far as they came in this tick, they cannot have
/// changed; as fast as they go, they will not.
void Detection::narrowTurning(const World& world, NarrowPair& pair)
{
    const Hysteresis hysteresis =
        hysteresisOf(pair.a, pair.b, pair.contact == Contact::stop ? Manner::stop : Manner::sense);
    const double off = pair.leeway();
    const Motion& motionOfA = pair.motionOfA;
    const Motion& motionOfB = pair.motionOfB;
    const geometry::Gap gap =
        geometry::gapBetween(world.partsOf(pair.a), motionOfA.to, world.partsOf(pair.b), motionOfB.to);
    const Spin& spinOfA = spins_[static_cast<std::size_t>(pair.a.piece)];
    const Spin& spinOfB = spins_[static_cast<std::size_t>(pair.b.piece)];
    const auto swing = [](double degrees, const Spin& spin) {
        return std::abs(degrees) * radiansPerDegree * spin.radius;
    };
    const double came = glm::length((motionOfA.to.at - motionOfA.from.at) - (motionOfB.to.at - motionOfB.from.at)) +
                        swing(motionOfA.to.turn - motionOfA.from.turn, spinOfA) +
                        swing(motionOfB.to.turn - motionOfB.from.turn, spinOfB);
    const auto spare = [&] {
        return (pair.link < 0 ? gap.distance - hysteresis.begin : hysteresis.end - gap.distance) - off;
    };
    // Those that touch go on to if they do at the end: a gap between is none (M6).
    if (pair.link < 0)
        sweepIf(world, pair, pair.mustFollow || spare() <= came);
    else
        sweepIf(world, pair, pair.mustFollow || hysteresis.end - gap.distance <= off);
    const double fastest = glm::length(pair.courseOfA.step() - pair.courseOfB.step()) +
                           (swing(spinOfA.step, spinOfA) + swing(spinOfB.step, spinOfB)) * (1 + rounding);
    schedule(pair.indexOfA, pair.indexOfB, std::max(0.0, spare() / (fastest * (1 + rounding))));
}

/// The narrow phase to its end: the time of impact of a pair. `link` is its meeting, or -1 if there
/// was none.
void Detection::sweepPair(const World& world, int indexOfA, int indexOfB, int link, scene::Contact contact,
                          bool atStart)
{
    const bool was = link >= 0;
    if (was)
        graph_.at(link).seen = count_;
    const LiveShape& a = shapeAt(world, indexOfA);
    const LiveShape& b = shapeAt(world, indexOfB);
    const Motion motionOfA = world.motionOf(a.piece);
    const Motion motionOfB = world.motionOf(b.piece);
    const bool nothingNew =
        motionOfA.rests() && motionOfB.rests() && a.changed == Cause::moved && b.changed == Cause::moved && !atStart;
    if (nothingNew)
        return;
    if (report_.touches().size() >= mostChangesInATick) {
        gaveUp_ = true;
        return;
    }
    const Manner manner = contact == Contact::stop ? Manner::stop : Manner::sense;
    Touch touch{indexOfA, b.piece, indexOfB, manner, was, false, 0, 0, Cause::moved, Cause::moved};
    const Hysteresis hysteresis = hysteresisOf(a, b, manner);
    const auto partsOfA = world.partsOf(a);
    const auto partsOfB = world.partsOf(b);
    geometry::Window window = geometry::heightWindow(a.band, motionOfA, b.band, motionOfB);
    if (contact == Contact::pass)
        window = {0, 0};
    std::optional<Span> inner;
    if (!was || hysteresis.end <= hysteresis.begin)
        inner = geometry::nearSpan(partsOfA, motionOfA, partsOfB, motionOfB, hysteresis.begin, window);
    if (!was && !inner)
        return;
    const std::optional<Span> outer =
        hysteresis.end > hysteresis.begin
            ? geometry::nearSpan(partsOfA, motionOfA, partsOfB, motionOfB, hysteresis.end, window)
            : inner;
    touch.is = outer && outer->atEnd;
    if (was && touch.is) {
        graph_.at(link).stops = manner == Manner::stop ? 1U : 0U;
        return;
    }
    touch.begin = inner ? inner->enter : 0;
    touch.end = outer ? outer->exit : 0;
    touch.beginCause = inner && inner->atStart ? Cause::put : Cause::moved; // made exact for each side below
    touch.endCause = outer ? Cause::moved : Cause::put;
    if (!was && touch.is)
        graph_.join(known_, {indexOfA, indexOfB, manner}, count_);
    if (was)
        graph_.part(known_, link);

    // K7: what happened since the last detection, the visitor's before self's.
    const auto noted = [&](const LiveShape& self, const LiveShape& visitor, Cause found) {
        if (atStart)
            return Cause::start;
        if (found == Cause::moved)
            return Cause::moved;
        return visitor.changed != Cause::moved ? visitor.changed : self.changed;
    };
    Touch other = touch;
    other.shape = indexOfB;
    other.visitor = a.piece;
    other.part = indexOfA;
    other.beginCause = noted(b, a, touch.beginCause);
    other.endCause = noted(b, a, touch.endCause);
    touch.beginCause = noted(a, b, touch.beginCause);
    touch.endCause = noted(a, b, touch.endCause);
    report_.add(touch);
    report_.add(other);
}

} // namespace snare::detect
