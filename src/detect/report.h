// SPDX-License-Identifier: Apache-2.0
/// The report of a detection: what one tick did to pairs of shapes, told for both sides as enter,
/// exit, hit and stay, in the order of M12 (M8 to M12). Private to this floor.
#pragma once

#include "detect/change.h"

#include <atomic>
#include <span>

namespace snare::detect {

/// What one tick did to a pair, told for one side.
struct Touch {
    int shape;
    PieceIndex visitor;
    int part;
    Manner manner;
    bool was;     ///< touched before this tick
    bool is;      ///< touches at its end
    double begin; ///< frac, if it was not
    double end;   ///< frac, if it is not
    Cause beginCause;
    Cause endCause;
};

class Report {
  public:
    void clear()
    {
        touches_.clear();
        changes_.clear();
    }

    /// Notes one side of what happened to a pair. The same side may be noted twice.
    void add(const Touch& touch) { touches_.push_back(touch); }
    /// What was noted so far.
    std::span<const Touch> touches() const { return touches_; }

    /// Tells what was noted, sorted; left half done once `cancelled` is set. With `atStart` there
    /// are no hits.
    void tell(const World& world, bool atStart, bool withStays, const std::atomic<bool>* cancelled);

    /// What was told, until the next `clear`.
    std::vector<Change>& changes() { return changes_; }

  private:
    struct Key {
        std::uint64_t first;
        std::size_t index;
    };

    template <class Item, class FirstOf, class RestOf>
    void sortBy(std::vector<Item>& items, std::vector<Item>& room, FirstOf&& firstOf, RestOf&& restOf);
    void tellGroup(const World& world, std::span<const Touch> touches, bool atStart, bool withStays);
    void tellHit(const World& world, const Touch& touch);

    std::vector<Touch> touches_;
    std::vector<Change> changes_;
    std::vector<Key> keys_; ///< for sorting, like the next ones
    std::vector<Key> spreadKeys_;
    std::vector<std::uint32_t> buckets_;
    std::vector<Touch> sortedTouches_;
    std::vector<Change> sortedChanges_;
};

} // namespace snare::detect
