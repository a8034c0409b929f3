// SPDX-License-Identifier: Apache-2.0
#include "detect/detection.h"
#include "detect/limits.h"

#include "geometry/memory.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

namespace snare::detect {

using scene::Contact;
using world::LivePiece;
using world::LiveShape;

namespace {

/// How many steps ahead of its use memory is fetched.
constexpr std::size_t farAhead = 10;

} // namespace

scene::Contact mannerBetween(const World& world, int a, int b)
{
    const LiveShape& first = shapeAt(world, a);
    const LiveShape& second = shapeAt(world, b);
    const LivePiece& firstPiece = world.piece(first.piece);
    const LivePiece& secondPiece = world.piece(second.piece);
    if (first.piece == second.piece || !first.isOn() || !second.isOn() || !firstPiece.meetsPieces() ||
        !secondPiece.meetsPieces() || (firstPiece.resting && secondPiece.resting))
        return Contact::pass;
    if (!world.carried().empty() && world.carrierOfAll(first.piece) == world.carrierOfAll(second.piece))
        return Contact::pass;
    const Contact contact = world.groups().between(first.group, second.group);
    if (contact == Contact::stop && (first.role == scene::Role::zone || second.role == scene::Role::zone))
        return Contact::sense;
    return contact;
}

bool groupsAllow(const World& world, int a, int b, Manner manner)
{
    const LiveShape& first = shapeAt(world, a);
    const LiveShape& second = shapeAt(world, b);
    const Contact contact = world.groups().between(first.group, second.group);
    const bool solid = first.role == scene::Role::solid && second.role == scene::Role::solid;
    return contact != Contact::pass && (contact == Contact::stop && solid) == (manner == Manner::stop);
}

void Detection::forget()
{
    grid_.clear();
    known_.clear();
    courses_.clear();
    spins_.clear();
    due_.clear();
    looked_.clear();
    isLookedAt_.clear();
    previous_.clear();
    wheel_.clear();
    graph_.clear();
    report_.clear();
    gaveUp_ = false;
}

std::vector<Meeting> Detection::meetings() const
{
    return graph_.meetings(known_);
}

std::size_t Detection::shapeBytes() const
{
    return grid_.bytes() + known_.capacity() * sizeof(KnownShape) +
           courses_.capacity() * (sizeof(Course) + sizeof(Spin)) +
           (due_.capacity() + looked_.capacity() + previous_.capacity()) * sizeof(int) +
           near_.capacity() * sizeof(near_.front()) + wheel_.bytes() + graph_.shapeBytes();
}

std::size_t Detection::meetingBytes() const
{
    return graph_.bytes();
}

// --- finding -------------------------------------------------------------------------------------------------------

const std::vector<Change>& Detection::detect(World& world, bool atStart, bool withStays)
{
    count_ = (count_ + 1) & mostCount;
    report_.clear();
    findDue(world, atStart);
    for (std::size_t i = 0; i < looked_.size() && !isCancelled(); ++i) {
        if (i + 2 * farAhead < looked_.size()) {
            prefetch(world, looked_[i + 2 * farAhead], false, false);
            grid_.prefetchBox(looked_[i + 2 * farAhead]);
        }
        if (i + farAhead < looked_.size())
            prefetch(world, looked_[i + farAhead], true, false);
        refit(world, looked_[i]);
    }
    constexpr std::size_t atOnce = 4096; // so that little is kept of what is near
    const bool crowded = isCrowded();
    const std::size_t count = crowded ? known_.size() : looked_.size();
    for (std::size_t from = 0; from < count && !isCancelled(); from += atOnce) {
        const std::size_t to = std::min(from + atOnce, count);
        crowded ? findNearUpwards(from, to) : findNear(from, to);
        lookAtNear(world, atStart, true);
    }
    if (isCancelled())
        return report_.changes();
    findScheduled();
    lookAtNear(world, atStart, false);
    lookAtLeft(world, atStart);
    addBumps(world);
    if (withStays)
        addStays(world);
    else
        addOthers(world);
    report_.tell(world, atStart, withStays, cancelled_);
    world.clearMarks();
    return report_.changes();
}

// --- pairs ---------------------------------------------------------------------------------------------------------

/// Those near the shapes of `looked_` from `from` to `to`, each pair once.
void Detection::findNear(std::size_t from, std::size_t to)
{
    near_.clear();
    for (std::size_t i = from; i < to; ++i) {
        const int shape = looked_[i];
        if (!grid_.holds(shape))
            continue;
        grid_.visitNear(shape, [&](int other) {
            if (shape < other || !isLookedAt(other))
                near_.emplace_back(std::min(shape, other), std::max(shape, other));
        });
    }
}

/// Whether so many are looked at, or such large ones among many small, that it is cheaper to ask
/// all shapes who is near them, but none for smaller ones.
bool Detection::isCrowded() const
{
    constexpr double cellsOfOne = 8;  // looked into for a shape among others of its size
    constexpr double cellsOfAll = 24; // and for each if there are all sizes
    double cost = 0;
    for (const int shape : looked_)
        if (grid_.holds(shape))
            cost += cellsOfOne + grid_.costBelow(shape);
    return cost > cellsOfAll * static_cast<double>(known_.size());
}

/// The pairs of which one is looked at, each once, as the shapes from `from` to `to` see them.
void Detection::findNearUpwards(std::size_t from, std::size_t to)
{
    near_.clear();
    for (std::size_t i = from; i < to; ++i) {
        const int shape = static_cast<int>(i);
        if (!grid_.holds(shape))
            continue;
        const bool isLooked = isLookedAt(shape);
        grid_.visitUpwards(shape, [&](int other) {
            if (isLooked || isLookedAt(other))
                near_.emplace_back(std::min(shape, other), std::max(shape, other));
        });
    }
}

/// What `mannerBetween` says, of what is known.
scene::Contact Detection::contactOf(const World& world, int a, int b) const
{
    const KnownShape& first = known_[static_cast<std::size_t>(a)];
    const KnownShape& second = known_[static_cast<std::size_t>(b)];
    if (first.piece == second.piece || !first.takesPart || !second.takesPart || (first.resting && second.resting))
        return Contact::pass;
    if (!world.carried().empty() && world.carrierOfAll(first.piece) == world.carrierOfAll(second.piece))
        return Contact::pass;
    const Contact contact = world.groups().between(first.group, second.group);
    return contact == Contact::stop && (first.zone || second.zone) ? Contact::sense : contact;
}

/// Fetches what will be read of a shape; first what leads to the rest, then, `deeper`, the rest;
/// without `all` no more than what is asked of one that only passes by.
void Detection::prefetch(const World& world, int shape, bool deeper, bool all) const
{
    const auto i = static_cast<std::size_t>(shape);
    if (!deeper) {
        geometry::prefetch(&known_[i]);
        geometry::prefetch(&due_[i]);
        if (all) {
            geometry::prefetch(&world.shapes()[i]);
            geometry::prefetch(&world.shapes()[i].band); // often in the next line
        }
        return;
    }
    const auto piece = static_cast<std::size_t>(known_[i].piece);
    geometry::prefetch(&courses_[piece]);
    if (known_[i].plain && !all)
        return;
    geometry::prefetch(&world.before()[piece]);
    geometry::prefetch(&world.pose()[piece]);
    if (const auto parts = world.partsOf(world.shapes()[i]); !parts.empty()) { // a picture may be missing
        const auto* hull = reinterpret_cast<const std::byte*>(parts.data());
        geometry::prefetch(hull);
        geometry::prefetch(hull + 64);
    }
    if (known_[i].first >= 0)
        geometry::prefetch(&graph_.at(known_[i].first));
}

void Detection::lookAtNear(const World& world, bool atStart, bool byChance)
{
    for (std::size_t i = 0; i < near_.size() && !isCancelled(); ++i) {
        if (i + 2 * farAhead < near_.size()) {
            prefetch(world, near_[i + 2 * farAhead].first, false, !byChance);
            prefetch(world, near_[i + 2 * farAhead].second, false, !byChance);
        }
        if (i + farAhead < near_.size()) {
            prefetch(world, near_[i + farAhead].first, true, !byChance);
            prefetch(world, near_[i + farAhead].second, true, !byChance);
        }
        const auto [a, b] = near_[i];
        if (atStart || !narrowPhaseAxial(world, a, b))
            narrowPhase(world, a, b, atStart);
    }
}

/// Meetings of those that are no longer near each other.
void Detection::lookAtLeft(const World& world, bool atStart)
{
    for (const int shape : looked_) {
        if (isCancelled())
            return;
        for (int link = known_[static_cast<std::size_t>(shape)].first; link >= 0;) {
            const Link& one = graph_.at(link);
            const int next = ContactGraph::nextOf(one, shape);
            if (one.seen != count_) {
                const auto [a, b, manner] = one.meeting();
                sweepPair(world, a, b, link, contactOf(world, a, b), atStart);
            }
            link = next;
        }
    }
}

/// Solids that bumped and rebounded within the tick met, though the straight way between its ends
/// may not show it (M6).
void Detection::addBumps(const World& world)
{
    const std::size_t found = report_.touches().size();
    for (const auto& [a, b, frac] : world.bumps()) {
        if (graph_.between(known_, a, b) >= 0 || contactOf(world, a, b) != Contact::stop)
            continue;
        const auto isPair = [a = a, b = b](const Touch& touch) { return touch.shape == a && touch.part == b; };
        if (std::ranges::any_of(report_.touches().subspan(0, found), isPair))
            continue;
        constexpr double latest = 0.999; // it has left at the end of the tick
        const double begin = std::min(frac, latest);
        report_.add({a, shapeAt(world, b).piece, b, Manner::stop, false, false, begin, 1, Cause::moved, Cause::moved});
        report_.add({b, shapeAt(world, a).piece, a, Manner::stop, false, false, begin, 1, Cause::moved, Cause::moved});
    }
}

/// The pair will be looked at again before it can change, which is not in so many ticks to come.
void Detection::schedule(int a, int b, double ticks)
{
    constexpr double forever = 1e12;
    if (!(ticks < forever))
        return;
    // If it is longer than can be noted, the pair is looked at on the way.
    const std::uint32_t at = round_ + 1 + static_cast<std::uint32_t>(std::min(ticks, mostAhead - 1));
    if (at >= std::min(due_[static_cast<std::size_t>(a)], due_[static_cast<std::size_t>(b)]))
        return;
    wheel_.add(at, {a, b, round_});
}

/// Pairs that could change in this tick, unless they were looked at since they were noted.
void Detection::findScheduled()
{
    near_.clear();
    wheel_.take(round_, [&](const ScheduledPair& one, const ScheduledPair& later) {
        geometry::prefetch(&known_[static_cast<std::size_t>(later.a)]);
        geometry::prefetch(&known_[static_cast<std::size_t>(later.b)]);
        if (std::max(known_[static_cast<std::size_t>(one.a)].round, known_[static_cast<std::size_t>(one.b)].round) <=
            one.since)
            near_.emplace_back(one.a, one.b);
    });
}

void Detection::findEnded(const World& world, std::span<const PieceIndex> pieces)
{
    count_ = (count_ + 1) & mostCount;
    report_.clear();
    for (const PieceIndex piece : pieces) {
        const LivePiece& live = world.piece(piece);
        for (std::size_t i = live.firstShape; i < live.firstShape + live.shapeCount && i < known_.size(); ++i) {
            const int shape = static_cast<int>(i);
            if (!takesPart(world, shape)) { // what is gone is met no more
                known_[i].takesPart = false;
                grid_.remove(shape);
            }
            for (int link = known_[i].first; link >= 0;) {
                const Meeting meeting = graph_.at(link).meeting();
                const int next = ContactGraph::nextOf(graph_.at(link), shape);
                const Contact contact = mannerBetween(world, meeting.a, meeting.b);
                if (contact == Contact::pass || (contact == Contact::stop) != (meeting.manner == Manner::stop)) {
                    graph_.part(known_, link);
                    const PieceIndex pieceOfA = shapeAt(world, meeting.a).piece;
                    const PieceIndex pieceOfB = shapeAt(world, meeting.b).piece;
                    report_.add({meeting.a, pieceOfB, meeting.b, meeting.manner, true, false, 0, 0, Cause::moved,
                                 Cause::moved});
                    report_.add({meeting.b, pieceOfA, meeting.a, meeting.manner, true, false, 0, 0, Cause::moved,
                                 Cause::moved});
                }
                link = next;
            }
        }
    }
    addOthers(world);
    report_.tell(world, false, false, cancelled_);
}

/// Where something began or ended, the meetings of the same shape and visitor that go on (M9). Once
/// all that ended is gone from the lists.
void Detection::addOthers(const World& world)
{
    const std::size_t told = report_.touches().size();
    for (std::size_t i = 0; i < told; ++i) {
        const auto [shape, visitor, part] =
            std::tuple(report_.touches()[i].shape, report_.touches()[i].visitor, report_.touches()[i].part);
        const std::uint32_t first = world.shapeStarts()[static_cast<std::size_t>(visitor)];
        const std::uint32_t end = world.shapeStarts()[static_cast<std::size_t>(visitor) + 1];
        for (auto other = static_cast<int>(first); other < static_cast<int>(end); ++other) {
            const int link =
                other == part ? -1 : graph_.between(known_, std::min(shape, other), std::max(shape, other));
            if (link >= 0 && graph_.at(link).begun != count_)
                report_.add(
                    {shape, visitor, other, graph_.at(link).manner(), true, true, 0, 0, Cause::moved, Cause::moved});
        }
    }
}

void Detection::addStays(const World& world)
{
    for (std::size_t i = 0; i < known_.size() && !gaveUp_; ++i) {
        gaveUp_ = report_.touches().size() > mostChangesInATick;
        const int shape = static_cast<int>(i);
        for (int link = known_[i].first; link >= 0; link = ContactGraph::nextOf(graph_.at(link), shape)) {
            const Link& one = graph_.at(link);
            const int other = one.a == shape ? one.b : one.a;
            if (one.begun != count_)
                report_.add({shape, shapeAt(world, other).piece, other, one.manner(), true, true, 0, 0, Cause::moved,
                             Cause::moved});
        }
    }
}

} // namespace snare::detect
