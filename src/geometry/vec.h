// SPDX-License-Identifier: Apache-2.0
/// Plane vectors in metres, double precision: x to the right, y up.
#pragma once

#include <glm/geometric.hpp>
#include <glm/vec2.hpp>

namespace snare::geometry {

using Vec = glm::dvec2;

/// Twice the signed area of the triangle 0, a, b: positive when b lies counter-clockwise of a.
constexpr double cross(const Vec& a, const Vec& b)
{
    return a.x * b.y - a.y * b.x;
}

/// `v` turned by 90 degrees counter-clockwise.
constexpr Vec perpendicular(const Vec& v)
{
    return {-v.y, v.x};
}

/// m²; cheaper than a length where only an order is asked for.
inline double squaredLength(const Vec& v)
{
    return glm::dot(v, v);
}

/// `v` with length 1; `fallback` when it has none.
inline Vec unitOr(const Vec& v, const Vec& fallback)
{
    const double length = glm::length(v);
    return length > 0 ? v / length : fallback;
}

/// `from`, gone at most so far towards `to`; `to` itself if it is no farther.
inline Vec towards(const Vec& from, const Vec& to, double most)
{
    const Vec way = to - from;
    const double length = glm::length(way);
    return length <= most ? to : from + way * (most / length);
}

} // namespace snare::geometry
