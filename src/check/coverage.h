// SPDX-License-Identifier: Apache-2.0
/// What the takes of a scene have used of it, and what never.
#pragma once

#include "check/finding.h"
#include "sim/record.h"

#include <string>
#include <vector>

namespace snare::check {

/// One thing that a run can use.
struct Covered {
    enum class Of { snare, filter, gate, response, phase, signal, zone, source };

    Of of = Of::snare;
    std::string name; ///< "weigh", "weigh, step 2: move barrow", "open of lock", "plate of scale"
    Place place = {}; ///< where it stands
    int step = -1;    ///< of a response, from 0
    std::size_t times = 0;
};

std::string_view wordOf(Covered::Of of);

class Coverage {
  public:
    /// Nothing is used yet.
    explicit Coverage(std::shared_ptr<const scene::Scene> scene);

    /// Adds what a run of the scene used.
    void add(const sim::Record& record);

    /// Snares with their filters, gates and responses, then phases, signals, zones and sources, in
    /// scene order.
    const std::vector<Covered>& all() const { return all_; }
    /// How many of one kind there are, and how many were used.
    std::pair<std::size_t, std::size_t> countOf(Covered::Of of) const;

  private:
    std::shared_ptr<const scene::Scene> scene_;
    std::vector<Covered> all_;
};

/// What was never used, a line each kind: "never sprang: tide-turns, last-call". Empty if
/// everything was.
std::vector<std::string> neverUsed(const Coverage& coverage);

} // namespace snare::check
