// SPDX-License-Identifier: Apache-2.0
/// Time of impact: when, within one tick, do two moving hulls first come nearer than `reach`, and when do they part?
///
/// Both go in a straight line and turn evenly (M6). Without a turn the answer is the root of a line or a quadratic and
/// exact up to rounding. With a turn the hulls are advanced by steps that cannot pass the moment sought: the first
/// moment is never reported late, the last never early, and each lies where the distance is within `distanceTolerance`
/// of `reach`.
#pragma once

#include "geometry/hull.h"

#include <optional>

namespace snare::geometry {

/// Edges nearer than this count as touching, not as overlapping (M3), so that rounding cannot make a meeting.
inline constexpr double distanceTolerance = 1e-12;

/// Two moments this close, in parts of a tick, are the same: an end this near to a tick's end belongs to that tick
/// (M3).
inline constexpr double timeTolerance = 1e-9;

/// First and last moment of nearness within a tick, as parts of it in [0, 1].
struct Span {
    double enter; ///< 0 if they were near from the start
    double exit;  ///< 1 if they still are at the end, or part exactly there
    bool atStart; ///< near at frac 0 already
    bool atEnd;   ///< still near at frac 1
};

/// The span in which the distance of the hulls is less than `reach` (m; 0: the interiors overlap), or nothing.
std::optional<Span> nearSpan(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB,
                             double reach = 0);

/// The same for shapes of several parts: from when the first two parts come near to when the last two leave (M6, M13).
std::optional<Span> nearSpan(std::span<const Hull> a, const Motion& motionOfA, std::span<const Hull> b,
                             const Motion& motionOfB, double reach = 0);

} // namespace snare::geometry
