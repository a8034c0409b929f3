// SPDX-License-Identifier: Apache-2.0
#include "detect/detection.h"

#include "geometry/gap.h"
#include "geometry/impact.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace snare::detect {

using geometry::Bounds;
using geometry::Motion;
using geometry::Span;
using scene::Contact;
using scene::EventKind;
using world::LivePiece;
using world::LiveShape;

namespace {

const LiveShape& shapeAt(const World& world, int index)
{
    return world.shapes[static_cast<std::size_t>(index)];
}

/// "At most" and "more than" (M4) against rounding.
constexpr double closed = 1e-9;

struct Reach {
    double begin;
    double end;
};

Reach reachOf(const LiveShape& a, const LiveShape& b, Manner manner)
{
    if (manner == Manner::stop)
        return {stopBegins + closed, stopEnds + closed};
    const auto margin = [](const LiveShape& shape) { return shape.role == scene::Role::zone ? shape.margin : 0.0; };
    return {0, std::max(margin(a), margin(b))};
}

/// exit, vacated, enter, occupied, hit, stay (M12)
int rank(EventKind kind)
{
    switch (kind) {
    case EventKind::exit:
        return 0;
    case EventKind::enter:
        return 2;
    case EventKind::hit:
        return 4;
    default:
        return 5;
    }
}

} // namespace

scene::Contact mannerBetween(const World& world, int a, int b)
{
    const LiveShape& first = shapeAt(world, a);
    const LiveShape& second = shapeAt(world, b);
    const LivePiece& firstPiece = world.piece(first.piece);
    const LivePiece& secondPiece = world.piece(second.piece);
    if (first.piece == second.piece || !first.enabled || !second.enabled || !firstPiece.meets() ||
        !secondPiece.meets() || (firstPiece.resting && secondPiece.resting))
        return Contact::pass;
    const Contact contact = world.groups.between(first.group, second.group);
    if (contact == Contact::stop && (first.role == scene::Role::zone || second.role == scene::Role::zone))
        return Contact::sense;
    return contact;
}

void sortChanges(std::vector<Change>& changes)
{
    const auto key = [](const Change& change) {
        return std::tuple(std::round(change.frac * 1e6), rank(change.kind), change.self, change.shape, change.visitor,
                          change.part);
    };
    std::ranges::sort(changes, {}, key);
}

void Detection::forget()
{
    pairs_.clear();
    changes_.clear();
}

const std::vector<Change>& Detection::detect(World& world, bool atStart, bool withStays)
{
    findCandidates(world);
    touches_.clear();
    next_.clear();
    // Candidates and existing pairs are both sorted: one walk over both.
    auto existing = pairs_.cbegin();
    auto candidate = candidates_.cbegin();
    while (existing != pairs_.cend() || candidate != candidates_.cend()) {
        const bool takeExisting =
            candidate == candidates_.cend() || (existing != pairs_.cend() && !(*candidate < *existing));
        const bool takeCandidate =
            existing == pairs_.cend() || (candidate != candidates_.cend() && !(*existing < *candidate));
        followPair(world, takeCandidate ? *candidate : *existing, takeExisting ? &*existing : nullptr, atStart);
        existing += takeExisting ? 1 : 0;
        candidate += takeCandidate ? 1 : 0;
    }
    std::swap(pairs_, next_);
    changes_.clear();
    tellTouches(world, atStart, withStays);
    sortChanges(changes_);
    for (LiveShape& shape : world.shapes)
        shape.changed = Cause::moved;
    return changes_;
}

