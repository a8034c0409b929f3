// SPDX-License-Identifier: Apache-2.0
/// What responses changed until the meeting that caused them ends (S13), and what was there before.
///
/// Several meetings may hold the same thing at once: what was before the first comes back with the last. A thing that
/// was held again later stays as the later hold made it.
#pragma once

#include "rules/presence.h"

#include <map>
#include <optional>
#include <set>
#include <tuple>

namespace snare::rules {

struct Hold {
    enum class What { shown, enabled, value, added, tag, group, look, scale, factor, caption };

    std::uint32_t id = 0;
    PieceIndex self = theScene;    ///< of the run
    MeetingId meeting = noMeeting; ///< with which it ends
    What what = What::shown;
    PieceIndex piece = nobody;           ///< what is held
    int held = -1;                       ///< a shape of it, index in World::shapes; -1: the whole piece
    std::string name;                    ///< of the value or tag
    double number = 0;                   ///< before: group, look, scale; added, factor: by how much
    bool flag = false;                   ///< before: shown, enabled, tag
    std::optional<scene::Scalar> before; ///< value
    std::int32_t line = -1;              ///< caption
};

class Holds {
  public:
    void clear()
    {
        list_.clear();
        ofThing_.clear();
        ofMeeting_.clear();
        ofSelf_.clear();
    }
    bool empty() const { return list_.empty(); }

    /// Keeps a hold and gives it its id.
    std::uint32_t add(Hold hold)
    {
        hold.id = ++last_;
        if (canBeCovered(hold))
            ofThing_[thingOf(hold)].insert(hold.id);
        ofMeeting_[hold.meeting].insert(hold.id);
        ofSelf_[hold.self].insert(hold.id);
        list_.emplace(hold.id, std::move(hold));
        return last_;
    }

    Hold* find(std::uint32_t id)
    {
        const auto found = list_.find(id);
        return found == list_.end() ? nullptr : &found->second;
    }

    /// Takes out the holds of meetings that have ended, and returns those that give something back, the last one first.
    std::vector<Hold> releaseOf(const Presence::Ended& ended)
    {
        std::vector<std::uint32_t> over;
        for (const MeetingId meeting : {ended.shape, ended.whole})
            if (const auto found = ofMeeting_.find(meeting); meeting != noMeeting && found != ofMeeting_.end())
                over.insert(over.end(), found->second.begin(), found->second.end());
        return release(std::move(over));
    }

    /// The same of those of runs whose self is gone.
    std::vector<Hold> releaseOf(PieceIndex self)
    {
        const auto found = ofSelf_.find(self);
        return found == ofSelf_.end() ? std::vector<Hold>{} : release({found->second.begin(), found->second.end()});
    }

  private:
    using Ids = std::set<std::uint32_t>;
    using Thing = std::tuple<Hold::What, PieceIndex, int, std::string>;

    static Thing thingOf(const Hold& hold) { return {hold.what, hold.piece, hold.held, hold.name}; }
    /// Whether a later hold of the same thing takes over what was before. What was added is taken off again, whoever
    /// added more.
    static bool canBeCovered(const Hold& hold)
    {
        return hold.what != Hold::What::added && hold.what != Hold::What::factor && hold.what != Hold::What::caption;
    }

    std::vector<Hold> release(std::vector<std::uint32_t> over)
    {
        std::ranges::sort(over, std::greater<>{});
        std::vector<Hold> back;
        for (const std::uint32_t id : over) {
            Hold hold = std::move(list_.extract(id).mapped());
            forget(ofMeeting_, hold.meeting, id);
            forget(ofSelf_, hold.self, id);
            Hold* later = nullptr;
            if (canBeCovered(hold)) {
                const auto& same = ofThing_[thingOf(hold)];
                if (const auto next = same.upper_bound(id); next != same.end())
                    later = find(*next);
                forget(ofThing_, thingOf(hold), id);
            }
            if (!later) {
                back.push_back(std::move(hold));
                continue;
            }
            later->number = hold.number;
            later->flag = hold.flag;
            later->before = std::move(hold.before);
        }
        return back;
    }

    template <class Map, class Key> static void forget(Map& map, const Key& key, std::uint32_t id)
    {
        const auto found = map.find(key);
        if (found->second.erase(id); found->second.empty())
            map.erase(found);
    }

    std::map<std::uint32_t, Hold> list_; ///< in the order in which they were made
    std::map<Thing, Ids> ofThing_;
    std::map<MeetingId, Ids> ofMeeting_;
    std::map<PieceIndex, Ids> ofSelf_;
    std::uint32_t last_ = 0;
};

} // namespace snare::rules
