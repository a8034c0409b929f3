// SPDX-License-Identifier: Apache-2.0
/// Changing the inputs of a take by hand: key presses that are moved, stretched, added and deleted.
#pragma once

#include "scene/take.h"

#include <cstdint>

namespace snare::app {

/// A key that goes down at a tick and up at a later one.
struct Press {
    std::string key;
    std::int64_t from = 0; ///< tick, at least 1
    std::int64_t to = 0;   ///< tick; the end of the take if it never goes up

    friend bool operator==(const Press&, const Press&) = default;
};

/// All presses of a take, in the order in which they begin.
std::vector<Press> pressesOf(const scene::Take& take, int rate);

/// The take with one press taken out, and another put in (`nullptr`: none). Inputs are sorted by time; the take grows
/// if the press ends after it. A press lasts one tick at least.
scene::Take withPress(const scene::Take& take, int rate, const Press* out, const Press* in);

} // namespace snare::app
