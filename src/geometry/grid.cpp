// SPDX-License-Identifier: Apache-2.0
#include "geometry/grid.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <utility>

namespace snare::geometry {

void Grid::resize(std::size_t shapes)
{
    if (shapes <= slots_.size())
        return;
    const std::size_t wanted = std::bit_ceil(std::max<std::size_t>(128, shapes * 2));
    slots_.resize(shapes);
    if (wanted <= heads_.size())
        return;
    heads_.assign(wanted, -1);
    shift_ = 64 - (std::countr_zero(wanted) - 6);
    for (std::size_t i = 0; i < slots_.size(); ++i)
        if (slots_[i].range.level != nowhere)
            forBuckets(static_cast<int>(i), slots_[i], [&](std::size_t bucket, std::int32_t node) {
                setNext(node, std::exchange(heads_[bucket], node));
            });
}

void Grid::clear()
{
    slots_.clear();
    heads_.clear();
    inLevel_.fill(0);
    smallest_ = levels;
    largest_ = -1;
    shift_ = 63;
}

template <class Each> void Grid::forBuckets(int shape, const Slot& slot, Each&& each) const
{
    std::array<std::size_t, 4> done{};
    std::size_t count = 0;
    const Cells& cells = slot.range;
    for (std::int32_t y = cells.y; y <= cells.y + cells.high; ++y)
        for (std::int32_t x = cells.x; x <= cells.x + cells.wide; ++x) {
            const std::size_t bucket = bucketOf(slot.range.level, x, y);
            const auto end = done.begin() + static_cast<std::ptrdiff_t>(count);
            if (std::find(done.begin(), end, bucket) != end)
                continue; // two of its cells share a bucket
            each(bucket, shape * 4 + static_cast<std::int32_t>(count));
            done[count++] = bucket;
        }
}

void Grid::place(int shape, const Box& box)
{
    Slot& slot = slotOf(shape);
    slot.box = box;
    const double extent =
        std::max(static_cast<double>(box.highX) - box.lowX, static_cast<double>(box.highY) - box.lowY);
    // The smallest cells that are larger than the box: four to the power of the level.
    const auto exponent = static_cast<int>((std::bit_cast<std::uint64_t>(extent) >> 52) & 0x7FFU) - 1023 + 1;
    const int level = std::clamp((exponent - smallestExponent + 1) / 2, 0, levels - 1);
    const Cells range = rangeOf(box, level);
    if (slot.range == range)
        return;
    remove(shape);
    slot.range = range;
    ++inLevel_[static_cast<std::size_t>(level)];
    smallest_ = std::min(smallest_, level);
    largest_ = std::max(largest_, level);
    forBuckets(shape, slot,
               [&](std::size_t bucket, std::int32_t node) { setNext(node, std::exchange(heads_[bucket], node)); });
}

void Grid::remove(int shape)
{
    Slot& slot = slotOf(shape);
    if (slot.range.level == nowhere)
        return;
    forBuckets(shape, slot, [&](std::size_t bucket, std::int32_t node) {
        if (heads_[bucket] == node) {
            heads_[bucket] = nextOf(node);
            return;
        }
        std::int32_t before = heads_[bucket];
        while (nextOf(before) != node)
            before = nextOf(before);
        setNext(before, nextOf(node));
    });
    --inLevel_[static_cast<std::size_t>(slot.range.level)];
    slot.range.level = nowhere;
}

std::size_t Grid::bytes() const
{
    return slots_.capacity() * sizeof(Slot) + heads_.capacity() * sizeof(std::int32_t);
}

} // namespace snare::geometry
