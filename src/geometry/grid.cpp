// SPDX-License-Identifier: Apache-2.0
#include "geometry/grid.h"

#include <algorithm>
#include <bit>
#include <utility>

namespace snare::geometry {

void Grid::resize(std::size_t shapes)
{
    if (shapes <= boxes_.size())
        return;
    constexpr std::size_t fewest = 128; // two tiles: there is always a bit of the hash left
    const std::size_t wanted = std::bit_ceil(std::max(fewest, shapes));
    boxes_.resize(shapes, nowhere());
    levels_.resize(shapes, 0);
    if (wanted <= buckets_.size())
        return;
    buckets_.assign(wanted, Bucket{});
    blocks_.clear();
    freeBlock_ = -1;
    shift_ = 64 - (std::countr_zero(wanted) - 6);
    for (std::size_t i = 0; i < boxes_.size(); ++i)
        if (holds(static_cast<int>(i)))
            add(static_cast<int>(i));
}

void Grid::clear()
{
    boxes_.clear();
    levels_.clear();
    buckets_.clear();
    blocks_.clear();
    freeBlock_ = -1;
    inLevel_.fill(0);
    few_.fill({});
    smallest_ = levels;
    largest_ = -1;
    shift_ = 63;
}

/// Puts a shape into the bucket of its box.
void Grid::add(int shape)
{
    Bucket& first = bucketOf(boxOf(shape), levelOf(shape));
    const auto blockAt = [&](std::int32_t block) -> Bucket& { return blocks_[static_cast<std::size_t>(block)]; };
    if (first.full() && (first.next < 0 || blockAt(first.next).full())) {
        std::int32_t block = freeBlock_;
        if (block < 0) {
            block = static_cast<std::int32_t>(blocks_.size());
            blocks_.emplace_back();
        } else {
            freeBlock_ = blockAt(block).next;
        }
        blockAt(block).next = std::exchange(first.next, block);
    }
    Bucket& bucket = first.full() ? blockAt(first.next) : first;
    *std::ranges::find(bucket.shapes, -1) = shape;
}

void Grid::place(int shape, const Box& box, float least)
{
    Box& its = boxes_[static_cast<std::size_t>(shape)];
    const int level = levelFor(std::max({static_cast<double>(box.highX) - box.lowX,
                                         static_cast<double>(box.highY) - box.lowY, static_cast<double>(least)}));
    if (holds(shape) && levelOf(shape) == level && &bucketOf(its, level) == &bucketOf(box, level)) {
        its = box;
        return;
    }
    remove(shape);
    its = box;
    levels_[static_cast<std::size_t>(shape)] = static_cast<std::int8_t>(level);
    ++inLevel_[static_cast<std::size_t>(level)];
    fewOf(level).add(shape);
    smallest_ = std::min(smallest_, level);
    largest_ = std::max(largest_, level);
    add(shape);
}

void Grid::remove(int shape)
{
    if (!holds(shape))
        return;
    Box& box = boxes_[static_cast<std::size_t>(shape)];
    Bucket& first = bucketOf(box, levelOf(shape));
    // The last one of the bucket that may have room takes its place.
    Bucket& open = first.next < 0 ? first : blocks_[static_cast<std::size_t>(first.next)];
    Bucket* holder = &first;
    auto place = std::ranges::find(holder->shapes, shape);
    while (place == holder->shapes.end()) {
        holder = &blocks_[static_cast<std::size_t>(holder->next)];
        place = std::ranges::find(holder->shapes, shape);
    }
    const auto last = std::ranges::find(open.shapes, -1) - 1;
    *place = *last;
    *last = -1;
    if (&open != &first && open.shapes.front() < 0) {
        const std::int32_t block = std::exchange(first.next, open.next);
        open.next = std::exchange(freeBlock_, block);
    }
    --inLevel_[static_cast<std::size_t>(levelOf(shape))];
    fewOf(levelOf(shape)).remove(shape);
    box = nowhere();
}

double Grid::costBelow(int shape) const
{
    const Box& box = boxOf(shape);
    double cost = 0;
    double ofAll = 0; // once for all levels that need it
    for (int level = smallest_; level < std::min(levelOf(shape), largest_ + 1); ++level) {
        if (inLevel_[static_cast<std::size_t>(level)] == 0)
            continue;
        const double cells = costOf(level, nearIn(box, level));
        if (cells > costOfAll())
            ofAll = costOfAll();
        else
            cost += cells;
    }
    return cost + ofAll;
}

std::size_t Grid::bytes() const
{
    return boxes_.capacity() * (sizeof(Box) + sizeof(std::int8_t)) +
           (buckets_.capacity() + blocks_.capacity()) * sizeof(Bucket);
}

} // namespace snare::geometry
