// SPDX-License-Identifier: Apache-2.0
/// The broad phase: rectangles in grids, one grid for each order of size, kept from tick to tick.
///
/// A rectangle lies in one cell of a grid whose cells are larger than it: where its low corner is.
/// So it can reach no farther than the next cell to the right and above. Cells are hashed into a
/// table of fixed size, so an endless scene costs no more than a small one, and nothing is
/// allocated once as much was placed before. Changing one rectangle costs nothing for the others.
#pragma once

#include "geometry/hull.h"
#include "geometry/memory.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstdint>
#include <limits>
#include <span>

namespace snare::geometry {

/// A rectangle in single precision, never smaller than the one it was made of.
struct Box {
    float lowX = 0;
    float lowY = 0;
    float highX = 0;
    float highY = 0;

    explicit Box(const Bounds& bounds)
        : lowX(downwards(bounds.low.x)), lowY(downwards(bounds.low.y)), highX(-downwards(-bounds.high.x)),
          highY(-downwards(-bounds.high.y))
    {
    }
    Box() = default;
    bool contains(const Box& other) const
    {
        return lowX <= other.lowX && lowY <= other.lowY && highX >= other.highX && highY >= other.highY;
    }
    bool overlaps(const Box& other) const
    {
        // No branches: three of four comparisons come out either way.
        return (static_cast<int>(lowX <= other.highX) & static_cast<int>(other.lowX <= highX) &
                static_cast<int>(lowY <= other.highY) & static_cast<int>(other.lowY <= highY)) != 0;
    }

  private:
    static float downwards(double value)
    {
        // Beyond this everything is in one place; what is no number goes to the end of the world
        // too.
        constexpr double farthest = 1e30;
        const auto near = static_cast<float>(!(value > -farthest) ? -farthest : std::min(value, farthest));
        return near - (std::abs(near) * 1.2e-7F + 1e-37F);
    }
};

class Grid {
  public:
    /// Makes room for the shapes 0 to `shapes` - 1; those that were there stay.
    void resize(std::size_t shapes);
    void clear();

    /// Puts a shape where `box` is, wherever it was before, among those of an extent of `least` (m)
    /// if it is smaller than that: what is of one order of size with its neighbours is found
    /// faster.
    void place(int shape, const Box& box, float least = 0);
    void remove(int shape);
    bool holds(int shape) const { return boxOf(shape).lowX <= boxOf(shape).highX; }
    const Box& boxOf(int shape) const { return boxes_[static_cast<std::size_t>(shape)]; }

    /// Asks for the memory of this shape's box.
    void prefetchBox(int shape) const
    {
        prefetch(&boxOf(shape));
        prefetch(&levels_[static_cast<std::size_t>(shape)]);
    }

    /// Calls `visit(other)` once for each other shape whose box overlaps the shape's box. Of
    /// smaller orders of size it costs as much as the cells, or shapes, that it covers.
    template <class Visit> void visitNear(int shape, Visit&& visit) const
    {
        const int level = levelOf(shape);
        visitFrom(shape, level, visit);
        visitSmaller(boxOf(shape), level - 1, visit);
    }

    /// The same, but leaves out those of smaller orders of size, and of its own those with a
    /// smaller number: done for all shapes, it tells each pair once.
    template <class Visit> void visitUpwards(int shape, Visit&& visit) const
    {
        const int level = levelOf(shape);
        visitFrom(shape, level, [&](int other) {
            if (shape < other || levelOf(other) != level)
                visit(other);
        });
    }

    /// Calls `visit(shape)` once for each shape whose box overlaps this one.
    template <class Visit> void visitOverlapping(const Box& box, Visit&& visit) const
    {
        visitSmaller(box, levels - 1, visit);
    }

    /// What the smaller orders of size add to a visit, in cells looked into.
    double costBelow(int shape) const;

    /// Memory that it holds, for figures.
    std::size_t bytes() const;

  private:
    static constexpr int levels = 80;
    /// Cells of level 0 are two to this power wide, m; each level is twice the last, the last one
    /// without end.
    static constexpr int smallestExponent = -32;

