// SPDX-License-Identifier: Apache-2.0
/// The gap between two placed hulls: how far apart they are, or how deep one is in the other, and in which direction.
#pragma once

#include "geometry/hull.h"

namespace snare::geometry {

struct Gap {
    double distance = 0; ///< m; negative: the depth of the overlap (M3, M4)
    Vec normal{1, 0};    ///< unit, from the first hull towards the second
    Vec point{0, 0};     ///< where they touch or are nearest: on the edge of the second hull
};

/// The gap between two hulls in the same axes. Exact up to rounding: an error of a few ulps of the largest coordinate.
Gap gapBetween(const Hull& a, const Hull& b);

/// The gap between two shapes of several parts, each at its pose: that of the nearest, or deepest, two parts. `a` and
/// `b` have at least one part.
Gap gapBetween(std::span<const Hull> a, const Pose& poseOfA, std::span<const Hull> b, const Pose& poseOfB);

} // namespace snare::geometry
