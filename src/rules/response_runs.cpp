// SPDX-License-Identifier: Apache-2.0
/// How response lists run: step by step, waiting, and what waits for them (S8 to S10).
#include "rules/response_runs.h"

#include "rules/event_queue.h"

#include <fmt/format.h>

namespace snare::rules {

std::uint32_t ResponseRuns::start(RunState&& run, const TickContext& tick)
{
    run.id = ++lastRun_;
    return carryOut(std::move(run), tick);
}

void ResponseRuns::resume(std::uint32_t id, const TickContext& tick)
{
    auto run = waiting_.take(id);
    if (!run)
        return;
    run->waiting = {};
    carryOut(std::move(*run), tick);
}

std::uint32_t ResponseRuns::carryOut(RunState&& run, const TickContext& tick)
{
    tick.carryOutSteps(run, tick);
    const bool isGone = run.self >= 0 && !tick.world.piece(run.self).present; // S9: up to the first wait
    if (run.waiting.anything() && !isGone) {
        run.keepEvent();
        run.sequence = ++lastSequence_;
        const std::uint32_t id = run.id;
        waiting_.add(std::move(run));
        return id;
    }
    if (!waiting_.empty() || run.startedBy != 0)
        ended(run, tick);
    return 0;
}

void ResponseRuns::ended(const RunState& run, const TickContext& tick)
{
    if (const RunState* other = waiting_.waitingForRun(run.id)) // whoever waits for this routine goes on
        tick.queue.add(Item::Kind::resume, other->id);
    if (run.startedBy == 0)
        return;
    SignalWait* wait = signalWaits_.find(run.startedBy);
    if (wait && --wait->open == 0 && wait->delivered)
        signalDone(run.startedBy, tick);
}

void ResponseRuns::end(const std::vector<RunState>& runs, const TickContext& tick)
{
    for (const RunState& run : runs)
        ended(run, tick);
}

std::uint32_t ResponseRuns::waitForSignal()
{
    signalWaits_[++lastSignal_] = {};
    return lastSignal_;
}

void ResponseRuns::signalDelivered(std::uint32_t number, const TickContext& tick)
{
    SignalWait& wait = *signalWaits_.find(number);
    wait.delivered = true;
    if (wait.open == 0)
        signalDone(number, tick);
}

/// All runs that a waited signal started have ended (S10).
void ResponseRuns::signalDone(std::uint32_t number, const TickContext& tick)
{
    signalWaits_.erase(number);
    if (const RunState* run = waiting_.waitingForSignal(number))
        tick.queue.add(Item::Kind::resume, run->id);
}

void ResponseRuns::orderEnded(std::uint32_t order, std::string_view overtaken, const TickContext& tick)
{
    RunState* run = waiting_.waitingForOrder(order);
    if (!run)
        return;
    if (!overtaken.empty()) {
        Line& line = tick.journal.add(LineKind::note);
        line.snare = run->snare;
        line.about = run->event().line;
        line.step = static_cast<std::int32_t>(run->step);
        line.routine = tick.journal.texts.keep(run->routine);
        line.text = tick.journal.texts.keep(
            fmt::format("{} goes on: its move was overtaken by {}", tick.snareAt(run->snare).id, overtaken));
    }
    if (waiting_.orderEnded(*run, order))
        tick.queue.add(Item::Kind::resume, run->id);
}

} // namespace snare::rules