    /// The cells from (x, y) to (lastX, lastY).
    struct Range {
        std::int32_t x;
        std::int32_t y;
        std::int32_t lastX;
        std::int32_t lastY;
    };
    /// The shapes of the cells that share a place in the table, without gaps. What it has no room
    /// for is in blocks of the same form, of which only the first may have room left.
    struct Bucket {
        std::array<std::int32_t, 3> shapes{-1, -1, -1};
        std::int32_t next = -1; ///< in `blocks_`; there also of those that are not used

        bool full() const { return shapes.back() >= 0; }
    };
    /// The shapes of a level, as long as they are few; `count` is less than there are in the level
    /// if some are missing.
    struct Few {
        std::array<std::int32_t, 16> shapes;
        std::uint32_t count = 0;

        std::span<const std::int32_t> listed() const { return {shapes.data(), count}; }
        void add(std::int32_t shape)
        {
            if (count < shapes.size())
                shapes[count++] = shape;
        }
        void remove(std::int32_t shape)
        {
            const auto end = shapes.begin() + count;
            const auto found = std::find(shapes.begin(), end, shape);
            if (found != end)
                *found = shapes[--count];
        }
    };
    /// What overlaps nothing.
    static Box nowhere()
    {
        constexpr float farthest = std::numeric_limits<float>::max(); // not even the largest box reaches it
        Box box;
        box.lowX = box.lowY = farthest;
        box.highX = box.highY = -farthest;
        return box;
    }

    /// Cells a metre; the last level is one cell, whatever lies in it.
    static double perCellOf(int level)
    {
        if (level == levels - 1)
            return 0;
        return std::bit_cast<double>(static_cast<std::uint64_t>(1023 - smallestExponent - level) << 52);
    }
    static std::int32_t cellOf(float at, double perCell)
    {
        constexpr double most = 1 << 30;
        const double cell = std::clamp(static_cast<double>(at) * perCell, -most, most);
        const auto whole = static_cast<std::int32_t>(cell);
        return whole - static_cast<std::int32_t>(static_cast<double>(whole) > cell);
    }
    /// Where those of a level may lie that overlap a box.
    static Range nearIn(const Box& box, int level)
    {
        const double perCell = perCellOf(level);
        return {cellOf(box.lowX, perCell) - 1, cellOf(box.lowY, perCell) - 1, cellOf(box.highX, perCell),
                cellOf(box.highY, perCell)};
    }
    /// The grid with the smallest cells that are larger than an extent (m).
    static int levelFor(double extent)
    {
        const auto exponent = static_cast<int>((std::bit_cast<std::uint64_t>(extent) >> 52) & 0x7FFU) - 1023 + 1;
        return std::clamp(exponent - smallestExponent, 0, levels - 1);
    }
    int levelOf(int shape) const { return levels_[static_cast<std::size_t>(shape)]; }

    /// Tiles of eight by eight cells are scattered over the table; the cells of a tile lie side by
    /// side.
    std::size_t tileOf(int level, std::int32_t x, std::int32_t y) const
    {
        std::uint64_t key =
            static_cast<std::uint64_t>(static_cast<std::uint32_t>(x >> 3)) << 32 | static_cast<std::uint32_t>(y >> 3);
        key = (key ^ static_cast<std::uint64_t>(level) << 58) * 0x9E3779B97F4A7C15ULL;
        key = (key ^ key >> 32) * 0xD6E8FEB86659FD93ULL;
        return static_cast<std::size_t>(key >> shift_) << 6;
    }
    static std::size_t inTile(std::int32_t x, std::int32_t y)
    {
        return static_cast<std::size_t>((y & 7) << 3 | (x & 7));
    }
    Bucket& bucketOf(const Box& box, int level)
    {
        const double perCell = perCellOf(level);
        const std::int32_t x = cellOf(box.lowX, perCell);
        const std::int32_t y = cellOf(box.lowY, perCell);
        return buckets_[tileOf(level, x, y) + inTile(x, y)];
    }

    /// Calls `each(x, y, bucket)` for the cells of a range, tile by tile.
    template <class Each> void forCells(int level, const Range& range, Each&& each) const
    {
        for (std::int32_t fromY = range.y; fromY <= range.lastY; fromY = (fromY | 7) + 1)
            for (std::int32_t fromX = range.x; fromX <= range.lastX; fromX = (fromX | 7) + 1) {
                const Bucket* const tile = &buckets_[tileOf(level, fromX, fromY)];
                const std::int32_t toX = std::min(fromX | 7, range.lastX);
                const std::int32_t toY = std::min(fromY | 7, range.lastY);
                for (std::int32_t y = fromY; y <= toY; ++y)
                    for (std::int32_t x = fromX; x <= toX; ++x)
                        each(x, y, tile[inTile(x, y)]);
            }
    }

