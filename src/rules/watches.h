// SPDX-License-Identifier: Apache-2.0
/// Numbers that snares watch (P9): when one goes from at most a level to above it, or from at least
/// to below.
///
/// Snares that watch the same number for the same level share one watch, wherever they catch, so
/// that each crossing at a piece is one event. Who hears it is asked when it is delivered (S1).
#pragma once

#include "rules/book.h"
#include "rules/lookup.h"

#include <functional>

namespace snare::rules {

struct Watch {
    std::vector<Where> where; ///< whose selves are meant, in book order
    std::string owner;        ///< `self`, `scene`, or the id of a piece or source
    std::string name;         ///< of the number
    std::string word;         ///< as snares name it: the source, or the path
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
    bool isWatched(std::string_view name) const { return byName_.contains(name); }

    /// A number of `owner` changed: calls `crossed(watch, self, kind)` for each crossing.
    void judge(PieceIndex owner, std::string_view name, double old, double now, const world::World& world,
               const std::function<void(int watch, PieceIndex self, EventKind kind)>& crossed);

  private:
    struct State {
        bool mustDip = false;  ///< after `rises`: it must go below the level by the band first
        bool mustPeak = false; ///< after `falls`: above
    };
    struct HashOfText : std::hash<std::string_view> {
        using is_transparent = void;
    };

    /// The pieces, or the scene, at which a number of `owner` is watched, each once.
    static std::vector<PieceIndex> selvesOf(const Watch& watch, PieceIndex owner, const world::World& world);

    std::vector<Watch> list_;
    std::unordered_map<std::string, std::vector<int>, HashOfText, std::equal_to<>> byName_;
    std::vector<int> bySnare_;            ///< index in the list, or -1
    Lookup<std::uint64_t, State> states_; ///< by watch and self; only of watches with a band
};

} // namespace snare::rules
