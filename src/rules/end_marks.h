// SPDX-License-Identifier: Apache-2.0
/// What happened to shapes in one settling that may end their meetings, and what each end is put
/// down to (K5).
#pragma once

#include "rules/event.h"

#include <array>

namespace snare::rules {

class EndMarks {
  public:
    /// Forgets what was marked before.
    void clear()
    {
        for (const int shape : marked_)
            marks_[static_cast<std::size_t>(shape)].fill(0);
        marked_.clear();
        count_ = 0;
    }

    /// Notes that this happened to a shape, later than all before.
    void mark(int shape, Cause cause) { at(shape)[placeOf(cause)] = ++count_; }
    /// It was taken back in the same settling.
    void unmark(int shape, Cause cause) { at(shape)[placeOf(cause)] = 0; }

    /// What an end is put down to on the side of one shape; `moved`: nothing. A regroup counts only
    /// if the groups no longer allow the meeting as it was.
    Cause of(int shape, bool groupsEndIt) const
    {
        Cause found = Cause::moved;
        if (static_cast<std::size_t>(shape) >= marks_.size())
            return found; // nothing happened to it
        int latest = 0;
        for (std::size_t i = 0; i < causes.size(); ++i) {
            const int when = marks_[static_cast<std::size_t>(shape)][i];
            if (when == 0 || (causes[i] == Cause::regrouped && !groupsEndIt))
                continue;
            if (causes[i] == Cause::removed)
                return Cause::removed; // before all others
            if (when > latest) {
                latest = when;
                found = causes[i];
            }
        }
        return found;
    }

  private:
    static constexpr std::array causes{Cause::removed, Cause::disabled, Cause::hidden,
                                       Cause::phase,   Cause::attached, Cause::regrouped};
    using Mark = std::array<int, causes.size()>; ///< when, counted within the settling; 0: not

    static std::size_t placeOf(Cause cause)
    {
        return static_cast<std::size_t>(std::ranges::find(causes, cause) - causes.begin());
    }

    Mark& at(int shape)
    {
        if (static_cast<std::size_t>(shape) >= marks_.size())
            marks_.resize(static_cast<std::size_t>(shape) + 1);
        marked_.push_back(shape);
        return marks_[static_cast<std::size_t>(shape)];
    }

    std::vector<Mark> marks_; ///< by shape
    std::vector<int> marked_;
    int count_ = 0;
};

} // namespace snare::rules
