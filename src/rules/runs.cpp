// SPDX-License-Identifier: Apache-2.0
/// How response lists run: step by step, waiting, and what waits for them (S8 to S10).
#include "rules/engine.h"

#include "rules/doing.h"

#include <fmt/format.h>

namespace snare::rules {

void Engine::resume(std::uint32_t id, const Stagehand& hand)
{
    const auto found = std::ranges::find(runs_, id, &RunState::id);
    if (found == runs_.end())
        return;
    RunState run = std::move(*found);
    runs_.erase(found);
    run.waiting = {};
    carryOut(std::move(run), hand);
}

std::uint32_t Engine::carryOut(RunState&& run, const Stagehand& hand)
{
    Doing doing{*this, hand, run};
    while (run.step < run.list->size() && stopReason_.empty()) {
        doing.carryOut((*run.list)[run.step++]);
        checkOverrun(run.snare);
        if (!run.waiting.anything())
            continue;
        if (run.self >= 0 && !hand.world.piece(run.self).present)
            break; // S9: up to the first wait
        run.keepEvent();
        run.sequence = ++lastSequence_;
        runs_.push_back(std::move(run));
        return runs_.back().id;
    }
    if (!runs_.empty() || run.startedBy != 0)
        ended(run);
    return 0;
}

void Engine::ended(const RunState& run)
{
    for (const RunState& other : runs_) // whoever waits for this routine goes on
        if (other.waiting.run == run.id)
            agenda_.add(Item::Kind::resume, other.id);
    if (run.startedBy == 0)
        return;
    const auto wait = std::ranges::find(signalWaits_, run.startedBy, &SignalWait::number);
    if (wait != signalWaits_.end() && --wait->open == 0 && wait->delivered)
        signalDone(wait->number);
}

void Engine::endRuns(const std::function<bool(const RunState&)>& which)
{
    for (std::size_t i = 0; i < runs_.size();) {
        if (!which(runs_[i])) {
            ++i;
            continue;
        }
        const RunState run = std::move(runs_[i]);
        runs_.erase(runs_.begin() + static_cast<std::ptrdiff_t>(i));
        ended(run);
    }
}

void Engine::signalDone(std::uint32_t number)
{
    std::erase_if(signalWaits_, [&](const SignalWait& wait) { return wait.number == number; });
    for (const RunState& run : runs_)
        if (run.waiting.signal == number)
            agenda_.add(Item::Kind::resume, run.id);
}

void Engine::orderEnded(std::uint32_t order, std::string_view overtaken, const Stagehand& hand)
{
    for (RunState& run : runs_) {
        if (std::erase(run.waiting.orders, order) == 0)
            continue;
        if (!overtaken.empty()) {
            Line& line = hand.journal.add(LineKind::note);
            line.snare = run.snare;
            line.about = run.event().line;
            line.text = hand.journal.texts.keep(
                fmt::format("{} goes on: its move was overtaken by {}", snareAt(run.snare).id, overtaken));
        }
        if (run.waiting.orders.empty())
            agenda_.add(Item::Kind::resume, run.id);
    }
}

} // namespace snare::rules
