// SPDX-License-Identifier: Apache-2.0
#include "detect/detection.h"

#include "geometry/gap.h"
#include "geometry/impact.h"

#include <algorithm>
#include <cmath>
#include <tuple>
#include <utility>

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

/// How many steps ahead of its use memory is fetched.
constexpr std::size_t farAhead = 10;

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

/// How a point of a piece moves before anything stops it (M10), m/s.
Vec velocityAt(const World& world, PieceIndex index, const Vec& point, double frac)
{
    constexpr double radiansPerDegree = 0.017453292519943295;
    const LivePiece& piece = world.piece(index);
    const Motion motion = world.motionOf(index);
    return piece.approach + geometry::perpendicular(point - motion.at(frac).at) * (piece.turning * radiansPerDegree);
}

/// Whether there is anything of a shape to meet (M1).
bool takesPart(const World& world, int index)
{
    const LiveShape& shape = shapeAt(world, index);
    return shape.enabled && shape.partCount > 0 && world.piece(shape.piece).meetsPieces();
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
    if (first.piece == second.piece || !first.enabled || !second.enabled || !firstPiece.meetsPieces() ||
        !secondPiece.meetsPieces() || (firstPiece.resting && secondPiece.resting))
        return Contact::pass;
    if (!world.carried.empty() && world.carrierOfAll(first.piece) == world.carrierOfAll(second.piece))
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
    grid_.clear();
    known_.clear();
    blocks_.clear();
    freeBlock_ = -1;
    active_.clear();
    links_.clear();
    free_.clear();
    touches_.clear();
    changes_.clear();
}

// --- the list of meetings ------------------------------------------------------------------------------------------

std::vector<Meeting> Detection::meetings() const
{
    std::vector<Meeting> result;
    for (std::size_t shape = 0; shape < known_.size(); ++shape)
        for (int link = known_[shape].first; link >= 0; link = nextOf(linkAt(link), static_cast<int>(shape)))
            if (linkAt(link).meeting.a == static_cast<int>(shape))
                result.push_back(linkAt(link).meeting);
    std::ranges::sort(result);
    return result;
}

std::size_t Detection::shapeBytes() const
{
    return grid_.bytes() + known_.capacity() * sizeof(Known) + blocks_.capacity() * sizeof(Block) +
           (active_.capacity() + previous_.capacity() + asking_.capacity()) * sizeof(int) +
           close_.capacity() * sizeof(close_.front());
}

std::size_t Detection::meetingBytes() const
{
    return links_.capacity() * sizeof(Link) + free_.capacity() * sizeof(int);
}

/// Walks both lists side by side, so that a visitor of a crowded zone is found as fast as the shorter of the two.
int Detection::linkBetween(int a, int b) const
{
    int ofA = known_[static_cast<std::size_t>(a)].first;
    int ofB = known_[static_cast<std::size_t>(b)].first;
    while (ofA >= 0 && ofB >= 0) {
        const Link& one = linkAt(ofA);
        if (one.meeting.a == b || one.meeting.b == b)
            return ofA;
        const Link& other = linkAt(ofB);
        if (other.meeting.a == a || other.meeting.b == a)
            return ofB;
        ofA = nextOf(one, a);
        ofB = nextOf(other, b);
    }
    return -1;
}

int Detection::join(const Meeting& meeting)
{
    int index = static_cast<int>(links_.size());
    if (free_.empty()) {
        links_.emplace_back();
    } else {
        index = free_.back();
        free_.pop_back();
    }
    Link& link = linkAt(index);
    link = {meeting, {}, {-1, -1}, count_, count_};
    for (const int side : {0, 1}) {
        const int shape = side == 0 ? meeting.a : meeting.b;
        int& first = known_[static_cast<std::size_t>(shape)].first;
        link.next[static_cast<std::size_t>(side)] = first;
        if (first >= 0) {
            Link& next = linkAt(first);
            next.last[next.meeting.a == shape ? 0 : 1] = index;
        }
        first = index;
    }
    return index;
}

