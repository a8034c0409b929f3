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
        if (slots_[i].holds())
            forBuckets(static_cast<int>(i), cellsOf(slots_[i].box), [&](std::size_t bucket, std::int32_t node) {
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

template <class Each> void Grid::forBuckets(int shape, const Cells& cells, Each&& each) const
{
    std::array<std::size_t, 4> done{};
    std::size_t count = 0;
    for (std::int32_t y = cells.y; y <= cells.y + cells.high; ++y)
        for (std::int32_t x = cells.x; x <= cells.x + cells.wide; ++x) {
            const std::size_t bucket = bucketOf(cells.level, x, y);
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
    const Cells cells = cellsOf(box);
    if (slot.holds() && cellsOf(slot.box) == cells) {
        slot.box = box;
        return;
    }
    remove(shape);
    slot.box = box;
    ++inLevel_[static_cast<std::size_t>(cells.level)];
    smallest_ = std::min<int>(smallest_, cells.level);
    largest_ = std::max<int>(largest_, cells.level);
    forBuckets(shape, cells,
               [&](std::size_t bucket, std::int32_t node) { setNext(node, std::exchange(heads_[bucket], node)); });
}

void Grid::remove(int shape)
{
    Slot& slot = slotOf(shape);
    if (!slot.holds())
        return;
    const Cells cells = cellsOf(slot.box);
    forBuckets(shape, cells, [&](std::size_t bucket, std::int32_t node) {
        if (heads_[bucket] == node) {
            heads_[bucket] = nextOf(node);
            return;
        }
        std::int32_t before = heads_[bucket];
        while (nextOf(before) != node)
            before = nextOf(before);
        setNext(before, nextOf(node));
    });
    --inLevel_[static_cast<std::size_t>(cells.level)];
    slot.box = nowhere();
}

double Grid::costBelow(int shape) const
{
    const Box& box = slotOf(shape).box;
    double cost = 0;
    double ofAll = 0; // once for all levels that need it
    for (int level = smallest_; level < std::min(levelOf(box), largest_ + 1); ++level) {
        if (inLevel_[static_cast<std::size_t>(level)] == 0)
            continue;
        const double cells = cellsIn(spreadOf(box, level));
        if (cells > costOfAll())
            ofAll = costOfAll();
        else
            cost += cells;
    }
    return cost + ofAll;
}

std::size_t Grid::bytes() const
{
    return slots_.capacity() * sizeof(Slot) + heads_.capacity() * sizeof(std::int32_t);
}

} // namespace snare::geometry
