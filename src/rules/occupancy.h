// SPDX-License-Identifier: Apache-2.0
/// How many are inside, as each snare counts them: the visitors that passed its filter when they
/// entered (M11).
///
/// Who was counted in is kept under the meeting with which it was, and is counted out when that
/// meeting ends, whatever the catch of the snare would say by then.
#pragma once

#include "rules/lookup.h"
#include "rules/presence.h"

namespace snare::rules {

class Occupancy {
  public:
    void clear()
    {
        counts_.clear();
        counted_.clear();
    }

    /// Counts the visitor of a meeting in; true if it is the first.
    bool enter(int snare, PieceIndex self, MeetingId meeting)
    {
        std::vector<int>& by = counted_[meeting];
        if (std::ranges::find(by, snare) != by.end())
            return false;
        by.push_back(snare);
        return ++counts_[self][snare] == 1;
    }

    /// Counts out whoever was counted in with a meeting. Calls `emptied(snare)` for each snare that
    /// counts nobody now.
    template <class Emptied> void leave(PieceIndex self, MeetingId meeting, Emptied&& emptied)
    {
        const std::vector<int>* by = counted_.find(meeting);
        if (!by)
            return;
        const std::vector<int> snares = *by;
        counted_.erase(meeting);
        for (const int snare : snares) {
            if (--counts_[self][snare] != 0)
                continue;
            counts_[self].erase(snare);
            if (counts_[self].empty())
                counts_.erase(self);
            emptied(snare);
        }
    }

  private:
    Lookup<PieceIndex, Lookup<int, int>> counts_; ///< by self and snare
    Lookup<MeetingId, std::vector<int>> counted_; ///< the snares that counted the visitor in
};

} // namespace snare::rules
