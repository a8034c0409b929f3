// SPDX-License-Identifier: Apache-2.0
/// The commit: the changes that responses asked for while an event was delivered take effect
/// together, and what they end or begin is queued (K4, K5, K7).
#pragma once

#include "rules/end_marks.h"
#include "rules/lookup.h"
#include "rules/pending_change.h"
#include "rules/tick_context.h"

#include <tuple>

namespace snare::rules {

struct Hold;

/// The line of the log that let a meeting begin or end: what moved its two pieces last or, if
/// something else has changed them, what that was (C1). -1: the start of the scene, or where the
/// pointer leads.
std::int32_t lineBehind(const detect::Change& change, const world::World& world);

class Commit {
  public:
    /// Back to the start: nothing is spawned, no restart was asked for.
    void clear();

    /// Lets all that is pending take effect. `frac`: when in the tick, in [0, 1]. A restart among
    /// it drops the rest.
    void carryOut(double frac, const TickContext& tick);

    bool restartAsked() const { return restartAsked_; }
    /// The snare that asked for the last restart, as a name.
    const std::string& restartedBy() const { return restartedBy_; }
    /// The line of the log that asked for it; -1: none did.
    std::int32_t restartBecause() const { return restartBecause_; }

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
    std::int32_t restartBecause_ = -1;

    // Of the commit under way.
    std::vector<PieceIndex> touched_; ///< pieces that something happened to
    EndMarks ends_;
    std::vector<PieceIndex> removed_;
    Lookup<PieceIndex, bool> isRemoved_;
    std::vector<std::pair<int, std::int32_t>> armed_; ///< snares, and the lines that armed them
    std::vector<Event> spawnEvents_;
    std::vector<Event> phaseEvents_;
    /// Owner, from, to, and the line of the log behind it.
    std::vector<std::tuple<PieceIndex, std::string, std::string, std::int32_t>> movedPhases_;
};

} // namespace snare::rules