void Detection::part(int index)
{
    const Link link = linkAt(index);
    for (const std::size_t side : {std::size_t{0}, std::size_t{1}}) {
        const int shape = side == 0 ? link.meeting.a : link.meeting.b;
        if (link.last[side] < 0) {
            known_[static_cast<std::size_t>(shape)].first = link.next[side];
        } else {
            Link& last = linkAt(link.last[side]);
            last.next[last.meeting.a == shape ? 0 : 1] = link.next[side];
        }
        if (link.next[side] >= 0) {
            Link& next = linkAt(link.next[side]);
            next.last[next.meeting.a == shape ? 0 : 1] = link.last[side];
        }
    }
    free_.push_back(index);
}

// --- finding -------------------------------------------------------------------------------------------------------

const std::vector<Change>& Detection::detect(World& world, bool atStart, bool withStays)
{
    ++count_;
    touches_.clear();
    changes_.clear();
    findActive(world, atStart);
    askWhoIsNear(world);
    findClose();
    lookAtClose(world, atStart);
    // Meetings of those that are no longer near each other.
    for (const int shape : active_)
        for (int link = known_[static_cast<std::size_t>(shape)].first; link >= 0;) {
            const Link& one = linkAt(link);
            const int next = nextOf(one, shape);
            if (one.seen != count_)
                follow(world, one.meeting.a, one.meeting.b, link, contactOf(world, one.meeting.a, one.meeting.b),
                       atStart);
            link = next;
        }
    if (withStays)
        addStays(world);
    else
        addOthers(world);
    tellTouches(world, atStart, withStays);
    sortChanges(changes_);
    world.clearMarks();
    return changes_;
}

/// Shapes of pieces that moved or that something happened to.
void Detection::findActive(World& world, bool atStart)
{
    const bool anew = atStart || known_.empty();
    grid_.resize(world.shapes.size());
    known_.resize(world.shapes.size());
    for (auto* list : {&active_, &previous_, &asking_})
        list->reserve(world.shapes.size());
    std::swap(previous_, active_);
    active_.clear();
    asking_.clear();
    ++round_;
    const auto add = [&](PieceIndex piece, bool onlyMoved) {
        for (std::uint32_t shape = world.shapeStarts[static_cast<std::size_t>(piece)];
             shape < world.shapeStarts[static_cast<std::size_t>(piece) + 1]; ++shape) {
            Known& known = known_[shape];
            if (isActive(known))
                continue;
            const bool newly = std::exchange(known.round, round_) != round_ - 1;
            active_.push_back(static_cast<int>(shape));
            if (onlyMoved)
                replace(world, static_cast<int>(shape), newly);
            else
                refresh(world, static_cast<int>(shape));
        }
    };
    if (anew) {
        for (std::size_t piece = 0; piece < world.pieces.size(); ++piece)
            add(static_cast<PieceIndex>(piece), false);
    } else {
        for (const int shape : world.changed)
            add(shapeAt(world, shape).piece, false);
        for (const PieceIndex piece : world.moved)
            add(piece, true);
    }
}

void Detection::refresh(const World& world, int index)
{
    const LiveShape& shape = shapeAt(world, index);
    const LivePiece& piece = world.piece(shape.piece);
    Known& known = known_[static_cast<std::size_t>(index)];
    known.piece = shape.piece;
    known.group = shape.group & 0x7FFFFF;
    known.takesPart = takesPart(world, index);
    known.resting = piece.resting;
    known.zone = shape.role == scene::Role::zone;
    if (known.takesPart)
        replace(world, index, true);
    else
        grid_.remove(index);
}

