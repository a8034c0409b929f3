// SPDX-License-Identifier: Apache-2.0
/// A convex outline with a rounding radius: the one form in which shapes are tested against each
/// other.
///
/// One point with a radius is a disc, two points a capsule, three and more a convex polygon in
/// counter-clockwise order (rounded if the radius is not 0). A hull is a plain value without
/// allocation.
#pragma once

#include "geometry/pose.h"

#include <algorithm>
#include <array>
#include <span>

namespace snare::geometry {

inline constexpr int maxHullPoints = 6;

struct Hull {
    int count = 0;
    double radius = 0; ///< m, >= 0
    std::array<Vec, maxHullPoints> points{};

    std::span<const Vec> corners() const { return {points.data(), static_cast<std::size_t>(count)}; }
};

/// A disc of `radius` around `centre`.
Hull discHull(const Vec& centre, double radius);

/// An upright box of `size` (width, height) around the origin, put at `placing`.
Hull boxHull(const Vec& size, const Pose& placing);

/// The hull as it lies in the scene when its owner is at `pose`.
Hull placed(const Hull& hull, const Pose& pose);

/// The greatest distance of a corner from the origin: how far a turn can carry it.
double boundingRadius(const Hull& hull);

/// An upright rectangle. Empty while `low` is above `high`.
struct Bounds {
    Vec low{1e300, 1e300};
    Vec high{-1e300, -1e300};

    /// Grows until it holds a point or another box.
    void include(const Vec& point)
    {
        low = {std::min(low.x, point.x), std::min(low.y, point.y)};
        high = {std::max(high.x, point.x), std::max(high.y, point.y)};
    }
    void include(const Bounds& other)
    {
        low = {std::min(low.x, other.low.x), std::min(low.y, other.low.y)};
        high = {std::max(high.x, other.high.x), std::max(high.y, other.high.y)};
    }
    /// Moves each side outwards, m.
    void grow(double by)
    {
        low -= Vec(by, by);
        high += Vec(by, by);
    }
    /// Boxes that touch overlap; a point on the border is contained.
    bool overlaps(const Bounds& other) const
    {
        return low.x <= other.high.x && other.low.x <= high.x && low.y <= other.high.y && other.low.y <= high.y;
    }
    bool contains(const Vec& point) const
    {
        return point.x >= low.x && point.x <= high.x && point.y >= low.y && point.y <= high.y;
    }
    /// m. An empty box has no centre that means anything.
    Vec centre() const { return (low + high) * 0.5; }
    Vec size() const { return high - low; }
    bool empty() const { return low.x > high.x; }
};

/// The rectangle around a hull that is already placed.
Bounds boundsOf(const Hull& placedHull);

/// The rectangle around everything that `hull` covers during `motion`; may be larger than needed
/// when it turns.
Bounds sweptBounds(const Hull& hull, const Motion& motion);

} // namespace snare::geometry
