// SPDX-License-Identifier: Apache-2.0
/// The broad phase: rectangles in grids, one grid for each order of size, kept from tick to tick.
///
/// A rectangle lies in at most four cells of the grid whose cells are just larger than it. Cells are hashed into a
/// table of fixed size, so an endless scene costs no more than a small one, and nothing is allocated while the number
/// of shapes stays the same. Changing one rectangle costs nothing for the others.
#pragma once

#include "geometry/hull.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstdint>
#include <limits>
#include <vector>

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
        // Beyond this everything is in one place; what is no number goes to the end of the world too.
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

    /// Puts a shape where `box` is, wherever it was before.
    void place(int shape, const Box& box);
    void remove(int shape);
    bool holds(int shape) const { return slotOf(shape).holds(); }
    const Box& boxOf(int shape) const { return slotOf(shape).box; }
    int levelOf(int shape) const { return levelOf(slotOf(shape).box); }

    /// Fetches what a visit of this shape will read first; with `deeper`, what it will read next.
    void fetch(int shape, bool deeper) const
    {
        const Slot& slot = slotOf(shape);
        if (!slot.holds())
            return;
        const Cells cells = cellsOf(slot.box);
        for (std::int32_t y = cells.y; y <= cells.y + cells.high; ++y)
            for (std::int32_t x = cells.x; x <= cells.x + cells.wide; ++x) {
                const std::int32_t* head = &heads_[bucketOf(cells.level, x, y)];
                if (!deeper)
                    __builtin_prefetch(head);
                else if (*head >= 0)
                    __builtin_prefetch(&slotOf(*head >> 2));
            }
    }

    /// Calls `visit(other)` once for each other shape whose box overlaps the shape's box. Of smaller orders of size it
    /// costs as much as the cells, or shapes, that it covers.
    template <class Visit> void visitNear(int shape, Visit&& visit) const
    {
        const Box& box = slotOf(shape).box;
        const Cells cells = cellsOf(box);
        visitCells(shape, box, cells.level, cells, visit);
        visitLarger(shape, cells.level + 1, visit);
        visitIn(box, 0, cells.level - 1, visit);
    }

    /// The same, but leaves out those of smaller orders of size, and of its own those with a smaller number: done for
    /// all shapes, it tells each pair once.
    template <class Visit> void visitUpwards(int shape, Visit&& visit) const
    {
        const Box& box = slotOf(shape).box;
        const Cells cells = cellsOf(box);
        visitCells(shape, box, cells.level, cells, [&](int other) {
            if (shape < other)
                visit(other);
        });
        visitLarger(shape, cells.level + 1, visit);
    }

    /// What the smaller orders of size add to a visit, in cells looked into.
    double costBelow(int shape) const;

    std::size_t bytes() const;

  private:
    static constexpr int levels = 80;
    /// Cells of level 0 are two to this power wide, m; each level is twice the last, the last one without end.
    static constexpr int smallestExponent = -32;

    /// The cells from (x, y) on, one or two each way.
    struct Range {
        std::int32_t x;
        std::int32_t y;
        std::int32_t lastX;
        std::int32_t lastY;
    };
    struct Cells {
        std::int32_t x = 0;
        std::int32_t y = 0;
        std::uint8_t wide = 0; ///< 1: two columns
        std::uint8_t high = 0; ///< 1: two rows
        std::int8_t level = 0;

        friend bool operator==(const Cells&, const Cells&) = default;
    };
    /// All that is kept of a shape, in one place: a walk through a bucket reads nothing else.
    struct Slot {
        Box box{nowhere()};
        std::array<std::int32_t, 4> next{-1, -1, -1, -1}; ///< the next node in each of its buckets

        bool holds() const { return box.lowX <= box.highX; }
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

    Slot& slotOf(int shape) { return slots_[static_cast<std::size_t>(shape)]; }
    const Slot& slotOf(int shape) const { return slots_[static_cast<std::size_t>(shape)]; }
    /// Nodes are numbered four a shape.
    std::int32_t nextOf(std::int32_t node) const { return slotOf(node >> 2).next[static_cast<std::size_t>(node & 3)]; }
    void setNext(std::int32_t node, std::int32_t next)
    {
        slotOf(node >> 2).next[static_cast<std::size_t>(node & 3)] = next;
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
    static Range spreadOf(const Box& box, int level)
    {
        const double perCell = perCellOf(level);
        return {cellOf(box.lowX, perCell), cellOf(box.lowY, perCell), cellOf(box.highX, perCell),
                cellOf(box.highY, perCell)};
    }
    static Cells rangeOf(const Box& box, int level)
    {
        const Range spread = spreadOf(box, level);
        return {spread.x, spread.y, static_cast<std::uint8_t>(spread.lastX - spread.x),
                static_cast<std::uint8_t>(spread.lastY - spread.y), static_cast<std::int8_t>(level)};
    }
    /// The grid with the smallest cells that are larger than the box.
    static int levelOf(const Box& box)
    {
        const double extent =
            std::max(static_cast<double>(box.highX) - box.lowX, static_cast<double>(box.highY) - box.lowY);
        const auto exponent = static_cast<int>((std::bit_cast<std::uint64_t>(extent) >> 52) & 0x7FFU) - 1023 + 1;
        return std::clamp(exponent - smallestExponent, 0, levels - 1);
    }
    static Cells cellsOf(const Box& box) { return rangeOf(box, levelOf(box)); }
    std::size_t bucketOf(int level, std::int32_t x, std::int32_t y) const
    {
        // Tiles of eight by eight cells are scattered over the table; the cells of a tile lie side by side.
        std::uint64_t key =
            static_cast<std::uint64_t>(static_cast<std::uint32_t>(x >> 3)) << 32 | static_cast<std::uint32_t>(y >> 3);
        key = (key ^ static_cast<std::uint64_t>(level) << 58) * 0x9E3779B97F4A7C15ULL;
        key = (key ^ key >> 32) * 0xD6E8FEB86659FD93ULL;
        const auto inTile = static_cast<std::size_t>((y & 7) << 3 | (x & 7));
        return static_cast<std::size_t>(key >> shift_) << 6 | inTile;
    }

    template <class Visit> void visitLarger(int shape, int first, Visit&& visit) const
    {
        const Box& box = slotOf(shape).box;
        for (int level = first; level <= largest_; ++level)
            if (inLevel_[static_cast<std::size_t>(level)] != 0)
                visitCells(shape, box, level, rangeOf(box, level), visit);
    }

    template <class Visit>
    void visitCells(int shape, const Box& box, int level, const Cells& cells, Visit&& visit) const
    {
        const double perCell = perCellOf(level);
        for (std::int32_t y = cells.y; y <= cells.y + cells.high; ++y)
            for (std::int32_t x = cells.x; x <= cells.x + cells.wide; ++x)
                visitCell(box, level, perCell, x, y, [&](int other) {
                    if (other != shape)
                        visit(other);
                });
    }

    /// A pair that shares several cells is visited in one of them: where the overlap of the two boxes begins.
    template <class Visit>
    void visitCell(const Box& box, int level, double perCell, std::int32_t x, std::int32_t y, Visit&& visit) const
    {
        for (std::int32_t node = heads_[bucketOf(level, x, y)]; node >= 0; node = nextOf(node)) {
            const int other = node >> 2;
            const Slot& slot = slotOf(other);
            const Box& its = slot.box;
            if (!box.overlaps(its) || levelOf(its) != level)
                continue;
            if (cellOf(std::max(box.lowX, its.lowX), perCell) == x &&
                cellOf(std::max(box.lowY, its.lowY), perCell) == y)
                visit(other);
        }
    }

    template <class Visit> void visitIn(const Box& box, int first, int last, Visit&& visit) const
    {
        std::array<bool, levels> inTurn{}; // levels with so many cells that it is faster to go through all shapes, once
        bool any = false;
        for (int level = std::max(first, smallest_); level <= std::min(last, largest_); ++level) {
            if (inLevel_[static_cast<std::size_t>(level)] == 0)
                continue;
            const Range range = spreadOf(box, level);
            if (cellsIn(range) > costOfAll()) {
                inTurn[static_cast<std::size_t>(level)] = any = true;
                continue;
            }
            const double perCell = perCellOf(level);
            for (std::int32_t y = range.y; y <= range.lastY; ++y)
                for (std::int32_t x = range.x; x <= range.lastX; ++x)
                    visitCell(box, level, perCell, x, y, visit);
        }
        for (std::size_t i = 0; any && i < slots_.size(); ++i)
            if (box.overlaps(slots_[i].box) && inTurn[static_cast<std::size_t>(levelOf(slots_[i].box))])
                visit(static_cast<int>(i));
    }

    static double cellsIn(const Range& range)
    {
        return (static_cast<double>(range.lastX) - range.x + 1) * (static_cast<double>(range.lastY) - range.y + 1);
    }
    /// Going through all shapes, in cells looked into: they lie side by side.
    double costOfAll() const { return static_cast<double>(slots_.size()) * 0.125; }

    /// Calls `each(bucket, node)` for the buckets of a shape, each bucket once.
    template <class Each> void forBuckets(int shape, const Cells& cells, Each&& each) const;

    std::vector<Slot> slots_;         ///< by shape
    std::vector<std::int32_t> heads_; ///< by bucket
    std::array<std::size_t, levels> inLevel_{};
    int smallest_ = levels;
    int largest_ = -1;
    int shift_ = 63; ///< leaves as many bits as there are tiles
};

} // namespace snare::geometry