/// Notes what a shape covers in this tick; gives it room in the grid if it left its own, or `anew`.
void Detection::replace(const World& world, int index, bool anew)
{
    const LiveShape& shape = shapeAt(world, index);
    Known& known = known_[static_cast<std::size_t>(index)];
    if (!known.takesPart)
        return;
    Bounds bounds;
    const Motion motion = world.motionOf(shape.piece);
    for (const geometry::Hull& part : world.partsOf(shape))
        bounds.include(geometry::sweptBounds(part, motion));
    // Each of two reaches half way.
    bounds.grow(known.zone ? std::max(stopEnds * 0.5, shape.margin) + closed : stopEnds * 0.5 + closed);
    const Box box{bounds};
    known.box = box;
    if (!anew && grid_.boxOf(index).contains(box))
        return;
    // Room for the next ticks if it goes on like this, and a little for bends. Not the same for all, so that they do
    // not all ask in the same tick.
    const double ticksAhead = 16 + (static_cast<unsigned>(index) * 7 & 15);
    const Vec way = motion.to.at - motion.from.at;
    const Vec ahead = way * ticksAhead;
    const Vec aside{glm::length(way), glm::length(way)};
    bounds.low += glm::min(ahead, {0, 0}) - aside;
    bounds.high += glm::max(ahead, {0, 0}) + aside;
    grid_.place(index, Box{bounds});
    known.asked = round_;
    asking_.push_back(index);
}

template <class Visit> void Detection::forNear(const Known& known, Visit&& visit) const
{
    for (int block = known.near; block >= 0; block = blocks_[static_cast<std::size_t>(block)].next)
        for (const int shape : blocks_[static_cast<std::size_t>(block)].shapes) {
            if (shape < 0)
                break;
            visit(shape);
        }
}

void Detection::askWhoIsNear(const World& world)
{
    // One that has come to rest leaves its pairs to those that still move.
    for (const int shape : previous_) {
        const Known& known = known_[static_cast<std::size_t>(shape)];
        if (isActive(known))
            continue;
        forNear(known, [&](int other) {
            Known& its = known_[static_cast<std::size_t>(other)];
            if (isActive(its) && its.asked != round_ && its.asked <= known.asked && its.takesPart) {
                its.asked = round_;
                asking_.push_back(other);
            }
        });
    }
    for (std::size_t i = 0; i < asking_.size(); ++i) {
        // What will be read next is fetched meanwhile: shapes lie anywhere in memory.
        if (i + 2 * farAhead < asking_.size())
            grid_.fetch(asking_[i + 2 * farAhead], false);
        if (i + farAhead < asking_.size())
            grid_.fetch(asking_[i + farAhead], true);
        const int shape = asking_[i];
        Known& known = known_[static_cast<std::size_t>(shape)];
        while (known.near >= 0) {
            Block& block = blocks_[static_cast<std::size_t>(known.near)];
            const int next = std::exchange(block.next, freeBlock_);
            freeBlock_ = std::exchange(known.near, next);
        }
        if (!grid_.holds(shape))
            continue;
        std::size_t used = std::tuple_size_v<decltype(Block::shapes)>;
        grid_.visitNear(shape, [&](int other) {
            if (contactOf(world, shape, other) == Contact::pass)
                return;
            if (used == std::tuple_size_v<decltype(Block::shapes)>) {
                int index = freeBlock_;
                if (index < 0) {
                    index = static_cast<int>(blocks_.size());
                    blocks_.emplace_back();
                } else {
                    freeBlock_ = blocks_[static_cast<std::size_t>(index)].next;
                }
                Block& block = blocks_[static_cast<std::size_t>(index)];
                block.shapes.fill(-1);
                block.next = std::exchange(known.near, index);
                used = 0;
            }
            blocks_[static_cast<std::size_t>(known.near)].shapes[used++] = other;
        });
    }
}

/// Pairs near each other whose boxes overlap in this tick.
void Detection::findClose()
{
    close_.clear();
    for (std::size_t i = 0; i < active_.size(); ++i) {
        if (i + 2 * farAhead < active_.size())
            if (const int block = known_[static_cast<std::size_t>(active_[i + 2 * farAhead])].near; block >= 0)
                __builtin_prefetch(&blocks_[static_cast<std::size_t>(block)]);
        if (i + farAhead < active_.size())
            if (const int block = known_[static_cast<std::size_t>(active_[i + farAhead])].near; block >= 0)
                for (const int shape : blocks_[static_cast<std::size_t>(block)].shapes) {
                    if (shape < 0)
                        break;
                    __builtin_prefetch(&known_[static_cast<std::size_t>(shape)]);
                }
        const int shape = active_[i];
        const Known& known = known_[static_cast<std::size_t>(shape)];
        if (known.near < 0 || !known.takesPart)
            continue;
        const Box& box = known.box;
        forNear(known, [&](int other) {
            const Known& its = known_[static_cast<std::size_t>(other)];
            if (box.overlaps(its.box) &&
                (!isActive(its) || its.asked < known.asked || (its.asked == known.asked && shape < other)))
                close_.emplace_back(shape, other);
        });
    }
}

