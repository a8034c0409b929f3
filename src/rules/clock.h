// SPDX-License-Identifier: Apache-2.0
/// Ticks and seconds (T1, T2, T6).
#pragma once

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace snare::rules {

/// Forgives rounding when a time falls exactly on a tick.
inline constexpr double tickSlack = 1e-9;

/// The first tick that is `seconds` after `from` or later (T6).
inline std::int64_t tickAfter(std::int64_t from, double seconds, int rate)
{
    return from + static_cast<std::int64_t>(std::ceil(std::min(seconds * rate - tickSlack, 1e15)));
}

/// The last tick of a run of `seconds` (T1).
inline std::int64_t lastTick(double seconds, int rate)
{
    return std::max<std::int64_t>(0, tickAfter(0, seconds, rate));
}

/// The tick that an input at time `t` belongs to (T2).
inline std::int64_t tickOfInput(double t, int rate)
{
    return std::max<std::int64_t>(1, tickAfter(0, t, rate));
}

} // namespace snare::rules
