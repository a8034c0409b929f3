// SPDX-License-Identifier: Apache-2.0
/// What a take shows of snares that do not work as they may be meant to.
#pragma once

#include "sim/record.h"

#include <string>
#include <vector>

namespace snare::check {

/// A snare whose event came in a take and that never sprang.
struct NeverSprang {
    std::string snare;      ///< as the run calls it
    std::string text;       ///< how often its event came, and what turned most of them away
    std::int32_t line = -1; ///< of the journal, where that was first
};

/// In the order of the snares.
std::vector<NeverSprang> neverSprang(const sim::Record& record);

/// A zone at which a snare waits and that nobody came into, though somebody came near.
struct NeverEntered {
    std::string piece;     ///< that has the zone
    std::string text;      ///< who came closest, how near, when; or who jumped over it
    std::int64_t tick = 0; ///< when that was
};

/// In the order of the pieces. Looks at some six hundred moments of the take; at none of scenes with very many pieces.
std::vector<NeverEntered> neverEntered(const sim::Record& record);

} // namespace snare::check
