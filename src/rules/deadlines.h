// SPDX-License-Identifier: Apache-2.0
/// What is due at which tick, the earliest first and, within a tick, in the order in which it was
/// added.
#pragma once

#include "rules/chains.h"

#include <set>

namespace snare::rules {

class Deadlines {
  public:
    void clear()
    {
        ticks_.clear();
        slots_.clear();
    }

    void add(std::int64_t tick, int slot)
    {
        if (!slots_.contains(tick))
            ticks_.insert(tick);
        slots_.append(tick, slot);
    }

    void remove(std::int64_t tick, int slot)
    {
        slots_.remove(tick, slot);
        if (!slots_.contains(tick))
            ticks_.erase(tick);
    }

    /// The slots that are due by `tick`.
    std::vector<int> dueBy(std::int64_t tick) const
    {
        std::vector<int> due;
        for (auto one = ticks_.begin(); one != ticks_.end() && *one <= tick; ++one)
            slots_.addTo(due, *one);
        return due;
    }

  private:
    std::set<std::int64_t> ticks_;
    Chains<std::int64_t> slots_;
};

} // namespace snare::rules
