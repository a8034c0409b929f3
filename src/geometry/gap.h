// SPDX-License-Identifier: Apache-2.0
/// The gap between two placed hulls: how far apart they are, or how deep one is in the other, and
/// in which direction.
#pragma once

#include "geometry/hull.h"

namespace snare::geometry {

struct Gap {
    double distance = 0; ///< m; negative: the depth of the overlap (M3, M4)
    Vec normal{1, 0};    ///< unit, from the first hull towards the second
    Vec point{0, 0};     ///< where they touch or are nearest: on the edge of the second hull
    /// The point of the first hull that is nearest to `point`, or deepest behind it.
    Vec opposite() const { return point - normal * distance; }
};

/// The gap between two hulls in the same axes. Exact up to rounding: an error of a few ulps of the
/// largest coordinate.
Gap gapBetween(const Hull& a, const Hull& b);

/// The gap between two shapes of several parts, each at its pose: that of the nearest, or deepest,
/// two parts. `a` and `b` have at least one part.
Gap gapBetween(std::span<const Hull> a, const Pose& poseOfA, std::span<const Hull> b, const Pose& poseOfB);

/// Where two hulls touch or overlap: one point for a corner or a round side, two for edges that lie
/// along each other.
struct Manifold {
    struct Point {
        Vec at{0, 0};        ///< on the edge of the second hull
        double distance = 0; ///< m, along the normal; negative: depth
    };
    Vec normal{1, 0}; ///< unit, from the first hull towards the second
    std::array<Point, 2> points{};
    int count = 0;
};

/// The manifold of two placed hulls: of their gap's normal, with what of the touching edges lies
/// across from each other. An edge of one touches an edge of the other up to an angle with the sine
/// `parallel`: about a degree if left out.
Manifold manifoldOf(const Hull& a, const Hull& b, double parallel = 0.02);

/// True if `point` lies inside or on the edge of a placed hull.
bool contains(const Hull& placedHull, const Vec& point);

} // namespace snare::geometry
