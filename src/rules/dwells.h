// SPDX-License-Identifier: Apache-2.0
/// Visitors that must stay a while before a snare springs (S4). Each is kept under the meeting that must last.
#pragma once

#include "rules/presence.h"

#include <map>
#include <set>

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
        bySequence_.clear();
        byMeeting_.clear();
        byTick_.clear();
    }

    bool has(int snare, MeetingId meeting) const
    {
        const auto found = byMeeting_.find(meeting);
        return found != byMeeting_.end() && std::ranges::any_of(found->second, [&](std::uint32_t one) {
                   return bySequence_.at(one).snare == snare;
               });
    }

    void add(Dwell dwell)
    {
        byMeeting_[dwell.meeting].push_back(dwell.sequence);
        byTick_.emplace(dwell.untilTick, dwell.sequence);
        bySequence_.emplace(dwell.sequence, std::move(dwell));
    }

    /// Calls `visit(sequence)` for each that is over by `tick`, the earliest first.
    template <class Visit> void forEachDue(std::int64_t tick, Visit&& visit) const
    {
        for (auto one = byTick_.begin(); one != byTick_.end() && one->first <= tick; ++one)
            visit(one->second);
    }

    /// Takes one out; nothing if it is no longer there.
    std::optional<Dwell> take(std::uint32_t sequence)
    {
        const auto found = bySequence_.find(sequence);
        if (found == bySequence_.end())
            return std::nullopt;
        Dwell dwell = std::move(found->second);
        bySequence_.erase(found);
        byTick_.erase({dwell.untilTick, sequence});
        const auto same = byMeeting_.find(dwell.meeting);
        if (std::erase(same->second, sequence); same->second.empty())
            byMeeting_.erase(same);
        return dwell;
    }

    /// Takes out those of meetings that have ended, in the order in which they were started.
    std::vector<Dwell> takeOf(const Presence::Ended& ended)
    {
        std::vector<std::uint32_t> over;
        for (const MeetingId meeting : {ended.shape, ended.whole})
            if (const auto found = byMeeting_.find(meeting); found != byMeeting_.end())
                over.insert(over.end(), found->second.begin(), found->second.end());
        std::ranges::sort(over);
        std::vector<Dwell> result;
        for (const std::uint32_t sequence : over)
            result.push_back(*take(sequence));
        return result;
    }

  private:
    std::map<std::uint32_t, Dwell> bySequence_;
    std::unordered_map<MeetingId, std::vector<std::uint32_t>> byMeeting_; ///< to look up, never to walk over
    std::set<std::pair<std::int64_t, std::uint32_t>> byTick_;
};

} // namespace snare::rules
