// SPDX-License-Identifier: Apache-2.0
/// What responses changed until the meeting that caused them ends (S13), and what was there before.
///
/// Several meetings may hold the same thing at once: what was before the first comes back with the
/// last. A thing that was held again later stays as the later hold made it.
#pragma once

#include "rules/chains.h"
#include "rules/presence.h"

#include <boost/functional/hash.hpp>

#include <optional>
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
        holds_.clear();
        slotOf_.clear();
        ofThing_.clear();
        ofMeeting_.clear();
        ofSelf_.clear();
    }
    bool empty() const { return slotOf_.empty(); }

    /// Keeps a hold and gives it its id.
    std::uint32_t add(Hold hold)
    {
        hold.id = ++last_;
        const int slot = holds_.add(std::move(hold));
        const Hold& kept = holds_[slot];
        slotOf_[kept.id] = slot;
        if (canBeCovered(kept))
            ofThing_.append(thingOf(kept), slot);
        ofMeeting_.append(kept.meeting, slot);
        ofSelf_.append(kept.self, slot);
        return last_;
    }

    Hold* find(std::uint32_t id)
    {
        const int* slot = slotOf_.find(id);
        return slot ? &holds_[*slot] : nullptr;
    }

    /// Takes out the holds of meetings that have ended, and returns those that give something back,
    /// the last one first.
    std::vector<Hold> releaseOf(const Presence::Ended& ended)
    {
        std::vector<int> over;
        for (const MeetingId meeting : {ended.shape, ended.whole})
            if (meeting != noMeeting)
                ofMeeting_.addTo(over, meeting);
        return release(std::move(over));
    }

    /// The same of those of runs whose self is gone.
    std::vector<Hold> releaseOf(PieceIndex self) { return release(ofSelf_.of(self)); }

  private:
    using Thing = std::tuple<Hold::What, PieceIndex, int, std::string>;

    static Thing thingOf(const Hold& hold) { return {hold.what, hold.piece, hold.held, hold.name}; }
    /// Whether a later hold of the same thing takes over what was before. What was added is taken
    /// off again, whoever added more.
    static bool canBeCovered(const Hold& hold)
    {
        return hold.what != Hold::What::added && hold.what != Hold::What::factor && hold.what != Hold::What::caption;
    }

    std::vector<Hold> release(std::vector<int> over)
    {
        std::ranges::sort(over, std::greater<>{}, [&](int slot) { return holds_[slot].id; });
        std::vector<Hold> back;
        for (const int slot : over) {
            Hold hold = holds_.take(slot);
            slotOf_.erase(hold.id);
            ofMeeting_.remove(hold.meeting, slot);
            ofSelf_.remove(hold.self, slot);
            Hold* later = nullptr;
            if (canBeCovered(hold)) {
                if (const int next = ofThing_.after(slot); next >= 0)
                    later = &holds_[next];
                ofThing_.remove(thingOf(hold), slot);
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

    Pool<Hold> holds_;
    Lookup<std::uint32_t, int> slotOf_; ///< by id
    Chains<Thing, boost::hash<Thing>> ofThing_;
    Chains<MeetingId> ofMeeting_;
    Chains<PieceIndex> ofSelf_;
    std::uint32_t last_ = 0;
};

} // namespace snare::rules
