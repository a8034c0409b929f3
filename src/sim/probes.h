// SPDX-License-Identifier: Apache-2.0
/// Values and visits that a take expects, looked at while it runs (E3, E4): they cannot be told
/// from the log.
#pragma once

#include "scene/expectation.h"

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace snare::sim {

class Run;

/// What was seen of one expectation; of those that the log decides nothing.
struct Probe {
    bool held = false;
    bool past = false;                  ///< its moment lies behind the end of the run
    std::int64_t tick = -1;             ///< where it was decided: of `always` the first tick in which it does not hold
    std::optional<scene::Scalar> value; ///< that it had then; nothing: it was missing
    std::int64_t otherTick = -1;        ///< of a visit that is not: the last tick before in which it was, or the next
};

/// Whether an expectation counts events that the log leaves out: stays and held keys (E1).
bool asksForStays(std::span<const scene::Expectation> expect);

class Probes {
  public:
    /// `expect` must live as long as this.
    Probes(std::span<const scene::Expectation> expect, int rate);

    /// Goes on for a take that expects the same; `expect` must live as long as this.
    void rebind(std::span<const scene::Expectation> expect);
    /// Whether there is anything to look at: some expectations are told from the log alone.
    bool any() const { return !watched_.empty(); }

    /// Looks at the run between two ticks.
    void follow(Run& run);
    /// What was seen, one for each expectation; nothing more is to be followed.
    std::vector<Probe> take();

  private:
    struct Watched {
        std::size_t index = 0;
        const scene::Expectation* expect = nullptr;
        std::int64_t tick = -1; ///< at which it is asked; -1: in every one
        bool decided = false;
    };

    void lookAtValue(Watched& watched, Run& run);
    void lookAtVisit(Watched& watched, const Run& run);

    std::vector<Probe> probes_;
    std::vector<Watched> watched_;
};

} // namespace snare::sim
