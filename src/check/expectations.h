// SPDX-License-Identifier: Apache-2.0
/// Judging what a take expects on the record of its run (E1 to E6).
#pragma once

#include "sim/record.h"

#include <string>
#include <vector>

namespace snare::check {

/// What became of one expectation.
struct Verdict {
    bool held = false;
    std::string why;                 ///< why not: what came nearest, and how it differs (E6)
    std::int32_t line = -1;          ///< of the journal: what it is about, or what came nearest
    std::int64_t tick = -1;          ///< when that was
    std::vector<std::int32_t> found; ///< the lines that it counts, not more than a hundred
};

struct Judgement {
    std::vector<Verdict> verdicts; ///< of the take's expectations, in their order
    std::string stop;              ///< E5: what is wrong with how the run ended, or empty

    bool passed() const
    {
        return stop.empty() && std::ranges::all_of(verdicts, &Verdict::held);
    }
    /// Of the verdicts, and one more if the run ended wrongly.
    std::size_t failures() const
    {
        return static_cast<std::size_t>(std::ranges::count(verdicts, false, &Verdict::held)) + (stop.empty() ? 0 : 1);
    }
};

/// Judges `record.take`; the record must be one that `sim::rerun` made of it.
Judgement judge(const sim::Record& record);

/// The lines of a record that match, as indices into its journal, in order. Those of `occupied` and
/// `vacated` are the lines of the meetings that they come of.
std::vector<std::int32_t> linesThatMatch(const sim::Record& record, const scene::LineMatch& match);

} // namespace snare::check
