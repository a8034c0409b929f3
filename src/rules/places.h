// SPDX-License-Identifier: Apache-2.0
/// Places in a list, found by the hash of what stands there.
///
/// Open addressing with linear probing; what is taken out is filled from behind, so that nothing is
/// left to step over (Knuth, The Art of Computer Programming 3, 6.4, algorithm R).
#pragma once

#include "geometry/memory.h"

#include <bit>
#include <cstddef>
#include <cstdint>

namespace snare::rules {

class Places {
  public:
    bool empty() const { return slots_.empty(); }
    void clear() { slots_ = {}; }

    /// The place with this hash for which `isIt(place)` holds, or -1.
    template <class IsIt> std::int32_t find(std::uint64_t hash, IsIt&& isIt) const
    {
        if (slots_.empty())
            return -1;
        const std::uint32_t wanted = mixed(hash);
        for (std::size_t at = home(wanted); slots_[at].place >= 0; at = next(at))
            if (slots_[at].hash == wanted && isIt(slots_[at].place))
                return slots_[at].place;
        return -1;
    }

    /// Adds a place that is not there yet. `count` is how many there are with it.
    void add(std::uint64_t hash, std::size_t place, std::size_t count)
    {
        if (2 * count > slots_.size())
            grow(count);
        put({mixed(hash), static_cast<std::int32_t>(place)});
    }

    /// What was at the place `from`, which must be there, is at `to` from now on.
    void move(std::uint64_t hash, std::size_t from, std::size_t to)
    {
        slots_[slotOf(hash, from)].place = static_cast<std::int32_t>(to);
    }

    /// Takes out a place that must be there.
    void remove(std::uint64_t hash, std::size_t place)
    {
        std::size_t hole = slotOf(hash, place);
        for (std::size_t at = next(hole); slots_[at].place >= 0; at = next(at)) {
            // What lies behind moves into the hole, unless its home lies between the hole and where
            // it is.
            if (((at - home(slots_[at].hash)) & mask()) >= ((at - hole) & mask())) {
                slots_[hole] = slots_[at];
                hole = at;
            }
        }
        slots_[hole].place = -1;
    }

  private:
    struct Slot {
        std::uint32_t hash = 0;
        std::int32_t place = -1; ///< -1: free
    };

    /// Numbers hash to themselves in the standard library: multiplied by the golden ratio, near
    /// ones lie apart.
    static std::uint32_t mixed(std::uint64_t hash)
    {
        return static_cast<std::uint32_t>((hash * 0x9e3779b97f4a7c15U) >> 32);
    }
    std::size_t mask() const { return slots_.size() - 1; }
    std::size_t home(std::uint32_t hash) const { return hash & mask(); }
    std::size_t next(std::size_t at) const { return (at + 1) & mask(); }

    std::size_t slotOf(std::uint64_t hash, std::size_t place) const
    {
        std::size_t at = home(mixed(hash));
        while (slots_[at].place != static_cast<std::int32_t>(place))
            at = next(at);
        return at;
    }

    void put(Slot slot)
    {
        std::size_t at = home(slot.hash);
        while (slots_[at].place >= 0)
            at = next(at);
        slots_[at] = slot;
    }

    void grow(std::size_t count)
    {
        const geometry::Bulk<Slot> before = std::move(slots_);
        slots_ = geometry::Bulk<Slot>(std::bit_ceil(4 * count));
        for (const Slot& slot : before)
            if (slot.place >= 0)
                put(slot);
    }

    geometry::Bulk<Slot> slots_; ///< none, or a power of two of them; at most half are taken
};

} // namespace snare::rules
