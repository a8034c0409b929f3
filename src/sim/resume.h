// SPDX-License-Identifier: Apache-2.0
/// Re-runs that begin where an edit can first be felt: a run is a value, so copies of it are kept
/// on the way.
///
/// The record of such a re-run is the same, byte for byte, as that of one from the start;
/// `docs/decisions/25` tells what is compared.
#pragma once

#include "sim/recorder.h"

namespace snare::sim {

/// What there was of a record at the end of a tick: how much of each list.
struct RecordMark {
    std::int64_t tick = 0;
    std::size_t lines = 0, spots = 0, values = 0, armings = 0, phases = 0, signalValues = 0, fields = 0, texts = 0;
    std::size_t pointer = 0, pieces = 0, shapeNames = 0, looks = 0;
    std::int32_t cause = -1; ///< of the journal
};

/// A run at the end of a tick, to be gone on from.
struct Checkpoint {
    Run run;
    StandingSoFar standing;
    Probes probes;
    RecordMark mark;
};

/// A record with the checkpoints of its run. A value that shares what it holds.
struct Resumable {
    std::shared_ptr<const Record> record;
    std::vector<std::shared_ptr<const Checkpoint>> checkpoints; ///< by tick
    std::int64_t from = 0; ///< the tick after which it was run; before it is what was there already
};

/// How many checkpoints are kept.
struct CheckpointPlan {
    std::size_t bytes = 64u << 20; ///< that new ones may take, by a rough count; 0: none are kept
    std::int64_t leastBetween = 32; ///< ticks
};

/// The first tick at which a run of `scene` (whole: see wholeOf) with `take` may differ from that
/// of `before`; 0: from its start; beyond its end: nothing differs but what does not show in a run.
std::int64_t firstDifference(const Resumable& before, const scene::Scene& whole, const scene::Take& take,
                             const RerunOptions& options);

/// Runs a take, from the last checkpoint of `before` at which it was the same; from the start if
/// that is null or there is none. With `cancelled` set on the way the record is incomplete and
/// there are no checkpoints.
Resumable rerunFrom(const Resumable* before, std::shared_ptr<const scene::Scene> scene, const scene::Take& take,
                    const RerunOptions& options = {}, const CheckpointPlan& plan = {});

} // namespace snare::sim
