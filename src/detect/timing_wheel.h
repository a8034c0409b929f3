// SPDX-License-Identifier: Apache-2.0
/// Pairs of shapes to look at again, by the tick in which they are due.
///
/// They are kept in blocks, so that those of a tick lie side by side, and blocks are used again:
/// nothing is allocated once as many were kept before.
#pragma once

#include "geometry/memory.h"

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstdint>
#include <utility>

namespace snare::detect {

/// Two shapes that are looked at in a tick to come, if none of them was with all that are near it
/// since.
struct ScheduledPair {
    int a;
    int b;
    std::uint32_t since;
};

class TimingWheel {
  public:
    /// Nothing can be kept for a tick so many after the present one, or later.
    static constexpr std::uint32_t ticks = 64;

    TimingWheel() { newest_.fill(-1); }

    void clear() { *this = {}; }

    /// Reminds of a pair in a tick that is to come.
    void add(std::uint32_t tick, const ScheduledPair& pair)
    {
        int& newest = newest_[tick % ticks];
        if (newest < 0 || blockAt(newest).count == Block::most)
            newest = freshBlock(newest);
        Block& block = blockAt(newest);
        block.pairs[block.count++] = pair;
    }

    /// Calls `each(pair, later)` for those of a tick and forgets them. `later` is another of them
    /// that will come up soon, so that what is known of it can be fetched meanwhile. Nothing may be
    /// added for that tick from inside.
    template <class Each> void take(std::uint32_t tick, Each&& each)
    {
        for (int index = std::exchange(newest_[tick % ticks], -1); index >= 0;) {
            Block& block = blockAt(index);
            for (std::size_t i = 0; i < block.count; ++i) {
                constexpr std::size_t ahead = 8;
                each(block.pairs[i], block.pairs[std::min(i + ahead, block.count - 1)]);
            }
            const int next = std::exchange(block.next, free_);
            free_ = std::exchange(index, next);
        }
    }

    std::size_t bytes() const { return blocks_.capacity() * sizeof(Block); }

  private:
    struct Block {
        static constexpr std::size_t most = 41; // half a kilobyte

        std::array<ScheduledPair, most> pairs;
        std::size_t count;
        int next; ///< of the same tick, or of those that are not used; -1: none
    };

    Block& blockAt(int index) { return blocks_[static_cast<std::size_t>(index)]; }

    int freshBlock(int next)
    {
        int index = free_;
        if (index < 0) {
            index = static_cast<int>(blocks_.size());
            blocks_.emplace_back();
        } else {
            free_ = blockAt(index).next;
        }
        blockAt(index).count = 0;
        blockAt(index).next = next;
        return index;
    }

    geometry::Table<Block> blocks_;
    int free_ = -1;
    std::array<int, ticks> newest_{}; ///< by tick
};

} // namespace snare::detect