void Detection::findCandidates(const World& world)
{
    candidates_.clear();
    order_.clear();
    bounds_.resize(world.shapes.size());
    for (std::size_t i = 0; i < world.shapes.size(); ++i) {
        const LiveShape& shape = world.shapes[i];
        if (!shape.enabled || !world.piece(shape.piece).meets())
            continue;
        bounds_[i] = {};
        for (const geometry::Hull& part : world.partsOf(shape))
            bounds_[i].include(geometry::sweptBounds(part, world.motionOf(shape.piece)));
        bounds_[i].grow(std::max(stopEnds, shape.margin) + closed);
        order_.push_back(static_cast<int>(i));
    }
    std::ranges::sort(order_, {}, [&](int i) { return std::pair(bounds_[static_cast<std::size_t>(i)].low.x, i); });
    // From left to right: each shape against those whose bounds still reach it. Resting shapes never meet each other
    // (M1), so they are kept apart and looked at for movers only.
    activeMovers_.clear();
    activeResting_.clear();
    for (const int i : order_) {
        const Bounds& bounds = bounds_[static_cast<std::size_t>(i)];
        const auto pairWith = [&](std::vector<int>& active) {
            std::erase_if(active, [&](int j) { return bounds_[static_cast<std::size_t>(j)].high.x < bounds.low.x; });
            for (const int j : active)
                if (bounds.overlaps(bounds_[static_cast<std::size_t>(j)]) &&
                    mannerBetween(world, i, j) != Contact::pass)
                    candidates_.push_back({std::min(i, j), std::max(i, j), Manner::sense});
        };
        const bool rests = world.piece(shapeAt(world, i).piece).resting;
        pairWith(activeMovers_);
        if (!rests)
            pairWith(activeResting_);
        (rests ? activeResting_ : activeMovers_).push_back(i);
    }
    std::ranges::sort(candidates_);
}

void Detection::followPair(const World& world, const Pair& candidate, const Pair* existing, bool atStart)
{
    const LiveShape& a = shapeAt(world, candidate.a);
    const LiveShape& b = shapeAt(world, candidate.b);
    const Motion motionOfA = world.motionOf(a.piece);
    const Motion motionOfB = world.motionOf(b.piece);
    const Contact contact = mannerBetween(world, candidate.a, candidate.b);
    const Manner manner = contact == Contact::stop ? Manner::stop : Manner::sense;
    const bool was = existing != nullptr;

    Touch touch{candidate.a, b.piece, candidate.b, manner, was, was, 0, 0, Cause::moved, Cause::moved};
    const bool nothingNew =
        motionOfA.rests() && motionOfB.rests() && a.changed == Cause::moved && b.changed == Cause::moved && !atStart;
    if (nothingNew) {
        if (!was)
            return;
    } else {
        const Reach reach = reachOf(a, b, manner);
        const auto partsOfA = world.partsOf(a);
        const auto partsOfB = world.partsOf(b);
        std::optional<Span> inner = geometry::nearSpan(partsOfA, motionOfA, partsOfB, motionOfB, reach.begin);
        std::optional<Span> outer =
            reach.end > reach.begin ? geometry::nearSpan(partsOfA, motionOfA, partsOfB, motionOfB, reach.end) : inner;
        if (!was && !inner)
            return;
        touch.is = outer && outer->atEnd;
        touch.begin = inner ? inner->enter : 0;
        touch.end = outer ? outer->exit : 0;
        touch.beginCause = inner && inner->atStart ? Cause::put : Cause::moved; // made exact for each side below
        touch.endCause = outer ? Cause::moved : Cause::put;
    }
    if (touch.is)
        next_.push_back({candidate.a, candidate.b, manner});

    // K7: what happened since the last detection, the visitor's before self's.
    const auto noted = [&](const LiveShape& self, const LiveShape& visitor, Cause found) {
        if (atStart)
            return Cause::start;
        if (found == Cause::moved)
            return Cause::moved;
        return visitor.changed != Cause::moved ? visitor.changed : self.changed;
    };
    Touch other = touch;
    other.shape = candidate.b;
    other.visitor = a.piece;
    other.part = candidate.a;
    other.beginCause = noted(b, a, touch.beginCause);
    other.endCause = noted(b, a, touch.endCause);
    touch.beginCause = noted(a, b, touch.beginCause);
    touch.endCause = noted(a, b, touch.endCause);
    touches_.push_back(touch);
    touches_.push_back(other);
}

