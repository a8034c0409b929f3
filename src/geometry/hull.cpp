// SPDX-License-Identifier: Apache-2.0
#include "geometry/hull.h"

#include <algorithm>

namespace snare::geometry {

Hull discHull(const Vec& centre, double radius)
{
    Hull hull;
    hull.points[0] = centre;
    hull.count = 1;
    hull.radius = radius;
    return hull;
}

Hull boxHull(const Vec& size, const Pose& placing)
{
    const Vec half = size * 0.5;
    const Vec corners[] = {{-half.x, -half.y}, {half.x, -half.y}, {half.x, half.y}, {-half.x, half.y}};
    const Rotation rotation = rotationOf(placing.turn);
    Hull hull;
    hull.count = 4;
    for (std::size_t i = 0; i < 4; ++i)
        hull.points[i] = placing.at + rotation.apply(corners[i]);
    return hull;
}

Hull placed(const Hull& hull, const Pose& pose)
{
    const Rotation rotation = rotationOf(pose.turn);
    Hull result = hull;
    for (std::size_t i = 0; i < static_cast<std::size_t>(hull.count); ++i)
        result.points[i] = pose.at + rotation.apply(hull.points[i]);
    return result;
}

double boundingRadius(const Hull& hull)
{
    double farthest = 0;
    for (const Vec& point : hull.corners())
        farthest = std::max(farthest, squaredLength(point));
    return std::sqrt(farthest);
}

Bounds boundsOf(const Hull& placedHull)
{
    Bounds bounds;
    for (const Vec& point : placedHull.corners())
        bounds.include(point);
    bounds.grow(placedHull.radius);
    return bounds;
}

Bounds sweptBounds(const Hull& hull, const Motion& motion)
{
    if (!motion.turns()) {
        const Rotation rotation = rotationOf(motion.from.turn);
        Bounds own;
        for (const Vec& corner : hull.corners())
            own.include(rotation.apply(corner));
        own.grow(hull.radius);
        Bounds bounds;
        bounds.include(motion.from.at);
        bounds.include(motion.to.at);
        bounds.low += own.low;
        bounds.high += own.high;
        return bounds;
    }
    Bounds bounds;
    bounds.include(motion.from.at);
    bounds.include(motion.to.at);
    bounds.grow(boundingRadius(hull) + hull.radius);
    return bounds;
}

} // namespace snare::geometry
