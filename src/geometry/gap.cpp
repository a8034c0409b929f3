// SPDX-License-Identifier: Apache-2.0
#include "geometry/gap.h"

#include <algorithm>
#include <limits>

namespace snare::geometry {

namespace {

/// The nearest pair of points found so far, one on each core.
struct Nearest {
    double squared = std::numeric_limits<double>::infinity();
    Vec onA{0, 0};
    Vec onB{0, 0};

    void offer(const Vec& a, const Vec& b)
    {
        const double d = squaredLength(b - a);
        if (d < squared) {
            squared = d;
            onA = a;
            onB = b;
        }
    }
};

Vec nearestOnSegment(const Vec& from, const Vec& to, const Vec& point)
{
    const Vec along = to - from;
    const double length = squaredLength(along);
    if (length == 0)
        return from;
    return from + along * std::clamp(glm::dot(point - from, along) / length, 0.0, 1.0);
}

/// Calls `visit(from, to)` for each edge of the core: none for a point, one for a segment.
template <class Visit> void forEachEdge(std::span<const Vec> corners, Visit&& visit)
{
    if (corners.size() < 2)
        return;
    if (corners.size() == 2) {
        visit(corners[0], corners[1]);
        return;
    }
    for (std::size_t i = 0; i < corners.size(); ++i)
        visit(corners[i], corners[(i + 1) % corners.size()]);
}

double lowestAlong(std::span<const Vec> corners, const Vec& axis)
{
    double low = std::numeric_limits<double>::infinity();
    for (const Vec& corner : corners)
        low = std::min(low, glm::dot(corner, axis));
    return low;
}

double highestAlong(std::span<const Vec> corners, const Vec& axis)
{
    return -lowestAlong(corners, -axis);
}

/// The axis along which the cores overlap least; stops at the first one that parts them.
struct LeastOverlap {
    double distance = -std::numeric_limits<double>::infinity();
    Vec normal{1, 0};

    /// `axis` points from a to b and has length 1.
    void offer(std::span<const Vec> a, std::span<const Vec> b, const Vec& axis)
    {
        const double d = lowestAlong(b, axis) - highestAlong(a, axis);
        if (d > distance) {
            distance = d;
            normal = axis;
        }
    }
};

void offerAxesOf(std::span<const Vec> owner, std::span<const Vec> a, std::span<const Vec> b, LeastOverlap& least)
{
    forEachEdge(owner, [&](const Vec& from, const Vec& to) {
        const Vec along = unitOr(to - from, {1, 0});
        const Vec across = perpendicular(along);
        least.offer(a, b, across);
        least.offer(a, b, -across);
        if (owner.size() == 2) {
            least.offer(a, b, along);
            least.offer(a, b, -along);
        }
    });
}

} // namespace

Gap gapBetween(const Hull& a, const Hull& b)
{
    const auto cornersA = a.corners();
    const auto cornersB = b.corners();
    const double rounding = a.radius + b.radius;

    LeastOverlap least;
    offerAxesOf(cornersA, cornersA, cornersB, least);
    offerAxesOf(cornersB, cornersA, cornersB, least);
    const bool bothPoints = cornersA.size() == 1 && cornersB.size() == 1;
    if (!bothPoints && least.distance <= 0) {
        // The cores themselves overlap: the way out is across the edge with the least depth.
        Vec deepest = cornersB[0];
        for (const Vec& corner : cornersB)
            if (glm::dot(corner, least.normal) < glm::dot(deepest, least.normal))
                deepest = corner;
        return {least.distance - rounding, least.normal, deepest - least.normal * b.radius};
    }

    Nearest nearest;
    for (const Vec& corner : cornersA)
        for (const Vec& other : cornersB)
            nearest.offer(corner, other);
    forEachEdge(cornersB, [&](const Vec& from, const Vec& to) {
        for (const Vec& corner : cornersA)
            nearest.offer(corner, nearestOnSegment(from, to, corner));
    });
    forEachEdge(cornersA, [&](const Vec& from, const Vec& to) {
        for (const Vec& corner : cornersB)
            nearest.offer(nearestOnSegment(from, to, corner), corner);
    });
    const Vec normal = unitOr(nearest.onB - nearest.onA, {1, 0});
    return {std::sqrt(nearest.squared) - rounding, normal, nearest.onB - normal * b.radius};
}

Gap gapBetween(std::span<const Hull> a, const Pose& poseOfA, std::span<const Hull> b, const Pose& poseOfB)
{
    Gap nearest{std::numeric_limits<double>::infinity(), {1, 0}, {0, 0}};
    for (const Hull& partOfB : b) {
        const Hull placedB = placed(partOfB, poseOfB);
        for (const Hull& partOfA : a)
            if (const Gap gap = gapBetween(placed(partOfA, poseOfA), placedB); gap.distance < nearest.distance)
                nearest = gap;
    }
    return nearest;
}

} // namespace snare::geometry
