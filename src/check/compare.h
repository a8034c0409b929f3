// SPDX-License-Identifier: Apache-2.0
/// What changed between two records of the same take: events and outcomes that are new, gone or
/// moved in time.
#pragma once

#include "sim/record.h"

namespace snare::check {

/// Two lines are the same happening if they tell the same at the same tick; a happening that is
/// found again within this many seconds has moved.
inline constexpr double movedWithin = 1.0;

struct Moved {
    std::size_t before; ///< line of the older record
    std::size_t after;  ///< line of the newer one
};

struct Differences {
    std::vector<std::size_t> fresh; ///< lines of the newer record that the older one has not
    std::vector<std::size_t> gone;  ///< lines of the older record that the newer one has not
    std::vector<Moved> moved;

    bool none() const { return fresh.empty() && gone.empty() && moved.empty(); }
};

/// Compares event lines and the outcomes of snares; responses and notes follow from those.
Differences compare(const sim::Record& before, const sim::Record& after);

} // namespace snare::check