/// What `mannerBetween` says, of what is known.
scene::Contact Detection::contactOf(const World& world, int a, int b) const
{
    const Known& first = known_[static_cast<std::size_t>(a)];
    const Known& second = known_[static_cast<std::size_t>(b)];
    if (first.piece == second.piece || !first.takesPart || !second.takesPart || (first.resting && second.resting))
        return Contact::pass;
    if (!world.carried.empty() && world.carrierOfAll(first.piece) == world.carrierOfAll(second.piece))
        return Contact::pass;
    const Contact contact = world.groups.between(first.group, second.group);
    return contact == Contact::stop && (first.zone || second.zone) ? Contact::sense : contact;
}

void Detection::lookAtClose(const World& world, bool atStart)
{
    const auto fetch = [&](int shape, bool deeper) {
        const LiveShape& live = shapeAt(world, shape);
        if (!deeper) {
            __builtin_prefetch(&live);
            __builtin_prefetch(&known_[static_cast<std::size_t>(shape)]);
            return;
        }
        __builtin_prefetch(&world.before[static_cast<std::size_t>(live.piece)]);
        __builtin_prefetch(&world.pose[static_cast<std::size_t>(live.piece)]);
        const char* hull = reinterpret_cast<const char*>(&world.parts[live.firstPart]);
        __builtin_prefetch(hull);
        __builtin_prefetch(hull + 64);
    };
    for (std::size_t i = 0; i < close_.size(); ++i) {
        if (i + 2 * farAhead < close_.size())
            fetch(close_[i + 2 * farAhead].second, false);
        if (i + farAhead < close_.size()) {
            fetch(close_[i + farAhead].first, true);
            fetch(close_[i + farAhead].second, true);
        }
        auto [a, b] = close_[i];
        const Contact contact = contactOf(world, a, b);
        if (contact == Contact::pass)
            continue;
        if (b < a)
            std::swap(a, b);
        follow(world, a, b, linkBetween(a, b), contact, atStart);
    }
}

/// Looks at one pair; `link` is its meeting, or -1 if there was none.
void Detection::follow(const World& world, int indexOfA, int indexOfB, int link, scene::Contact contact, bool atStart)
{
    const bool was = link >= 0;
    if (was)
        linkAt(link).seen = count_;
    const LiveShape& a = shapeAt(world, indexOfA);
    const LiveShape& b = shapeAt(world, indexOfB);
    const Motion motionOfA = world.motionOf(a.piece);
    const Motion motionOfB = world.motionOf(b.piece);
    const bool nothingNew =
        motionOfA.rests() && motionOfB.rests() && a.changed == Cause::moved && b.changed == Cause::moved && !atStart;
    if (nothingNew)
        return;
    const Manner manner = contact == Contact::stop ? Manner::stop : Manner::sense;
    Touch touch{indexOfA, b.piece, indexOfB, manner, was, false, 0, 0, Cause::moved, Cause::moved};
    const Reach reach = reachOf(a, b, manner);
    const auto partsOfA = world.partsOf(a);
    const auto partsOfB = world.partsOf(b);
    geometry::Window window = geometry::heightWindow(a.band, motionOfA, b.band, motionOfB);
    if (contact == Contact::pass)
        window = {0, 0};
    std::optional<Span> inner;
    if (!was || reach.end <= reach.begin)
        inner = geometry::nearSpan(partsOfA, motionOfA, partsOfB, motionOfB, reach.begin, window);
    if (!was && !inner)
        return;
    const std::optional<Span> outer =
        reach.end > reach.begin ? geometry::nearSpan(partsOfA, motionOfA, partsOfB, motionOfB, reach.end, window)
                                : inner;
    touch.is = outer && outer->atEnd;
    if (was && touch.is) {
        linkAt(link).meeting.manner = manner;
        return;
    }
    touch.begin = inner ? inner->enter : 0;
    touch.end = outer ? outer->exit : 0;
    touch.beginCause = inner && inner->atStart ? Cause::put : Cause::moved; // made exact for each side below
    touch.endCause = outer ? Cause::moved : Cause::put;
    if (!was && touch.is)
        join({indexOfA, indexOfB, manner});
    if (was)
        part(link);

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
    touches_.push_back(touch);
    touches_.push_back(other);
}

