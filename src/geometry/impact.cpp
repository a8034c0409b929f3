// SPDX-License-Identifier: Apache-2.0
#include "geometry/impact.h"

#include "geometry/gap.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace snare::geometry {

namespace {

constexpr double infinity = std::numeric_limits<double>::infinity();

/// An open interval of time; empty while `low` is not below `high`.
struct Interval {
    double low = infinity;
    double high = -infinity;

    bool empty() const { return !(low < high); }
    void join(const Interval& other)
    {
        if (other.empty())
            return;
        low = std::min(low, other.low);
        high = std::max(high, other.high);
    }
};

/// The point that stands for the motion of b as seen from a: p + v t.
struct Ray {
    Vec p;
    Vec v;
};

/// The times at which the ray is inside all half planes dot(x, normal) < limit.
struct Clip {
    Interval inside{-infinity, infinity};

    void below(const Ray& ray, const Vec& normal, double limit)
    {
        const double distance = limit - glm::dot(ray.p, normal);
        const double speed = glm::dot(ray.v, normal);
        if (speed == 0) {
            if (distance <= distanceTolerance)
                inside = {};
            return;
        }
        const double t = distance / speed;
        if (speed > 0)
            inside.high = std::min(inside.high, t);
        else
            inside.low = std::max(inside.low, t);
    }
};

Interval insideDisc(const Ray& ray, const Vec& centre, double radius)
{
    const Vec p = ray.p - centre;
    const double a = squaredLength(ray.v);
    const double c = squaredLength(p) - radius * radius;
    if (a == 0)
        return c < -distanceTolerance * radius ? Interval{-infinity, infinity} : Interval{};
    const double b = glm::dot(p, ray.v);
    const double d = b * b - a * c;
    if (d <= 0)
        return {};
    // The root of larger size first, the other by Vieta: no cancellation.
    const double q = -(b + std::copysign(std::sqrt(d), b));
    const double first = q / a;
    const double second = q == 0 ? 0 : c / q;
    return {std::min(first, second), std::max(first, second)};
}

/// The difference of two cores: all a - b, as a convex polygon in counter-clockwise order (1 or 2 points when flat).
struct Difference {
    std::array<Vec, static_cast<std::size_t>(2 * maxHullPoints)> points;
    std::size_t count = 0;

