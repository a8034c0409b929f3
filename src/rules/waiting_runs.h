// SPDX-License-Identifier: Apache-2.0
/// The runs that wait for something before their next step (S8 to S10), found by what they wait for.
#pragma once

#include "rules/lookup.h"
#include "rules/run_state.h"

#include <map>
#include <set>

namespace snare::rules {

class WaitingRuns {
  public:
    bool empty() const { return bySequence_.empty(); }

    void clear()
    {
        bySequence_.clear();
        sequenceOf_.clear();
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
        const std::uint32_t sequence = run.sequence;
        sequenceOf_[run.id] = sequence;
        if (run.waiting.untilTick >= 0)
            byTick_.emplace(run.waiting.untilTick, sequence);
        for (const std::uint32_t order : run.waiting.orders)
            byOrder_[order] = run.id;
        if (run.waiting.run != 0)
            byRun_[run.waiting.run] = run.id;
        if (run.waiting.signal != 0)
            bySignal_[run.waiting.signal] = run.id;
        byPlace_[{run.snare, run.self}].insert(sequence);
        if (run.self >= 0)
            ofSelf_[run.self].insert(sequence);
        bySequence_.emplace(sequence, std::move(run));
    }

    RunState* find(std::uint32_t id)
    {
        const std::uint32_t* sequence = sequenceOf_.find(id);
        return sequence ? &bySequence_.at(*sequence) : nullptr;
    }

    /// Takes a run out; nothing if it does not wait.
    std::optional<RunState> take(std::uint32_t id)
    {
        const std::uint32_t* sequence = sequenceOf_.find(id);
        return sequence ? std::optional(takeAt(*sequence)) : std::nullopt;
    }

    /// Whether a snare has a run at a self that waits.
    bool isRunning(int snare, PieceIndex self) const { return byPlace_.contains({snare, self}); }

    /// Takes out the runs of a snare at one self, in the order in which they began to wait.
    std::vector<RunState> takeOf(int snare, PieceIndex self)
    {
        const auto found = byPlace_.find({snare, self});
        return found == byPlace_.end() ? std::vector<RunState>{} : takeAll(found->second);
    }

    /// The same of all runs of a self.
    std::vector<RunState> takeOf(PieceIndex self)
    {
        const auto found = ofSelf_.find(self);
        return found == ofSelf_.end() ? std::vector<RunState>{} : takeAll(found->second);
    }

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
        for (auto one = byTick_.begin(); one != byTick_.end() && one->first <= tick; ++one)
            visit(one->second, bySequence_.at(one->second).id);
    }

  private:
    using Sequences = std::set<std::uint32_t>;

    RunState* lookUp(const Lookup<std::uint32_t, std::uint32_t>& table, std::uint32_t key)
    {
        const std::uint32_t* id = table.find(key);
        return id ? find(*id) : nullptr;
    }

    std::vector<RunState> takeAll(const Sequences& sequences)
    {
        std::vector<RunState> result;
        for (const std::uint32_t sequence : std::vector(sequences.begin(), sequences.end()))
            result.push_back(takeAt(sequence));
        return result;
    }

    RunState takeAt(std::uint32_t sequence)
    {
        RunState run = std::move(bySequence_.extract(sequence).mapped());
        sequenceOf_.erase(run.id);
        byTick_.erase({run.waiting.untilTick, sequence});
        for (const std::uint32_t order : run.waiting.orders)
            byOrder_.erase(order);
        byRun_.erase(run.waiting.run);
        bySignal_.erase(run.waiting.signal);
        const auto forget = [&](auto& map, const auto& key) {
            const auto found = map.find(key);
            if (found != map.end() && (found->second.erase(sequence), found->second.empty()))
                map.erase(found);
        };
        forget(byPlace_, std::pair(run.snare, run.self));
        forget(ofSelf_, run.self);
        return run;
    }

    std::map<std::uint32_t, RunState> bySequence_;    ///< in the order in which they began to wait
    Lookup<std::uint32_t, std::uint32_t> sequenceOf_; ///< by id
    std::set<std::pair<std::int64_t, std::uint32_t>> byTick_;
    Lookup<std::uint32_t, std::uint32_t> byOrder_; ///< ids
    Lookup<std::uint32_t, std::uint32_t> byRun_;
    Lookup<std::uint32_t, std::uint32_t> bySignal_;
    std::map<std::pair<int, PieceIndex>, Sequences> byPlace_;
    std::map<PieceIndex, Sequences> ofSelf_;
};

} // namespace snare::rules