void Detection::tellTouches(const World& world, bool atStart, bool withStays)
{
    std::ranges::sort(touches_, {},
                      [](const Touch& touch) { return std::tuple(touch.shape, touch.visitor, touch.part); });
    for (std::size_t first = 0; first < touches_.size();) {
        std::size_t last = first + 1;
        while (last < touches_.size() && touches_[last].shape == touches_[first].shape &&
               touches_[last].visitor == touches_[first].visitor)
            ++last;
        tellGroup(world, std::span(touches_).subspan(first, last - first), atStart, withStays);
        first = last;
    }
}

void Detection::tellGroup(const World& world, std::span<const Touch> touches, bool atStart, bool withStays)
{
    bool was = false;
    bool is = false;
    bool stopWas = false;
    const Touch* entered = nullptr;
    const Touch* left = nullptr;
    const Touch* stopped = nullptr;
    Manner manner = Manner::sense;
    for (const Touch& touch : touches) {
        was |= touch.was;
        is |= touch.is;
        if (touch.manner == Manner::stop) {
            manner = Manner::stop;
            stopWas |= touch.was;
            if (!touch.was && (!stopped || touch.begin < stopped->begin))
                stopped = &touch;
        }
        if (!touch.was && (!entered || touch.begin < entered->begin))
            entered = &touch;
        if (!touch.is && (!left || touch.end > left->end))
            left = &touch;
    }
    Change change;
    change.self = shapeAt(world, touches.front().shape).piece;
    change.shape = touches.front().shape;
    change.visitor = touches.front().visitor;
    change.manner = manner;
    if (!was && entered) {
        change.kind = EventKind::enter;
        change.part = entered->part;
        change.frac = entered->begin;
        change.cause = entered->beginCause;
        changes_.push_back(change);
    }
    if (stopped && !stopWas && !atStart && stopped->beginCause == Cause::moved)
        tellHit(world, *stopped);
    if (!is && left) {
        change.kind = EventKind::exit;
        change.part = left->part;
        change.frac = left->end;
        change.cause = left->endCause;
        changes_.push_back(change);
    }
    if (was && is && withStays) {
        change.kind = EventKind::stay;
        change.part = touches.front().part;
        change.frac = 1;
        change.cause = Cause::moved;
        changes_.push_back(change);
    }
}

void Detection::tellHit(const World& world, const Touch& touch)
{
    const LiveShape& self = shapeAt(world, touch.shape);
    const LiveShape& visitor = shapeAt(world, touch.part);
    const geometry::Gap gap =
        geometry::gapBetween(world.partsOf(self), world.motionOf(self.piece).at(touch.begin), world.partsOf(visitor),
                             world.motionOf(visitor.piece).at(touch.begin));
    const Vec closing = world.piece(self.piece).approach - world.piece(visitor.piece).approach;
    Change change;
    change.kind = EventKind::hit;
    change.self = self.piece;
    change.shape = touch.shape;
    change.visitor = touch.visitor;
    change.part = touch.part;
    change.frac = touch.begin;
    change.manner = Manner::stop;
    change.point = gap.point;
    change.normal = gap.normal;
    change.speed = std::max(0.0, glm::dot(closing, gap.normal));
    changes_.push_back(change);
}

void Detection::findEnded(const World& world)
{
    touches_.clear();
    next_.clear();
    bool ended = false;
    for (const Pair& pair : pairs_) {
        const Contact contact = mannerBetween(world, pair.a, pair.b);
        const bool is = contact != Contact::pass && (contact == Contact::stop) == (pair.manner == Manner::stop);
        ended |= !is;
        if (is)
            next_.push_back(pair);
        const PieceIndex pieceOfA = shapeAt(world, pair.a).piece;
        const PieceIndex pieceOfB = shapeAt(world, pair.b).piece;
        touches_.push_back({pair.a, pieceOfB, pair.b, pair.manner, true, is, 0, 0, Cause::moved, Cause::moved});
        touches_.push_back({pair.b, pieceOfA, pair.a, pair.manner, true, is, 0, 0, Cause::moved, Cause::moved});
    }
    changes_.clear();
    if (!ended)
        return;
    std::swap(pairs_, next_);
    tellTouches(world, false, false);
    sortChanges(changes_);
}

} // namespace snare::detect