    void add(const Vec& point)
    {
        if (count == 0 || point != points[count - 1])
            points[count++] = point;
    }
};

std::size_t lowestCorner(std::span<const Vec> corners)
{
    std::size_t best = 0;
    for (std::size_t i = 1; i < corners.size(); ++i)
        if (corners[i].y < corners[best].y || (corners[i].y == corners[best].y && corners[i].x < corners[best].x))
            best = i;
    return best;
}

Difference differenceOf(const Hull& a, const Hull& b)
{
    std::array<Vec, maxHullPoints> mirroredPoints;
    for (std::size_t i = 0; i < static_cast<std::size_t>(b.count); ++i)
        mirroredPoints[i] = -b.points[i];
    const std::span<const Vec> first = a.corners();
    const std::span<const Vec> second{mirroredPoints.data(), static_cast<std::size_t>(b.count)};
    const std::size_t startA = lowestCorner(first);
    const std::size_t startB = lowestCorner(second);

    Difference result;
    std::size_t i = 0;
    std::size_t j = 0;
    // The edges of both, merged by direction.
    while (i < first.size() || j < second.size()) {
        const auto cornerA = [&](std::size_t k) { return first[(startA + k) % first.size()]; };
        const auto cornerB = [&](std::size_t k) { return second[(startB + k) % second.size()]; };
        result.add(cornerA(i) + cornerB(j));
        const bool aLeft = i < first.size() && first.size() > 1;
        const bool bLeft = j < second.size() && second.size() > 1;
        if (!aLeft && !bLeft)
            break;
        double turn = 0;
        if (aLeft && bLeft)
            turn = cross(cornerA(i + 1) - cornerA(i), cornerB(j + 1) - cornerB(j));
        if (aLeft && (!bLeft || turn >= 0))
            ++i;
        if (bLeft && (!aLeft || turn <= 0))
            ++j;
    }
    if (result.count > 1 && result.points[result.count - 1] == result.points[0])
        --result.count;
    return result;
}

/// The times at which the ray is nearer than `radius` to the polygon. One interval, since both are convex.
Interval insideRounded(const Ray& ray, const Difference& polygon, double radius)
{
    Interval result;
    const std::size_t n = polygon.count;
    if (n >= 3) {
        Clip core;
        for (std::size_t i = 0; i < n; ++i) {
            const Vec& from = polygon.points[i];
            const Vec& to = polygon.points[(i + 1) % n];
            const Vec out = -perpendicular(unitOr(to - from, {1, 0}));
            core.below(ray, out, glm::dot(from, out));
        }
        result.join(core.inside);
    }
    if (radius <= 0)
        return result;
    // The strips reach a little way in, so that a point that rests exactly on the core's edge is in one of the parts.
    const double seam = std::min(radius / 2, 1e-6);
    for (std::size_t i = 0; n >= 2 && i < n; ++i) {
        const Vec& from = polygon.points[i];
        const Vec& to = polygon.points[(i + 1) % n];
        const Vec along = unitOr(to - from, {1, 0});
        const Vec out = -perpendicular(along);
        Clip rim; // the strip of width `radius` on the outer side of the edge
        rim.below(ray, out, glm::dot(from, out) + radius);
        rim.below(ray, -out, -glm::dot(from, out) + seam);
        rim.below(ray, along, glm::dot(to, along));
        rim.below(ray, -along, -glm::dot(from, along));
        result.join(rim.inside);
    }
    for (std::size_t i = 0; i < n; ++i)
        result.join(insideDisc(ray, polygon.points[i], radius));
    return result;
}

std::optional<Span> straightSpan(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB,
                                 double reach)
{
    const Difference difference = differenceOf(placed(a, {{0, 0}, motionOfA.from.turn}), //
                                               placed(b, {{0, 0}, motionOfB.from.turn}));
    const Ray ray{motionOfB.from.at - motionOfA.from.at,
                  (motionOfB.to.at - motionOfB.from.at) - (motionOfA.to.at - motionOfA.from.at)};
    const Interval near = insideRounded(ray, difference, a.radius + b.radius + reach);
    // A graze shorter than rounding can tell is a touch, not an overlap.
    if (near.empty() || (near.high - near.low) * glm::length(ray.v) < distanceTolerance)
        return std::nullopt;
    if (near.high <= timeTolerance || near.low >= 1 - timeTolerance)
        return std::nullopt;
    return Span{std::clamp(near.low, 0.0, 1.0), std::clamp(near.high, 0.0, 1.0),
                near.low<0, near.high> 1 + timeTolerance};
}

/// How much the distance can change in the whole tick, at the most.
double fastestApproach(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB)
{
    constexpr double radiansPerDegree = 0.017453292519943295;
    const Vec way = (motionOfB.to.at - motionOfB.from.at) - (motionOfA.to.at - motionOfA.from.at);
    return glm::length(way) + std::abs(motionOfA.to.turn - motionOfA.from.turn) * radiansPerDegree * reachOf(a) +
           std::abs(motionOfB.to.turn - motionOfB.from.turn) * radiansPerDegree * reachOf(b);
}

std::optional<Span> turningSpan(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB,
                                double reach)
{
    const double fastest = fastestApproach(a, motionOfA, b, motionOfB);
    const auto beyond = [&](double t) {
        return gapBetween(placed(a, motionOfA.at(t)), placed(b, motionOfB.at(t))).distance - reach;
    };
    // Steps that are safe by the bound. Near the surface they would shrink without end: there it goes on by
    // `smallestStep`, and what such a step jumped into is found by halving it.
    constexpr double smallestStep = 1.0 / 1024;
    const auto advance = [&](double from, double direction) -> double {
        double apart = from;
        for (double t = from; t >= 0 && t <= 1;) {
            const double distance = beyond(t);
            if (distance < -distanceTolerance) {
                for (int i = 0; i < 40 && t != apart; ++i) {
                    const double middle = (apart + t) * 0.5;
                    (beyond(middle) < -distanceTolerance ? t : apart) = middle;
                }
                return apart;
            }
            apart = t;
            const double next = t + direction * std::max(distance / fastest, smallestStep);
            t = t != 1 - from ? std::clamp(next, 0.0, 1.0) : -1;
        }
        return -1;
    };
    const double enter = advance(0, 1);
    if (enter < 0)
        return std::nullopt;
    const double exit = advance(1, -1);
    return Span{enter, std::max(exit, enter), beyond(0) < -distanceTolerance, beyond(1) < -distanceTolerance};
}

} // namespace

std::optional<Span> nearSpan(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB,
                             double reach)
{
    if (motionOfA.turns() || motionOfB.turns())
        return turningSpan(a, motionOfA, b, motionOfB, reach);
    return straightSpan(a, motionOfA, b, motionOfB, reach);
}

std::optional<Span> nearSpan(std::span<const Hull> a, const Motion& motionOfA, std::span<const Hull> b,
                             const Motion& motionOfB, double reach)
{
    if (a.size() == 1 && b.size() == 1)
        return nearSpan(a.front(), motionOfA, b.front(), motionOfB, reach);
    std::optional<Span> whole;
    for (const Hull& partOfA : a) {
        Bounds around = sweptBounds(partOfA, motionOfA);
        around.grow(reach + distanceTolerance);
        for (const Hull& partOfB : b) {
            if (!around.overlaps(sweptBounds(partOfB, motionOfB)))
                continue;
            const auto span = nearSpan(partOfA, motionOfA, partOfB, motionOfB, reach);
            if (!span)
                continue;
            if (!whole) {
                whole = span;
                continue;
            }
            whole->enter = std::min(whole->enter, span->enter);
            whole->exit = std::max(whole->exit, span->exit);
            whole->atStart |= span->atStart;
            whole->atEnd |= span->atEnd;
        }
    }
    return whole;
}

} // namespace snare::geometry
