// SPDX-License-Identifier: Apache-2.0
/// The gate stage of a snare: how often it springs (S4 to S6).
#pragma once

#include "rules/event.h"

namespace snare::rules {

/// What the gate of one snare remembers of having sprung, for each self and, if it counts so, each visitor.
class GateMemory {
  public:
    /// Why limit or cooldown turn the event away at `tick`, or nothing.
    std::optional<std::string> turnedAway(const scene::Gate& gate, PieceIndex self, PieceIndex visitor,
                                          std::int64_t tick, int rate) const
    {
        const Entry* entry = find(self, counted(gate, visitor));
        if (!entry || ((!gate.limit || entry->times < *gate.limit) && !gate.cooldown))
            return std::nullopt;
        return turnedAway(gate, *entry, tick, rate);
    }

    /// Forgets how often it sprang: for one self, or for all (S5).
    void forget(PieceIndex self)
    {
        std::erase_if(entries_, [&](const Entry& entry) { return entry.self == self; });
    }
    void forget() { entries_.clear(); }

    /// Only springing uses up a limit.
    void sprang(const scene::Gate& gate, PieceIndex self, PieceIndex visitor, std::int64_t tick);

  private:
    struct Entry {
        PieceIndex self;
        PieceIndex visitor;
        int times;
        std::int64_t last;
    };

    const Entry* find(PieceIndex self, PieceIndex who) const
    {
        for (const Entry& entry : entries_)
            if (entry.self == self && entry.visitor == who)
                return &entry;
        return nullptr;
    }

    static std::optional<std::string> turnedAway(const scene::Gate& gate, const Entry& entry, std::int64_t tick,
                                                 int rate);

    static PieceIndex counted(const scene::Gate& gate, PieceIndex visitor)
    {
        return gate.each == scene::Each::visitor ? visitor : nobody;
    }

    std::vector<Entry> entries_;
};

} // namespace snare::rules
