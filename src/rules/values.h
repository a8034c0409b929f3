// SPDX-License-Identifier: Apache-2.0
/// Values: what responses set, what is watched about it, what is to be set back, and the clocks
/// that run by themselves.
#pragma once

#include "rules/clocks.h"
#include "rules/holds.h"
#include "rules/tick_context.h"
#include "rules/watches.h"

namespace snare::rules {

class Values {
  public:
    Values(const scene::Scene& scene, const Book& book) : watches_(scene, book) {}

    /// Back to the start: nothing is held, no level was passed, the clocks start at `tick`.
    void reset(const scene::Scene& scene, const world::World& world, std::int64_t tick);

    /// A dial goes to `value`, kept within what it allows (P8).
    void setDial(std::size_t source, double value, const TickContext& tick);
    /// Sets a value of any owner: a property or variable, a dial, or a built-in number that can be
    /// set; what moves a piece takes effect with the commit. No `value`: it has one no longer.
    void setAny(PieceIndex owner, const std::string& name, const scene::Scalar* value, const TickContext& tick);
    /// The same for a property or variable that is a number already: `held` is where, `word` its
    /// name in the journal.
    void setNumber(PieceIndex owner, const std::string& name, Texts::Id word, double& held, double now,
                   const TickContext& tick);
    /// A number went from `old` to `now`: those who watch it hear of each level that it passed
    /// (P9).
    void judge(PieceIndex owner, std::string_view name, double old, double now, const TickContext& tick);
    bool isWatched(std::string_view name) const { return watches_.isWatched(name); }
    /// Which number and level a snare watches, or -1.
    int watchOf(int snare) const { return watches_.of(snare); }

    /// Puts a look on a piece; shapes traced from it follow with the commit (K7).
    void putOn(PieceIndex piece, int look, const TickContext& tick);

    /// Keeps what was before until a meeting ends (S13). Returns its number.
    std::uint32_t hold(Hold hold) { return holds_.add(std::move(hold)); }
    /// What is kept under a number, or nullptr.
    Hold* findHold(std::uint32_t id) { return holds_.find(id); }
    /// What ended meetings held is as it was before; the same of what runs of a self held that is
    /// gone.
    void release(const Presence::Ended& ended, const TickContext& tick)
    {
        if (!holds_.empty())
            giveBack(holds_.releaseOf(ended), tick);
    }
    void release(PieceIndex self, const TickContext& tick) { giveBack(holds_.releaseOf(self), tick); }

    /// The clocks of a piece that has come into the scene.
    void startClocks(PieceIndex piece, const TickContext& tick);
    bool hasTimer(std::string_view name, PieceIndex self) { return clocks_.hasTimer(name, self); }
    /// Starts a timer of self, or else of the scene, anew, or stops it; false if there is none of
    /// that name.
    bool changeTimer(std::string_view name, PieceIndex self, bool runs, const TickContext& tick)
    {
        return clocks_.change(name, self, runs, tick.number, tick.journal.cause);
    }
    /// What has elapsed by `tick`; see Clocks.
    std::vector<Event> dueClocks(const world::World& world, std::int64_t tick, int rate)
    {
        return clocks_.due(world, tick, rate);
    }

  private:
    void setValue(PieceIndex owner, const std::string& name, const scene::Scalar* value, const TickContext& tick);
    Event* queueChanged(PieceIndex owner, const std::string& name, Texts::Id word, double number,
                        const TickContext& tick);
    void giveBack(const std::vector<Hold>& holds, const TickContext& tick);

    Watches watches_;
    Holds holds_;
    Clocks clocks_;
};

} // namespace snare::rules
