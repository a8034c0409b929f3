// SPDX-License-Identifier: Apache-2.0
/// What keeps a tick from going on for ever (K8): it counts what responses cause, remembers which
/// snares did it, and stops the run when one of the limits is passed.
#pragma once

#include "rules/event.h"

#include <array>

namespace snare::rules {

/// More deliveries of signals and phase events than this in one tick stop the run (K8).
inline constexpr int mostSignalsInATick = 10'000;

/// More other events that responses cause than this in one tick, and more routines run, stop it
/// too: what changes and what is spawned can go round in a ring as well. It is far more than a tick
/// should take.
inline constexpr int mostCausedInATick = 1'000'000;

/// More spawned pieces than this at once stop the run (K8).
inline constexpr int mostSpawnedAtOnce = 10'000;

/// More restarts than this in one tick stop the run: the scene restarts itself whenever it starts.
inline constexpr int mostRestartsInATick = 100;

/// Routines that run each other deeper than this stop the run.
inline constexpr int mostRoutinesDeep = 100;

/// More pieces than this in one run, those that are gone counted in, stop it.
inline constexpr std::size_t mostPieces = 200'000;

class StormGuard {
  public:
    /// Counts anew (K8).
    void beginTick(std::int64_t tick);

    /// Counts an event that is about to be delivered. True, and the run stops, if it is one too
    /// many.
    bool isStorm(EventKind kind, const scene::Scene& scene);
    /// Counts a routine that a response is about to run. True if it is one too many, or too deep in
    /// others.
    bool isRoutineTooMuch(int depth) { return depth >= mostRoutinesDeep || ++routines_ > mostCausedInATick; }

    /// Notes a snare that set something off, for the message of an error.
    void remember(int snare) { raisers_[raised_++ % raisers_.size()] = snare; }
    bool remembersAny() const { return raised_ != 0; }
    /// The names of the snares that set something off last, in the order of the alphabet.
    std::string raisers(const scene::Scene& scene) const;

    /// The run cannot go on; the first reason counts. The tick is put before it.
    void stop(std::string_view why);
    bool hasStopped() const { return !reason_.empty(); }
    /// Why the run cannot go on, or empty.
    const std::string& reason() const { return reason_; }

  private:
    std::int64_t tick_ = 0;
    int signals_ = 0; ///< in this tick
    int caused_ = 0;
    int routines_ = 0;
    std::array<int, 64> raisers_{}; ///< the last snares that set something off
    std::size_t raised_ = 0;        ///< how many have
    std::string reason_;
};

} // namespace snare::rules
