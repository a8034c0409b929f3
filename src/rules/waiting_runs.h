// SPDX-License-Identifier: Apache-2.0
/// The runs that wait for something before their next step (S8 to S10), found by what they wait
/// for.
#pragma once

#include "rules/deadlines.h"
#include "rules/run_state.h"

namespace snare::rules {

class WaitingRuns {
  public:
    bool empty() const { return slotOf_.empty(); }

    void clear()
    {
        runs_.clear();
        slotOf_.clear();
        byTick_.clear();
        byOrder_.clear();
        byRun_.clear();
        bySignal_.clear();
        byPlace_.clear();
        ofSelf_.clear();
    }

    /// Keeps a run that waits. Its `sequence` is later than that of all others.
    void add(RunState run)
    {
        const int slot = runs_.add(std::move(run));
        const RunState& kept = runs_[slot];
        slotOf_[kept.id] = slot;
        if (kept.waiting.untilTick >= 0)
            byTick_.add(kept.waiting.untilTick, slot);
        for (const std::uint32_t order : kept.waiting.orders)
            byOrder_[order] = kept.id;
        if (kept.waiting.run != 0)
            byRun_[kept.waiting.run] = kept.id;
        if (kept.waiting.signal != 0)
            bySignal_[kept.waiting.signal] = kept.id;
        byPlace_.append(placeOf(kept.snare, kept.self), slot);
        if (kept.self >= 0)
            ofSelf_.append(kept.self, slot);
    }

    RunState* find(std::uint32_t id)
    {
        const int* slot = slotOf_.find(id);
        return slot ? &runs_[*slot] : nullptr;
    }

    /// Takes a run out; nothing if it does not wait.
    std::optional<RunState> take(std::uint32_t id)
    {
        const int* slot = slotOf_.find(id);
        return slot ? std::optional(takeAt(*slot)) : std::nullopt;
    }

    /// Whether a snare has a run at a self that waits.
    bool isRunning(int snare, PieceIndex self) const { return byPlace_.contains(placeOf(snare, self)); }

    /// Takes out the runs of a snare at one self, in the order in which they began to wait.
    std::vector<RunState> takeOf(int snare, PieceIndex self) { return takeAll(byPlace_.of(placeOf(snare, self))); }

    /// The same of all runs of a self.
    std::vector<RunState> takeOf(PieceIndex self) { return takeAll(ofSelf_.of(self)); }

    /// The run that waits for a routine, a signal, a move or turn; nullptr if none does.
    RunState* waitingForRun(std::uint32_t run) { return lookUp(byRun_, run); }
    RunState* waitingForSignal(std::uint32_t signal) { return lookUp(bySignal_, signal); }
    RunState* waitingForOrder(std::uint32_t order) { return lookUp(byOrder_, order); }

    /// One of the orders that a run waits for has ended. True if it waits for no more of them.
    bool orderEnded(RunState& run, std::uint32_t order)
    {
        byOrder_.erase(order);
        std::erase(run.waiting.orders, order);
        return run.waiting.orders.empty();
    }

    /// Calls `visit(sequence, id)` for each whose time is over by `tick`, the earliest first.
    template <class Visit> void forEachDue(std::int64_t tick, Visit&& visit) const
    {
        for (const int slot : byTick_.dueBy(tick))
            visit(runs_[slot].sequence, runs_[slot].id);
    }

  private:
    static std::uint64_t placeOf(int snare, PieceIndex self)
    {
        return static_cast<std::uint64_t>(static_cast<std::uint32_t>(snare)) << 32 | static_cast<std::uint32_t>(self);
    }

    RunState* lookUp(const Lookup<std::uint32_t, std::uint32_t>& table, std::uint32_t key)
    {
        const std::uint32_t* id = table.find(key);
        return id ? find(*id) : nullptr;
    }

    std::vector<RunState> takeAll(const std::vector<int>& list)
    {
        std::vector<RunState> result;
        result.reserve(list.size());
        for (const int slot : list)
            result.push_back(takeAt(slot));
        return result;
    }

    RunState takeAt(int slot)
    {
        RunState run = runs_.take(slot);
        slotOf_.erase(run.id);
        if (run.waiting.untilTick >= 0)
            byTick_.remove(run.waiting.untilTick, slot);
        for (const std::uint32_t order : run.waiting.orders)
            byOrder_.erase(order);
        byRun_.erase(run.waiting.run);
        bySignal_.erase(run.waiting.signal);
        byPlace_.remove(placeOf(run.snare, run.self), slot);
        if (run.self >= 0)
            ofSelf_.remove(run.self, slot);
        return run;
    }

    Pool<RunState> runs_;
    Lookup<std::uint32_t, int> slotOf_; ///< by id
    Deadlines byTick_;
    Lookup<std::uint32_t, std::uint32_t> byOrder_; ///< ids
    Lookup<std::uint32_t, std::uint32_t> byRun_;
    Lookup<std::uint32_t, std::uint32_t> bySignal_;
    Chains<std::uint64_t> byPlace_; ///< of a snare at a self
    Chains<PieceIndex> ofSelf_;
};

} // namespace snare::rules
