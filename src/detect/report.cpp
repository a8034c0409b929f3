// SPDX-License-Identifier: Apache-2.0
// What changed between shapes, told for both sides as events (M8 to M12).
#include "detect/report.h"

#include "detect/limits.h"
#include "detect/order.h"

#include "geometry/gap.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <numeric>
#include <tuple>

namespace snare::detect {

using geometry::Motion;
using scene::EventKind;
using world::LivePiece;
using world::LiveShape;

namespace {

/// How a point of a piece moves before anything stops it (M10), m/s.
Vec velocityAt(const World& world, PieceIndex index, const Vec& point, double frac)
{
    const LivePiece& piece = world.piece(index);
    const Motion motion = world.motionOf(index);
    return piece.approach + geometry::perpendicular(point - motion.at(frac).at) * (piece.turning * radiansPerDegree);
}

/// The bits of a number in an order that has the negative ones before the others.
std::uint64_t ascending(std::int32_t number)
{
    return static_cast<std::uint32_t>(number) ^ 0x80000000U;
}

/// What decides first in the order of M12, in one number: when, what, who.
std::uint64_t firstOf(const Change& change)
{
    const auto moment = static_cast<std::uint64_t>(momentOf(change.frac));
    return moment << 35 | static_cast<std::uint64_t>(rankOf(change.kind)) << 32 | ascending(change.self);
}

auto restOf(const Change& change)
{
    return std::tuple(change.shape, change.visitor, change.part);
}

} // namespace

void sortChanges(std::vector<Change>& changes)
{
    std::ranges::sort(changes, {}, [](const Change& change) { return std::pair(firstOf(change), restOf(change)); });
}

/// Sorts by a number, and where that is the same by the rest. Not the items themselves are sorted,
/// which are larger.
template <class Item, class FirstOf, class RestOf>
void Report::sortBy(std::vector<Item>& items, std::vector<Item>& room, FirstOf&& firstOf, RestOf&& restOf)
{
    keys_.clear();
    std::uint64_t least = std::numeric_limits<std::uint64_t>::max();
    std::uint64_t most = 0;
    for (std::size_t i = 0; i < items.size(); ++i) {
        keys_.push_back({firstOf(items[i]), i});
        least = std::min(least, keys_.back().first);
        most = std::max(most, keys_.back().first);
    }
    const auto before = [&](const Key& a, const Key& b) {
        return a.first != b.first ? a.first < b.first : restOf(items[a.index]) < restOf(items[b.index]);
    };
    constexpr std::size_t many = 64;
    if (keys_.size() < many) {
        std::ranges::sort(keys_, before);
    } else {
        // They are spread over as many buckets as there are of them, so that hardly anything is
        // left to sort in one.
        const int shift = std::max(0, static_cast<int>(std::bit_width(most - least)) -
                                          static_cast<int>(std::bit_width(keys_.size())));
        const auto bucketOf = [&](const Key& key) { return static_cast<std::size_t>((key.first - least) >> shift); };
        buckets_.assign(bucketOf({most, 0}) + 2, 0);
        for (const Key& key : keys_)
            ++buckets_[bucketOf(key) + 1];
        std::partial_sum(buckets_.begin(), buckets_.end(), buckets_.begin());
        spreadKeys_.resize(keys_.size());
        for (const Key& key : keys_)
            spreadKeys_[buckets_[bucketOf(key)]++] = key;
        for (std::size_t bucket = 0, first = 0; bucket + 1 < buckets_.size(); first = buckets_[bucket++])
            if (buckets_[bucket] - first > 1)
                std::sort(spreadKeys_.begin() + static_cast<std::ptrdiff_t>(first),
                          spreadKeys_.begin() + static_cast<std::ptrdiff_t>(buckets_[bucket]), before);
        keys_.swap(spreadKeys_);
    }
    room.clear();
    for (const Key& key : keys_)
        room.push_back(items[key.index]);
    items.swap(room);
}

void Report::tell(const World& world, bool atStart, bool withStays, const std::atomic<bool>* cancelled)
{
    const auto pairOf = [](const Touch& touch) { return ascending(touch.shape) << 32 | ascending(touch.visitor); };
    sortBy(touches_, sortedTouches_, pairOf, [](const Touch& touch) { return touch.part; });
    const auto same = [](const Touch& one, const Touch& other) {
        return one.shape == other.shape && one.part == other.part;
    };
    touches_.erase(std::unique(touches_.begin(), touches_.end(), same), touches_.end());
    for (std::size_t first = 0;
         first < touches_.size() && !(cancelled && cancelled->load(std::memory_order_relaxed));) {
        std::size_t last = first + 1;
        while (last < touches_.size() && touches_[last].shape == touches_[first].shape &&
               touches_[last].visitor == touches_[first].visitor)
            ++last;
        tellGroup(world, std::span(touches_).subspan(first, last - first), atStart, withStays);
        first = last;
    }
    sortBy(changes_, sortedChanges_, firstOf, restOf);
}

void Report::tellGroup(const World& world, std::span<const Touch> touches, bool atStart, bool withStays)
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
    const auto tell = [&](EventKind kind, const Touch& touch, double frac, Cause cause) {
        change.kind = kind;
        change.part = touch.part;
        change.frac = frac;
        change.cause = cause;
        changes_.push_back(change);
    };
    if (!was && entered)
        tell(EventKind::enter, *entered, entered->begin, entered->beginCause);
    if (stopped && !stopWas && !atStart && stopped->beginCause == Cause::moved)
        tellHit(world, *stopped);
    if (!is && left)
        tell(EventKind::exit, *left, left->end, left->endCause);
    if (was && is && withStays) // one that is inside (M5)
        tell(EventKind::stay, *std::ranges::find(touches, true, &Touch::is), 1, Cause::moved);
}

void Report::tellHit(const World& world, const Touch& touch)
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

} // namespace snare::detect