/// Where something began or ended, the meetings of the same shape and visitor that go on (M9). Once all that ended is
/// gone from the lists.
void Detection::addOthers(const World& world)
{
    const std::size_t told = touches_.size();
    for (std::size_t i = 0; i < told; ++i) {
        const auto [shape, visitor, part] = std::tuple(touches_[i].shape, touches_[i].visitor, touches_[i].part);
        const std::uint32_t first = world.shapeStarts[static_cast<std::size_t>(visitor)];
        const std::uint32_t end = world.shapeStarts[static_cast<std::size_t>(visitor) + 1];
        for (auto other = static_cast<int>(first); other < static_cast<int>(end); ++other) {
            const int link = other == part ? -1 : linkBetween(std::min(shape, other), std::max(shape, other));
            if (link >= 0 && linkAt(link).begun != count_)
                touches_.push_back(
                    {shape, visitor, other, linkAt(link).meeting.manner, true, true, 0, 0, Cause::moved, Cause::moved});
        }
    }
}

void Detection::addStays(const World& world)
{
    for (std::size_t i = 0; i < known_.size(); ++i) {
        const int shape = static_cast<int>(i);
        for (int link = known_[i].first; link >= 0; link = nextOf(linkAt(link), shape)) {
            const Link& one = linkAt(link);
            const int other = one.meeting.a == shape ? one.meeting.b : one.meeting.a;
            if (one.begun != count_)
                touches_.push_back({shape, shapeAt(world, other).piece, other, one.meeting.manner, true, true, 0, 0,
                                    Cause::moved, Cause::moved});
        }
    }
}

void Detection::tellTouches(const World& world, bool atStart, bool withStays)
{
    const auto key = [](const Touch& touch) { return std::tuple(touch.shape, touch.visitor, touch.part); };
    std::ranges::sort(touches_, {}, key);
    const auto same = [&](const Touch& one, const Touch& other) { return key(one) == key(other); };
    touches_.erase(std::unique(touches_.begin(), touches_.end(), same), touches_.end());
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
    const Vec closing = velocityAt(world, self.piece, gap.point, touch.begin) -
                        velocityAt(world, visitor.piece, gap.point, touch.begin);
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

void Detection::findEnded(const World& world, std::span<const PieceIndex> pieces)
{
    ++count_;
    touches_.clear();
    changes_.clear();
    for (const PieceIndex piece : pieces) {
        const LivePiece& live = world.piece(piece);
        for (std::size_t i = live.firstShape; i < live.firstShape + live.shapeCount && i < known_.size(); ++i) {
            const int shape = static_cast<int>(i);
            if (!takesPart(world, shape)) { // what is gone is met no more
                known_[i].takesPart = false;
                grid_.remove(shape);
            }
            for (int link = known_[i].first; link >= 0;) {
                const Meeting meeting = linkAt(link).meeting;
                const int next = nextOf(linkAt(link), shape);
                const Contact contact = mannerBetween(world, meeting.a, meeting.b);
                if (contact == Contact::pass || (contact == Contact::stop) != (meeting.manner == Manner::stop)) {
                    part(link);
                    const PieceIndex pieceOfA = shapeAt(world, meeting.a).piece;
                    const PieceIndex pieceOfB = shapeAt(world, meeting.b).piece;
                    touches_.push_back({meeting.a, pieceOfB, meeting.b, meeting.manner, true, false, 0, 0, Cause::moved,
                                        Cause::moved});
                    touches_.push_back({meeting.b, pieceOfA, meeting.a, meeting.manner, true, false, 0, 0, Cause::moved,
                                        Cause::moved});
                }
                link = next;
            }
        }
    }
    addOthers(world);
    tellTouches(world, false, false);
    sortChanges(changes_);
}

} // namespace snare::detect
