// SPDX-License-Identifier: Apache-2.0
/// Visitors that must stay a while before a snare springs (S4). Each is kept under the meeting that
/// must last.
#pragma once

#include "rules/deadlines.h"
#include "rules/presence.h"

namespace snare::rules {

struct Dwell {
    std::uint32_t sequence = 0; ///< among waits and dwells, in the order in which they were started (K2)
    int snare = -1;
    PieceIndex self = theScene;
    MeetingId meeting = noMeeting; ///< with the shape that the snare catches at, else with the piece
    Event event;
    std::int64_t untilTick = 0;
};

class Dwells {
  public:
    void clear()
    {
        dwells_.clear();
        slotOf_.clear();
        byMeeting_.clear();
        byTick_.clear();
    }

    bool has(int snare, MeetingId meeting) const
    {
        return std::ranges::any_of(byMeeting_.of(meeting), [&](int slot) { return dwells_[slot].snare == snare; });
    }

    /// Keeps a dwell. Its `sequence` is later than that of all others.
    void add(Dwell dwell)
    {
        const int slot = dwells_.add(std::move(dwell));
        const Dwell& kept = dwells_[slot];
        slotOf_[kept.sequence] = slot;
        byMeeting_.append(kept.meeting, slot);
        byTick_.add(kept.untilTick, slot);
    }

    /// Calls `visit(sequence)` for each that is over by `tick`, the earliest first.
    template <class Visit> void forEachDue(std::int64_t tick, Visit&& visit) const
    {
        for (const int slot : byTick_.dueBy(tick))
            visit(dwells_[slot].sequence);
    }

    /// Takes one out; nothing if it is no longer there.
    std::optional<Dwell> take(std::uint32_t sequence)
    {
        const int* found = slotOf_.find(sequence);
        if (!found)
            return std::nullopt;
        const int slot = *found;
        Dwell dwell = dwells_.take(slot);
        slotOf_.erase(sequence);
        byMeeting_.remove(dwell.meeting, slot);
        byTick_.remove(dwell.untilTick, slot);
        return dwell;
    }

    /// Takes out those of meetings that have ended, in the order in which they were started.
    std::vector<Dwell> takeOf(const Presence::Ended& ended)
    {
        std::vector<std::uint32_t> over;
        for (const MeetingId meeting : {ended.shape, ended.whole})
            for (const int slot : byMeeting_.of(meeting))
                over.push_back(dwells_[slot].sequence);
        std::ranges::sort(over);
        std::vector<Dwell> result;
        result.reserve(over.size());
        for (const std::uint32_t sequence : over)
            result.push_back(*take(sequence));
        return result;
    }

  private:
    Pool<Dwell> dwells_;
    Lookup<std::uint32_t, int> slotOf_; ///< by sequence
    Chains<MeetingId> byMeeting_;
    Deadlines byTick_;
};

} // namespace snare::rules
