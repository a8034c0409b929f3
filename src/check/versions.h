// SPDX-License-Identifier: Apache-2.0
/// What differs between two versions of a scene: in words, and in what happens.
#pragma once

#include "check/compare.h"

#include <string>
#include <vector>

namespace snare::check {

/// A line of the scene in sentences that one of the two has and the other has not.
struct WordChange {
    bool added = false; ///< in the newer one; else it was in the older one
    std::string place;  ///< what it belongs to: "Piece scale › Snare weigh"; empty: the line itself says it
    std::string text;
};

/// The sentences (words/describe.h) that differ, in their order; old ones before new ones.
std::vector<WordChange> wordsThatDiffer(const scene::Scene& before, const scene::Scene& after);

/// "+ 3.083 s courier entered plate of scale": a line each for what is new, gone and moved, by
/// time.
std::vector<std::string> eventsThatDiffer(const sim::Record& before, const sim::Record& after,
                                          const Differences& differences);

} // namespace snare::check
