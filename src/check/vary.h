// SPDX-License-Identifier: Apache-2.0
/// How sure a take is: the same with its inputs a little earlier, later, longer, and with other
/// chance.
#pragma once

#include "check/expectations.h"

#include <atomic>
#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace snare::check {

struct VaryOptions {
    int runs = 500;       ///< the first is the take as it is
    double within = 0.05; ///< s, >= 0: how far an input may be off
    bool seeds = true;    ///< each run with a chance of its own
    unsigned jobs = 0;    ///< threads; 0: one a core
    const std::atomic<bool>* cancelled = nullptr; ///< once it is set, the rest is left out
    std::function<void(int runs)> progress = {};  ///< told how many runs are done, one at a time, from any thread
};

/// How often one expectation held, and a take with which it did not.
struct HowSure {
    int held = 0;
    std::optional<scene::Take> against;
};

/// How often a snare sprang.
struct HowOften {
    std::string snare;
    int runs = 0; ///< in which it sprang
    int least = 0;
    int most = 0;
};

/// When an event of the take as it is comes in the other runs: the n-th of its kind with the same
/// pieces.
struct HowSteady {
    std::int32_t line = -1; ///< of the journal of the take as it is
    int runs = 0;           ///< in which it came
    std::int32_t first = 0; ///< ticks between which it came
    std::int32_t last = 0;
};

struct Varied {
    int runs = 0; ///< that were done
    std::vector<HowSure> expectations; ///< in the order of the take
    std::vector<HowOften> snares;      ///< in the order of the run
    std::vector<HowSteady> events;     ///< in the order of the journal; without stays and held keys
};

/// The take with each input moved by chance, never across the end of its own press; the same for
/// the same `run`.
scene::Take variedTake(const scene::Take& take, int run, const VaryOptions& options);

Varied vary(std::shared_ptr<const scene::Scene> scene, const scene::Take& take, const VaryOptions& options);

} // namespace snare::check
