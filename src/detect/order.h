// SPDX-License-Identifier: Apache-2.0
/// The order in which events of one detection are delivered (M12): by moment, then by kind, then by
/// self, shape, visitor and part, each in scene order.
#pragma once

#include "scene/event_kind.h"

#include <cmath>
#include <cstdint>

namespace snare::detect {

/// The moment within a tick that counts for the order, in millionths of it. `frac` is in [0, 1];
/// one that is negative (none) comes before all others.
inline std::int64_t momentOf(double frac)
{
    return static_cast<std::int64_t>(std::floor(frac * 1e6 + 0.5));
}

/// exit, vacated, enter, occupied, hit, stay; all others come after them.
constexpr int rankOf(scene::EventKind kind)
{
    switch (kind) {
    case scene::EventKind::exit:
        return 0;
    case scene::EventKind::vacated:
        return 1;
    case scene::EventKind::enter:
        return 2;
    case scene::EventKind::occupied:
        return 3;
    case scene::EventKind::hit:
        return 4;
    case scene::EventKind::stay:
        return 5;
    default:
        return 6;
    }
}

} // namespace snare::detect