    /// Calls `visit` for those of a level that overlap the box.
    template <class Visit> void visitIn(const Box& box, int level, const Range& range, Visit&& visit) const
    {
        const double perCell = perCellOf(level);
        forCells(level, range, [&](std::int32_t x, std::int32_t y, const Bucket& first) {
            // Cells of other places and levels may share the bucket.
            for (const Bucket* bucket = &first;; bucket = &blocks_[static_cast<std::size_t>(bucket->next)]) {
                for (const std::int32_t other : bucket->shapes) {
                    if (other < 0)
                        break;
                    const Box& its = boxOf(other);
                    if (box.overlaps(its) && levelOf(other) == level && cellOf(its.lowX, perCell) == x &&
                        cellOf(its.lowY, perCell) == y)
                        visit(other);
                }
                if (bucket->next < 0)
                    break;
            }
        });
    }

    /// The same for a level that is not empty; of a few, each is looked at.
    template <class Visit> void visitLevel(const Box& box, int level, const Range& range, Visit&& visit) const
    {
        if (costOf(level, range) >= cellsIn(range)) {
            visitIn(box, level, range, visit);
            return;
        }
        for (const std::int32_t other : fewOf(level).listed())
            if (box.overlaps(boxOf(other)))
                visit(other);
    }

    /// Those of this level and larger ones.
    template <class Visit> void visitFrom(int shape, int first, Visit&& visit) const
    {
        const Box box = boxOf(shape);
        for (int level = first; level <= largest_; ++level)
            if (inLevel_[static_cast<std::size_t>(level)] != 0)
                visitLevel(box, level, nearIn(box, level), [&](int other) {
                    if (other != shape)
                        visit(other);
                });
    }

    template <class Visit> void visitSmaller(const Box& box, int last, Visit&& visit) const
    {
        std::array<bool, levels> inTurn{}; // levels with so many cells that it is faster to go through all shapes, once
        bool any = false;
        for (int level = smallest_; level <= std::min(last, largest_); ++level) {
            if (inLevel_[static_cast<std::size_t>(level)] == 0)
                continue;
            const Range range = nearIn(box, level);
            if (costOf(level, range) > costOfAll())
                inTurn[static_cast<std::size_t>(level)] = any = true;
            else
                visitLevel(box, level, range, visit);
        }
        for (std::size_t i = 0; any && i < boxes_.size(); ++i)
            if (box.overlaps(boxes_[i]) && inTurn[static_cast<std::size_t>(levelOf(static_cast<int>(i)))])
                visit(static_cast<int>(i));
    }

    static double cellsIn(const Range& range)
    {
        return (static_cast<double>(range.lastX) - range.x + 1) * (static_cast<double>(range.lastY) - range.y + 1);
    }
    /// Going through what there is of a level, in cells looked into.
    double costOf(int level, const Range& range) const
    {
        const double cells = cellsIn(range);
        const Few& few = fewOf(level);
        return few.count == inLevel_[static_cast<std::size_t>(level)] ? std::min<double>(cells, few.count) : cells;
    }
    /// Going through all shapes, in cells looked into: they lie side by side.
    double costOfAll() const { return static_cast<double>(boxes_.size()) * 0.125; }

    Few& fewOf(int level) { return few_[static_cast<std::size_t>(level)]; }
    const Few& fewOf(int level) const { return few_[static_cast<std::size_t>(level)]; }

    void add(int shape);

    Table<Box> boxes_;          ///< by shape
    Table<std::int8_t> levels_; ///< by shape
    Table<Bucket> buckets_;
    Table<Bucket> blocks_; ///< what buckets have no room for
    std::int32_t freeBlock_ = -1;
    std::array<std::size_t, levels> inLevel_{};
    std::array<Few, levels> few_{};
    int smallest_ = levels;
    int largest_ = -1;
    int shift_ = 63; ///< leaves as many bits as there are tiles
};

} // namespace snare::geometry
