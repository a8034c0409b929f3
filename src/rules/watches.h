// SPDX-License-Identifier: Apache-2.0
/// Numbers that snares watch (P9): when one goes from at most a level to above it, or from at least to below.
///
/// Snares that watch the same number for the same level share one watch, so that each crossing is one event.
#pragma once

#include "rules/book.h"

#include <functional>

namespace snare::rules {

struct Watch {
    Where where;       ///< whose self is meant
    std::string owner; ///< `self`, `scene`, or the id of a piece or source
    std::string name;  ///< of the number
    std::string word;  ///< as snares name it: the source, or the path
    double level = 0;
    double band = 0;
};

class Watches {
  public:
    Watches() = default;
    Watches(const scene::Scene& scene, const Book& book);

    bool empty() const { return list_.empty(); }
    /// The watch of a snare, or -1.
    int of(int snare) const { return bySnare_[static_cast<std::size_t>(snare)]; }
    /// What snares call the number that it is about.
    const std::string& wordOf(int watch) const { return list_[static_cast<std::size_t>(watch)].word; }
    void reset() { states_.clear(); }

    /// Whether anything of this name is watched; the quick way out.
    bool isWatched(std::string_view name) const;

    /// A number of `owner` changed: calls `crossed(watch, self, kind)` for each crossing.
    void judge(PieceIndex owner, std::string_view name, double old, double now, const world::World& world,
               const std::function<void(int watch, PieceIndex self, EventKind kind)>& crossed);

  private:
    struct State {
        int watch;
        PieceIndex self;
        bool mustDip = false;  ///< after `rises`: it must go below the level by the band first
        bool mustPeak = false; ///< after `falls`: above
    };

    State& stateOf(int watch, PieceIndex self);

    std::vector<Watch> list_;
    std::vector<int> bySnare_;  ///< index in the list, or -1
    std::vector<State> states_; ///< only of watches with a band
};

} // namespace snare::rules
