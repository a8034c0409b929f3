// SPDX-License-Identifier: Apache-2.0
/// The commit: the changes that responses asked for while an event was delivered take effect together, and what they
/// end or begin is queued (K4, K5, K7).
#pragma once

#include "rules/end_marks.h"
#include "rules/lookup.h"
#include "rules/pending_change.h"
#include "rules/tick_context.h"

#include <tuple>

namespace snare::rules {

struct Hold;

class Commit {
  public:
    /// Back to the start: nothing is spawned, no restart was asked for.
    void clear();

    /// Lets all that is pending take effect. `frac`: when in the tick, in [0, 1]. A restart among it drops the rest.
    void carryOut(double frac, const TickContext& tick);

    bool restartAsked() const { return restartAsked_; }
    /// The snare that asked for the last restart, as a name.
    const std::string& restartedBy() const { return restartedBy_; }

  private:
    void begin();
    void apply(const PendingChange& change, const TickContext& tick);
    void applyToPiece(const PendingChange& change, const TickContext& tick);
    void applyArm(const PendingChange& change, const TickContext& tick);
    void applyFlag(const PendingChange& change, Hold* hold, const TickContext& tick);
    void applyGroup(const PendingChange& change, Hold* hold, const TickContext& tick);
    void applyPhase(const PendingChange& change, const TickContext& tick);
    void applySpawn(const SpawnOrder& order, const TickContext& tick);
    void applyAttach(const PendingChange& change, const TickContext& tick);
    void applyRemove(const PendingChange& change, const TickContext& tick);
    bool applyPut(const PendingChange& change, const TickContext& tick);
    void endOrders(PieceIndex piece, std::string_view by, const TickContext& tick);
    void moveScenePhase(int phase, const TickContext& tick);
    void queueEnds(double frac, const TickContext& tick);
    void queueRemoved(const TickContext& tick);

    int spawnedAtOnce_ = 0; ///< spawned pieces that are there
    bool restartAsked_ = false;
    std::string restartedBy_;

    // Of the commit under way.
    std::vector<PieceIndex> touched_; ///< pieces that something happened to
    EndMarks ends_;
    std::vector<PieceIndex> removed_;
    Lookup<PieceIndex, bool> isRemoved_;
    std::vector<int> armed_;
    std::vector<Event> spawnEvents_;
    std::vector<Event> phaseEvents_;
    std::vector<std::tuple<PieceIndex, std::string, std::string>> movedPhases_; ///< owner, from, to
};

} // namespace snare::rules
