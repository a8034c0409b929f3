// SPDX-License-Identifier: Apache-2.0
/// The gate stage of a snare: how often it springs (S4 to S6).
#pragma once

#include "rules/event.h"
#include "rules/lookup.h"

namespace snare::rules {

/// What the gate of one snare remembers of having sprung, for each self and, if it counts so, each
/// visitor.
class GateMemory {
  public:
    /// Why limit or cooldown turn the event away at `tick`, or nothing.
    std::optional<std::string> turnedAway(const scene::Gate& gate, PieceIndex self, PieceIndex visitor,
                                          std::int64_t tick, int rate) const
    {
        const auto* ofSelf = entries_.find(self);
        const Entry* entry = ofSelf ? ofSelf->find(counted(gate, visitor)) : nullptr;
        if (!entry || ((!gate.limit || entry->times < *gate.limit) && !gate.cooldown))
            return std::nullopt;
        return turnedAway(gate, *entry, tick, rate);
    }

    /// Forgets how often it sprang: for one self, or for all (S5).
    void forget(PieceIndex self) { entries_.erase(self); }
    void forget() { entries_.clear(); }
    /// Forgets it for the pieces from this one on: those that were spawned (T5).
    void forgetFrom(PieceIndex first)
    {
        entries_.eraseIf([&](PieceIndex self, Lookup<PieceIndex, Entry>& visitors) {
            visitors.eraseIf([&](PieceIndex visitor, const Entry&) { return visitor >= first; });
            return self >= first;
        });
    }

    /// Only springing uses up a limit.
    void sprang(const scene::Gate& gate, PieceIndex self, PieceIndex visitor, std::int64_t tick);

  private:
    struct Entry {
        int times = 0;
        std::int64_t last = 0;
    };

    static std::optional<std::string> turnedAway(const scene::Gate& gate, const Entry& entry, std::int64_t tick,
                                                 int rate);

    static PieceIndex counted(const scene::Gate& gate, PieceIndex visitor)
    {
        return gate.each == scene::Each::visitor ? visitor : nobody;
    }

    Lookup<PieceIndex, Lookup<PieceIndex, Entry>> entries_; ///< by self and who is counted
};

} // namespace snare::rules
