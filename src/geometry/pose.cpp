// SPDX-License-Identifier: Apache-2.0
#include "geometry/pose.h"

#include <cmath>
#include <numbers>

namespace snare::geometry {

Rotation rotationOf(double degrees)
{
    if (degrees == 0)
        return {};
    const double quarters = degrees / 90;
    if (quarters == std::floor(quarters)) {
        constexpr Rotation exact[] = {{1, 0}, {0, 1}, {-1, 0}, {0, -1}};
        const double rest = quarters - 4 * std::floor(quarters / 4);
        return exact[static_cast<int>(rest) & 3];
    }
    const double radians = std::fmod(degrees, 360.0) * std::numbers::pi / 180;
    return {std::cos(radians), std::sin(radians)};
}

Vec toScene(const Pose& pose, const Vec& local)
{
    return pose.at + rotationOf(pose.turn).apply(local);
}

Vec toLocal(const Pose& pose, const Vec& point)
{
    return rotationOf(pose.turn).undo(point - pose.at);
}

Pose Motion::at(double frac) const
{
    return {from.at + (to.at - from.at) * frac, from.turn + (to.turn - from.turn) * frac,
            from.z + (to.z - from.z) * frac};
}

} // namespace snare::geometry
