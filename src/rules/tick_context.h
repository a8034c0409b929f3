// SPDX-License-Identifier: Apache-2.0
/// What the parts of the engine work with while a tick is dealt with. The parts keep no references
/// to each other: all that they need of each other and of the run comes in with each call.
#pragma once

#include "rules/evaluator.h"
#include "rules/event_queue.h"
#include "rules/journal.h"
#include "rules/pending_change.h"
#include "rules/storm_guard.h"

#include <atomic>

namespace snare::rules {

class Book;
class PointerInput;
class ResponseRuns;
class SnareMatcher;
class SpawnNames;
class Values;
struct RunState;
struct TickContext;

/// Carries out steps of a run until it has to wait or has none left.
using CarryOutSteps = void (*)(RunState& run, const TickContext& tick);

/// The parts of a run that rules act on.
struct RunParts {
    world::World& world;
    detect::Detection& detection;
    Journal& journal;
    const std::atomic<bool>* cancelled = nullptr; ///< once it is set, the tick is left as soon as may be
};

struct TickContext {
    std::int64_t number = 0; ///< of the tick
    const scene::Scene& scene;
    world::World& world;
    detect::Detection& detection;
    Journal& journal;
    const std::atomic<bool>* cancelled = nullptr;

    const Book& book;
    const Presence& presence;
    EventQueue& queue;
    StormGuard& storms;
    Evaluator& evaluator;
    SnareMatcher& matcher;
    PointerInput& pointer;
    Values& values;
    ResponseRuns& runs;
    PendingChanges& pending;
    SpawnNames& names;
    CarryOutSteps carryOutSteps;

    /// Whether somebody wants the run to end; asked often.
    bool isCancelled() const { return cancelled && cancelled->load(std::memory_order_relaxed); }
    /// Whether nothing more is to be done in this run.
    bool isOver() const { return storms.hasStopped() || isCancelled(); }

    /// What is told and changed from now on is because of this line of the log; -1: of nothing
    /// (C1).
    void because(std::int32_t line) const
    {
        journal.cause = line;
        queue.because(line);
        pending.because(line);
        world.because(line);
    }
    /// The same because of an event: its line or, if it is not told, what led to it.
    void because(const Event& event) const { because(event.line >= 0 ? event.line : event.because); }

    const scene::Snare& snareAt(int snare) const { return scene.snares[static_cast<std::size_t>(snare)]; }

    /// What paths and targets are read in while an event is dealt with at `self`.
    Surroundings around(const Event& event, PieceIndex self) const
    {
        return {world, detection, event, self, event.visitor, number, scene, presence, evaluator, nullptr};
    }

    /// Stops the run if a script of this snare has used up its budget (S14).
    void checkOverrun(int snare) const
    {
        if (evaluator.overrun.line != 0)
            stopForOverrun(snare);
    }

  private:
    void stopForOverrun(int snare) const;
};

} // namespace snare::rules
