// SPDX-License-Identifier: Apache-2.0
/// Response runs: lists of responses on their way, step by step, and what they wait for (S8 to
/// S10).
#pragma once

#include "rules/tick_context.h"
#include "rules/waiting_runs.h"

namespace snare::rules {

class ResponseRuns {
  public:
    /// Back to the start: no run waits.
    void clear()
    {
        waiting_.clear();
        signalWaits_.clear();
    }

    bool empty() const { return waiting_.empty(); }
    /// Whether a snare has a run at a self that waits.
    bool isRunning(int snare, PieceIndex self) const { return waiting_.isRunning(snare, self); }

    /// Carries out steps of a new run until it waits or ends. Returns its number if it waits,
    /// else 0.
    std::uint32_t start(RunState&& run, const TickContext& tick);
    /// A run that waited goes on, if it is still there.
    void resume(std::uint32_t id, const TickContext& tick);
    /// Ends the runs of a snare at one self (S8), or all of a self that is gone (S9): no step of
    /// them follows.
    void end(int snare, PieceIndex self, const TickContext& tick) { end(waiting_.takeOf(snare, self), tick); }
    void end(PieceIndex self, const TickContext& tick) { end(waiting_.takeOf(self), tick); }

    /// Calls `visit(sequence, id)` for each whose time is over by `tick`.
    template <class Visit> void forEachDue(std::int64_t tick, Visit&& visit) const { waiting_.forEachDue(tick, visit); }
    /// The next number among the waits and dwells, which go on in the order in which they began
    /// (K2).
    std::uint32_t nextSequence() { return ++lastSequence_; }

    /// A number for a signal whose runs are waited for (S10).
    std::uint32_t waitForSignal();
    /// The waited signal starts one more run.
    void addToSignal(std::uint32_t number) { ++signalWaits_.find(number)->open; }
    /// Everybody has been offered the waited signal.
    void signalDelivered(std::uint32_t number, const TickContext& tick);

    /// A move or turn has ended: who waits for it goes on (V3). `overtaken`: the response that took
    /// it over, or empty.
    void orderEnded(std::uint32_t order, std::string_view overtaken, const TickContext& tick);

  private:
    std::uint32_t carryOut(RunState&& run, const TickContext& tick);
    void ended(const RunState& run, const TickContext& tick);
    void end(const std::vector<RunState>& runs, const TickContext& tick);
    void signalDone(std::uint32_t number, const TickContext& tick);

    WaitingRuns waiting_;
    Lookup<std::uint32_t, SignalWait> signalWaits_; ///< by number
    std::uint32_t lastRun_ = 0;
    std::uint32_t lastSequence_ = 0;
    std::uint32_t lastSignal_ = 0;
};

} // namespace snare::rules
