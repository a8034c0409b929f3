// SPDX-License-Identifier: Apache-2.0
/// How a scene is scouted (see check/scout.h).
#pragma once

#include "scene/take.h"

#include <atomic>
#include <cstdint>
#include <functional>
#include <vector>

namespace snare::check {

/// How far a scouting has come.
struct ScoutProgress {
    int plays = 0;
    std::size_t sprung = 0; ///< snares
    std::size_t snares = 0; ///< in all
};

struct ScoutOptions {
    int plays = 2000;       ///< > 0
    double seconds = 60;    ///< s, > 0: no play is longer
    std::uint32_t seed = 1; ///< of what the hand does
    unsigned jobs = 0;      ///< threads; 0: one a core
    /// Plays begin within these, too. What they say must never come, or must always be, is watched
    /// in every play; so is whether what sprang in them can be had without the zones on their way.
    std::vector<scene::Take> takes = {};
    const std::atomic<bool>* enough = nullptr;    ///< once it is set, no more is played
    const std::atomic<bool>* cancelled = nullptr; ///< once it is set, what was found so far is given back as it is
    std::function<void(const ScoutProgress&)> progress = {}; ///< told now and then, from the calling thread
};

} // namespace snare::check
