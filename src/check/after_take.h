// SPDX-License-Identifier: Apache-2.0
/// What a take shows of a scene that does not work as it may be meant to.
#pragma once

#include "sim/record.h"

#include <string>
#include <vector>

namespace snare::check {

/// One thing that a take shows. It may be meant so.
struct TakeFinding {
    std::string text;       ///< what is wrong, how often, and what came nearest
    std::string snare = {}; ///< that it is about, as the run calls it
    std::string piece = {}; ///< that it is about, if it is no snare
    std::int64_t tick = 0;  ///< when it showed
};

/// Snares whose event came and that never sprang, in the order of the snares.
std::vector<TakeFinding> neverSprang(const sim::Record& record);

/// Steps of snares that were reached and never done, since their conditions did not hold. In the
/// order of the snares.
std::vector<TakeFinding> neverTrue(const sim::Record& record);

/// Zones at which a snare waits and that nobody came into, though somebody came near: jumped over,
/// walled off, or kept apart. In the order of the pieces. Looks at some six hundred moments of the
/// take; at none of scenes with very many pieces.
std::vector<TakeFinding> neverEntered(const sim::Record& record);

/// All of them, in this order.
std::vector<TakeFinding> findingsOfTake(const sim::Record& record);

} // namespace snare::check
