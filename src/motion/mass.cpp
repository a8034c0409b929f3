// SPDX-License-Identifier: Apache-2.0
#include "motion/mass.h"

#include <numbers>

namespace snare::motion {

using geometry::Hull;
using geometry::Vec;

Mass& Mass::operator+=(const Mass& other)
{
    const double sum = mass + other.mass;
    if (sum <= 0)
        return *this;
    const Vec middle = (centre * mass + other.centre * other.mass) / sum;
    inertia += other.inertia + mass * geometry::squaredLength(centre - middle) +
               other.mass * geometry::squaredLength(other.centre - middle);
    centre = middle;
    mass = sum;
    return *this;
}

Mass Mass::scaledTo(double newMass) const
{
    return {newMass, centre, mass > 0 ? inertia * newMass / mass : 0};
}

Mass Mass::placedAt(const geometry::Pose& pose) const
{
    return {mass, geometry::toScene(pose, centre), inertia};
}

namespace {

Mass boxMass(const Vec& centre, double width, double height, double density)
{
    const double mass = width * height * density;
    return {mass, centre, mass * (width * width + height * height) / 12};
}

Mass discMass(const Vec& centre, double radius, double density)
{
    const double mass = std::numbers::pi * radius * radius * density;
    return {mass, centre, mass * radius * radius / 2};
}

/// Half a disc over a diameter around `middle`, bulging along the unit vector `out`.
Mass halfDiscMass(const Vec& middle, const Vec& out, double radius, double density)
{
    const double mass = std::numbers::pi * radius * radius * density / 2;
    const double offset = 4 * radius / (3 * std::numbers::pi); // of its centre from the diameter
    return {mass, middle + out * offset, mass * (radius * radius / 2 - offset * offset)};
}

/// A bar of the given thickness along a segment, without round ends.
Mass barMass(const Vec& from, const Vec& to, double thickness, double density)
{
    return boxMass((from + to) * 0.5, glm::length(to - from), thickness, density);
}

Mass polygonMass(std::span<const Vec> corners, double density)
{
    // In triangles from the first corner on: stable wherever the polygon lies.
    Mass sum;
    for (std::size_t i = 1; i + 1 < corners.size(); ++i) {
        const Vec a = corners[i] - corners[0];
        const Vec b = corners[i + 1] - corners[0];
        const double area = geometry::cross(a, b) / 2;
        if (area <= 0)
            continue;
        const Vec middle = (a + b) / 3.0;
        const double aroundCorner =
            area * (glm::dot(a, a) + glm::dot(a, b) + glm::dot(b, b)) / 6; // second moment around corners[0]
        sum += Mass{area * density, corners[0] + middle,
                    (aroundCorner - area * geometry::squaredLength(middle)) * density};
    }
    return sum;
}

} // namespace

Mass massOf(const Hull& part, double density)
{
    const auto corners = part.corners();
    if (corners.size() == 1)
        return discMass(corners[0], part.radius, density);
    if (corners.size() == 2) {
        if (part.radius == 0)
            return barMass(corners[0], corners[1], edgeThickness, density);
        const Vec along = geometry::unitOr(corners[1] - corners[0], {1, 0});
        Mass sum = barMass(corners[0], corners[1], 2 * part.radius, density);
        sum += halfDiscMass(corners[0], -along, part.radius, density);
        sum += halfDiscMass(corners[1], along, part.radius, density);
        return sum;
    }
    return polygonMass(corners, density);
}

} // namespace snare::motion
