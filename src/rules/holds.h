// SPDX-License-Identifier: Apache-2.0
/// What responses changed until the meeting that caused them ends (S13), and what was there before.
///
/// Several meetings may hold the same thing at once: what was before the first comes back with the last. A thing that
/// was held again later stays as the later hold made it.
#pragma once

#include "rules/event.h"

#include <optional>

namespace snare::rules {

struct Hold {
    enum class What { shown, enabled, value, added, tag, group, look, scale, factor, caption };

    std::uint32_t id = 0;
    PieceIndex self = theScene;  ///< of the run
    PieceIndex visitor = nobody; ///< of the meeting
    int shape = -1;              ///< of self, if the snare catches at one shape; else -1 (M9)
    What what = What::shown;
    PieceIndex piece = nobody;           ///< what is held
    int held = -1;                       ///< a shape of it, index in World::shapes; -1: the whole piece
    std::string name;                    ///< of the value or tag
    double number = 0;                   ///< before: group, look, scale; added, factor: by how much
    bool flag = false;                   ///< before: shown, enabled, tag
    std::optional<scene::Scalar> before; ///< value
    std::int32_t line = -1;              ///< caption

    /// Whether both change the same thing, so that the later one covers the earlier.
    bool covers(const Hold& other) const
    {
        return what == other.what && piece == other.piece && held == other.held && name == other.name &&
               what != What::added && what != What::factor && what != What::caption;
    }
};

class Holds {
  public:
    void clear() { list_.clear(); }
    bool empty() const { return list_.empty(); }

    /// Keeps a hold and gives it its id.
    std::uint32_t add(Hold hold)
    {
        hold.id = ++last_;
        list_.push_back(std::move(hold));
        return last_;
    }

    Hold* find(std::uint32_t id)
    {
        const auto found = std::ranges::find(list_, id, &Hold::id);
        return found == list_.end() ? nullptr : &*found;
    }

    /// Takes out the holds that `ends` and returns those that give something back, the last one first.
    template <class Ends> std::vector<Hold> release(Ends&& ends)
    {
        std::vector<Hold> back;
        for (std::size_t i = list_.size(); i-- > 0;) {
            if (!ends(std::as_const(list_[i])))
                continue;
            Hold hold = std::move(list_[i]);
            list_.erase(list_.begin() + static_cast<std::ptrdiff_t>(i));
            const auto later = std::find_if(list_.begin() + static_cast<std::ptrdiff_t>(i), list_.end(),
                                            [&](const Hold& other) { return other.covers(hold); });
            if (later == list_.end()) {
                back.push_back(std::move(hold));
                continue;
            }
            later->number = hold.number;
            later->flag = hold.flag;
            later->before = std::move(hold.before);
        }
        return back;
    }

  private:
    std::vector<Hold> list_; ///< in the order in which they were made
    std::uint32_t last_ = 0;
};

} // namespace snare::rules
