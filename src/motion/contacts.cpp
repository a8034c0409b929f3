// SPDX-License-Identifier: Apache-2.0
#include "motion/contacts.h"

#include <cmath>

namespace snare::motion {

namespace {

/// Nearer than this the normal of now is good enough, m.
constexpr double nearEnough = 0.05;

/// Sine of the angle between two edges up to which both their ends are contacts: the one that is
/// further apart stops what tilts onto it.
constexpr double tilted = 0.6;

/// How far a point of the part can come in a tick by turning, m.
double swingOf(const Mover& mover, const Hull& placed, double dt)
{
    if (mover.spin == 0)
        return 0;
    double farthest = 0;
    for (const Vec& corner : placed.corners())
        farthest = std::max(farthest, geometry::squaredLength(corner - mover.centre));
    return (std::sqrt(farthest) + placed.radius) * std::abs(mover.spin) * dt;
}

} // namespace

std::optional<Touching> touchingOf(const Mover& a, const Mover& b, double dt)
{
    const Hull hullA = geometry::placed(*a.part, a.motion.from);
    const Hull hullB = geometry::placed(*b.part, b.motion.from);
    Touching result;
    result.manifold = geometry::manifoldOf(hullA, hullB, tilted);
    const double travel = glm::length(b.velocity - a.velocity) * dt + swingOf(a, hullA, dt) + swingOf(b, hullB, dt);
    double nearest = result.manifold.points[0].distance;
    for (int i = 1; i < result.manifold.count; ++i)
        nearest = std::min(nearest, result.manifold.points[static_cast<std::size_t>(i)].distance);
    if (nearest > skinWidth + contactMargin + travel)
        return std::nullopt;
    if (nearest <= nearEnough)
        return result;
    // Far away the nearest features say little of where they will meet.
    const auto span = geometry::nearSpan(*a.part, a.motion, *b.part, b.motion, skinWidth);
    if (!span)
        return std::nullopt;
    result.moment = span->enter;
    result.manifold = geometry::manifoldOf(geometry::placed(*a.part, a.motion.at(span->enter)),
                                           geometry::placed(*b.part, b.motion.at(span->enter)), tilted);
    return result;
}

bool isInnerJoint(const Hull& placedOther, const Vec& point, const Vec& outwards)
{
    constexpr double same = 1e-3; // m
    constexpr double flat = 0.02; // sine of the angle
    if (geometry::gapBetween(placedOther, geometry::discHull(point, 0)).distance > same)
        return false;
    for (const Vec& corner : placedOther.corners()) {
        const Vec way = corner - point;
        const double length = glm::length(way);
        if (length > same && glm::dot(way, outwards) > flat * length)
            return true;
    }
    return false;
}

} // namespace snare::motion
