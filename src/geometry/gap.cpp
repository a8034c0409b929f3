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

/// An edge, asked for its nearest points.
struct Edge {
    Vec from;
    Vec to;
    Vec along; ///< over its squared length

    Edge(const Vec& first, const Vec& last) : from(first), to(last), along(last - first)
    {
        const double length = squaredLength(along);
        along = length == 0 ? Vec{0, 0} : along / length;
    }
    Vec nearestTo(const Vec& point) const
    {
        const double part = glm::dot(point - from, along);
        return part <= 0 ? from : part >= 1 ? to : from + (to - from) * part;
    }
};

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
        if (least.distance > 0)
            return; // they are apart: along which axis is asked of the nearest points
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
    if (bothPoints)
        nearest.offer(cornersA[0], cornersB[0]);
    forEachEdge(cornersB, [&](const Vec& from, const Vec& to) {
        const Edge edge{from, to};
        for (const Vec& corner : cornersA)
            nearest.offer(corner, edge.nearestTo(corner));
    });
    forEachEdge(cornersA, [&](const Vec& from, const Vec& to) {
        const Edge edge{from, to};
        for (const Vec& corner : cornersB)
            nearest.offer(edge.nearestTo(corner), corner);
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

namespace {

/// What counts as square to a direction: the sine of the angle.
constexpr double flat = 0.02;

/// The edge of the core that faces `direction`, or the one corner that does.
struct Facing {
    std::array<Vec, 2> ends;
    int count = 1;
};

Facing facing(const Hull& hull, const Vec& direction, double parallel)
{
    const auto corners = hull.corners();
    std::size_t best = 0;
    for (std::size_t i = 1; i < corners.size(); ++i)
        if (glm::dot(corners[i], direction) > glm::dot(corners[best], direction))
            best = i;
    Facing result{{corners[best], corners[best]}, 1};
    double flattest = parallel;
    for (const std::size_t step : {std::size_t{1}, corners.size() - 1}) {
        const Vec& other = corners[(best + step) % corners.size()];
        const Vec along = other - corners[best];
        const double length = glm::length(along);
        if (length > 0 && -glm::dot(along, direction) <= flattest * length) {
            flattest = -glm::dot(along, direction) / length;
            result = {{corners[best], other}, 2};
        }
    }
    return result;
}

} // namespace

Manifold manifoldOf(const Hull& a, const Hull& b, double parallel)
{
    const Gap gap = gapBetween(a, b);
    Manifold manifold;
    manifold.normal = gap.normal;
    manifold.points[0] = {gap.point, gap.distance};
    manifold.count = 1;
    const Facing ofA = facing(a, gap.normal, parallel);
    const Facing ofB = facing(b, -gap.normal, parallel);
    if (ofA.count < 2 || ofB.count < 2)
        return manifold;
    // Where two corners touch, no edge does.
    if (facing(a, gap.normal, flat).count < 2 && facing(b, -gap.normal, flat).count < 2)
        return manifold;
    const Vec along = perpendicular(gap.normal);
    const auto range = [&](const Facing& edge) {
        const auto [low, high] = std::minmax({glm::dot(edge.ends[0], along), glm::dot(edge.ends[1], along)});
        return std::pair(low, high);
    };
    const auto [lowA, highA] = range(ofA);
    const auto [lowB, highB] = range(ofB);
    const double low = std::max(lowA, lowB);
    const double high = std::min(highA, highB);
    if (!(low < high))
        return manifold;
    // The point of an edge at a place along it.
    const auto pointOf = [&](const Facing& edge, double place) {
        const double from = glm::dot(edge.ends[0], along);
        const double to = glm::dot(edge.ends[1], along);
        return edge.ends[0] + (edge.ends[1] - edge.ends[0]) * ((place - from) / (to - from));
    };
    manifold.count = 0;
    for (const double place : {low, high}) {
        const Vec onA = pointOf(ofA, place) + gap.normal * a.radius;
        const Vec onB = pointOf(ofB, place) - gap.normal * b.radius;
        manifold.points[static_cast<std::size_t>(manifold.count++)] = {onB, glm::dot(onB - onA, gap.normal)};
    }
    return manifold;
}

bool contains(const Hull& placedHull, const Vec& point)
{
    return gapBetween(placedHull, discHull(point, 0)).distance <= 0;
}

} // namespace snare::geometry
