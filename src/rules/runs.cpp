// SPDX-License-Identifier: Apache-2.0
/// How response lists run: step by step, waiting, and what waits for them (S8 to S10).
#include "rules/engine.h"

#include "rules/response_context.h"
#include "rules/responses.h"

#include <fmt/format.h>

namespace snare::rules {

void Engine::resume(std::uint32_t id, const TickContext& hand)
{
    auto run = runs_.take(id);
    if (!run)
        return;
    run->waiting = {};
    carryOut(std::move(*run), hand);
}

std::uint32_t Engine::carryOut(RunState&& run, const TickContext& hand)
{
    ResponseContext context{*this, hand, run};
    while (run.step < run.list->size() && stopReason_.empty() && !hand.isCancelled()) {
        rules::carryOut((*run.list)[run.step++], context);
        checkOverrun(run.snare);
        if (!run.waiting.anything())
            continue;
        if (run.self >= 0 && !hand.world.piece(run.self).present)
            break; // S9: up to the first wait
        run.keepEvent();
        run.sequence = ++lastSequence_;
        const std::uint32_t id = run.id;
        runs_.add(std::move(run));
        return id;
    }
    if (!runs_.empty() || run.startedBy != 0)
        ended(run);
    return 0;
}

void Engine::ended(const RunState& run)
{
    if (const RunState* other = runs_.waitingForRun(run.id)) // whoever waits for this routine goes on
        goOn(other->id);
    if (run.startedBy == 0)
        return;
    SignalWait* wait = signalWait(run.startedBy);
    if (wait && --wait->open == 0 && wait->delivered)
        signalDone(run.startedBy);
}

void Engine::endRuns(std::vector<RunState> runs)
{
    for (const RunState& run : runs)
        ended(run);
}

void Engine::signalDone(std::uint32_t number)
{
    signalWaits_.erase(number);
    if (const RunState* run = runs_.waitingForSignal(number))
        goOn(run->id);
}

void Engine::orderEnded(std::uint32_t order, std::string_view overtaken, const TickContext& hand)
{
    RunState* run = runs_.waitingForOrder(order);
    if (!run)
        return;
    if (!overtaken.empty()) {
        Line& line = hand.journal.add(LineKind::note);
        line.snare = run->snare;
        line.about = run->event().line;
        line.step = static_cast<std::int32_t>(run->step);
        line.routine = hand.journal.texts.keep(run->routine);
        line.text = hand.journal.texts.keep(
            fmt::format("{} goes on: its move was overtaken by {}", snareAt(run->snare).id, overtaken));
    }
    if (runs_.orderEnded(*run, order))
        goOn(run->id);
}

} // namespace snare::rules
