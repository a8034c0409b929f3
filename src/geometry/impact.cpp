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

/// The difference of two cores: all a - b, as a convex polygon in counter-clockwise order (1 or 2
/// points when flat).
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

/// Corners without those that are where another is but for rounding: the edge between two such has
/// no direction.
struct Corners {
    std::array<Vec, maxHullPoints> points;
    std::size_t count = 0;

    Corners(const Hull& hull, double sign)
    {
        double farthest = 0;
        for (const Vec& corner : hull.corners())
            farthest = std::max({farthest, std::abs(corner.x), std::abs(corner.y)});
        const double close = 1e-13 * farthest;
        const auto isClose = [&](const Vec& one, const Vec& other) {
            return std::abs(one.x - other.x) <= close && std::abs(one.y - other.y) <= close;
        };
        for (const Vec& corner : hull.corners())
            if (count == 0 || !isClose(corner * sign, points[count - 1]))
                points[count++] = corner * sign;
        while (count > 1 && isClose(points[count - 1], points[0]))
            --count;
    }
    std::span<const Vec> all() const { return {points.data(), count}; }
};

Difference differenceOf(const Hull& a, const Hull& b)
{
    const Corners own{a, 1};
    const Corners mirrored{b, -1};
    const std::span<const Vec> first = own.all();
    const std::span<const Vec> second = mirrored.all();
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

/// The times at which the ray is nearer than `radius` to the polygon, or deeper in it than
/// -`radius`. One interval, since both are convex.
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
            core.below(ray, out, glm::dot(from, out) + std::min(radius, 0.0));
        }
        result.join(core.inside);
    }
    if (radius <= 0)
        return result;
    // The strips reach a little way in, so that a point that rests exactly on the core's edge is in
    // one of the parts.
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

/// What is left of a stretch of nearness in the window and in the tick.
std::optional<Span> spanOf(const Interval& near, const Window& window, double speed)
{
    const double low = std::max(near.low, window.from);
    const double high = std::min(near.high, window.to);
    // A graze shorter than rounding can tell is a touch, not an overlap.
    if (!(low < high) || (near.high - near.low) * speed < distanceTolerance)
        return std::nullopt;
    if (high <= timeTolerance || low >= 1 - timeTolerance)
        return std::nullopt;
    return Span{std::clamp(low, 0.0, 1.0), std::clamp(high, 0.0, 1.0), low<0, high> 1 + timeTolerance};
}

// --- straight ------------------------------------------------------------------------------------------------------

/// Corners 0 and 2 lie across from each other and the edges are upright.
bool isUprightBox(const Hull& hull)
{
    return hull.count == 4 && hull.radius == 0 &&
           ((hull.points[0].y == hull.points[1].y && hull.points[1].x == hull.points[2].x &&
             hull.points[2].y == hull.points[3].y && hull.points[3].x == hull.points[0].x) ||
            (hull.points[0].x == hull.points[1].x && hull.points[1].y == hull.points[2].y &&
             hull.points[2].x == hull.points[3].x && hull.points[3].y == hull.points[0].y));
}

} // namespace

std::optional<Plain> plainOf(const Hull& hull, double turn)
{
    if (hull.count == 1) {
        const Vec& centre = hull.points[0];
        return Plain{turn == 0 || centre == Vec{0, 0} ? centre : rotationOf(turn).apply(centre), {0, 0}, hull.radius};
    }
    if (turn != 0 || !isUprightBox(hull))
        return std::nullopt;
    return Plain{(hull.points[0] + hull.points[2]) * 0.5, glm::abs(hull.points[2] - hull.points[0]) * 0.5, 0};
}

namespace {

/// The times at which the ray is inside the rectangle of half size `half` around the origin.
Interval insideBox(const Ray& ray, const Vec& half)
{
    Clip clip;
    for (const int axis : {0, 1}) {
        const double p = ray.p[axis];
        const double v = ray.v[axis];
        if (v == 0) {
            if (half[axis] - std::abs(p) <= distanceTolerance)
                return {};
            continue;
        }
        const double one = (-half[axis] - p) / v;
        const double other = (half[axis] - p) / v;
        clip.inside.low = std::max(clip.inside.low, std::min(one, other));
        clip.inside.high = std::min(clip.inside.high, std::max(one, other));
    }
    return clip.inside;
}

/// The times at which the ray is nearer than `radius` to the rectangle of half size `half` around
/// the origin, or deeper in it than -`radius`.
Interval insideRoundedBox(const Ray& ray, const Vec& half, double radius)
{
    if (half == Vec{0, 0})
        return radius > 0 ? insideDisc(ray, {0, 0}, radius) : Interval{};
    if (radius <= 0)
        return insideBox(ray, half + Vec(radius, radius));
    if (insideBox(ray, half + Vec(radius, radius)).empty())
        return {};
    Interval result;
    result.join(insideBox(ray, half + Vec(radius, 0)));
    result.join(insideBox(ray, half + Vec(0, radius)));
    for (const Vec& corner : {half, Vec(half.x, -half.y), Vec(-half.x, half.y), -half})
        result.join(insideDisc(ray, corner, radius));
    return result;
}

/// When the way of b as seen from a is nearer than `within`.
struct Straight {
    Interval near;
    double speed;
};

Straight straightNearness(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB, double within)
{
    Ray ray{motionOfB.from.at - motionOfA.from.at,
            (motionOfB.to.at - motionOfB.from.at) - (motionOfA.to.at - motionOfA.from.at)};
    double speed = glm::length(ray.v);
    if (speed <= distanceTolerance) { // what is left of a way but for rounding is none
        ray.v = {0, 0};
        speed = 0;
    }
    const auto plainA = plainOf(a, motionOfA.from.turn);
    const auto plainB = plainA ? plainOf(b, motionOfB.from.turn) : std::nullopt;
    if (plainB) {
        const Ray between{ray.p + plainB->middle - plainA->middle, ray.v};
        return {insideRoundedBox(between, plainA->half + plainB->half, plainA->radius + plainB->radius + within),
                speed};
    }
    const Difference difference = differenceOf(placed(a, {{0, 0}, motionOfA.from.turn}), //
                                               placed(b, {{0, 0}, motionOfB.from.turn}));
    return {insideRounded(ray, difference, a.radius + b.radius + within), speed};
}

std::optional<Span> straightSpan(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB,
                                 double within, const Window& window)
{
    const Straight straight = straightNearness(a, motionOfA, b, motionOfB, within);
    return spanOf(straight.near, window, straight.speed);
}

// --- turning -------------------------------------------------------------------------------------------------------

constexpr double radiansPerDegree = 0.017453292519943295;

double lowestAlong(const Hull& hull, const Vec& axis)
{
    double low = infinity;
    for (const Vec& corner : hull.corners())
        low = std::min(low, glm::dot(corner, axis));
    return low - hull.radius;
}

/// The distance of a turning pair over time, with bounds on what it does between two moments.
class TurningPair {
  public:
    TurningPair(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB, double within)
        : a_(a), b_(b), motionOfA_(motionOfA), motionOfB_(motionOfB), within_(within),
          tolerance_(depthTolerance(a, motionOfA, b, motionOfB))
    {
        const Vec way = (motionOfB.to.at - motionOfB.from.at) - (motionOfA.to.at - motionOfA.from.at);
        const double turnOfA = std::abs(motionOfA.to.turn - motionOfA.from.turn) * radiansPerDegree;
        const double turnOfB = std::abs(motionOfB.to.turn - motionOfB.from.turn) * radiansPerDegree;
        fastest_ = glm::length(way) + turnOfA * boundingRadius(a) + turnOfB * boundingRadius(b);
        sharpest_ = turnOfA * turnOfA * boundingRadius(a) + turnOfB * turnOfB * boundingRadius(b);
    }

    struct Moment {
        double t;
        double beyond; ///< distance less within
        Vec normal;
        Hull a;
        Hull b;
    };

    Moment at(double t)
    {
        ++looks_;
        Moment moment{t, 0, {0, 0}, placed(a_, motionOfA_.at(t)), placed(b_, motionOfB_.at(t))};
        const Gap gap = gapBetween(moment.a, moment.b);
        moment.beyond = gap.distance - within_;
        moment.normal = gap.normal;
        return moment;
    }

    bool isNear(const Moment& moment) const { return moment.beyond < -tolerance_; }

    /// The first moment of nearness between two, or nothing. It is never late.
    std::optional<double> first(const Moment& from, const Moment& to)
    {
        if (isNear(from))
            return from.t;
        if (staysApart(from, to))
            return std::nullopt;
        if (to.t - from.t < timeStep || looks_ > mostLooks)
            return isNear(to) ? std::optional(from.t) : std::nullopt;
        const Moment middle = at((from.t + to.t) * 0.5);
        if (const auto found = first(from, middle))
            return found;
        return first(middle, to);
    }

    /// The last moment of nearness between two, or nothing. It is never early.
    std::optional<double> last(const Moment& from, const Moment& to)
    {
        if (isNear(to))
            return to.t;
        if (staysApart(from, to))
            return std::nullopt;
        if (to.t - from.t < timeStep || looks_ > mostLooks)
            return isNear(from) ? std::optional(to.t) : std::nullopt;
        const Moment middle = at((from.t + to.t) * 0.5);
        if (const auto found = last(middle, to))
            return found;
        return last(from, middle);
    }

    void rest() { looks_ = 0; }

  private:
    /// Two hulls that slide along each other within the tolerance for a whole tick would be halved
    /// without end.
    static constexpr int mostLooks = 200'000;

    /// The distance along a fixed axis, which is never more than the distance itself.
    double along(const Moment& moment, const Vec& axis) const
    {
        return lowestAlong(moment.b, axis) + lowestAlong(moment.a, -axis) - within_;
    }

    /// Whether they can be proven not to come near between two moments.
    bool staysApart(const Moment& from, const Moment& to) const
    {
        const double time = to.t - from.t;
        // Neither end can be reached at full speed.
        if ((from.beyond + to.beyond - fastest_ * time) * 0.5 >= -tolerance_)
            return true;
        // Along one axis a corner stays above its chord but for sharpest * time² / 8.
        const double bend = sharpest_ * time * time / 8;
        for (const Vec& axis : {from.normal, to.normal})
            if (std::min(along(from, axis), along(to, axis)) - bend >= -tolerance_)
                return true;
        return false;
    }

    const Hull& a_;
    const Hull& b_;
    const Motion& motionOfA_;
    const Motion& motionOfB_;
    double within_;
    double tolerance_;
    double fastest_ = 0;  ///< how much the distance can change in a tick, m
    double sharpest_ = 0; ///< how much its slope can change in a tick, m
    int looks_ = 0;
};

std::optional<Span> turningSpan(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB,
                                double within, const Window& window)
{
    const double begin = std::max(0.0, window.from);
    const double end = std::min(1.0, window.to);
    if (end <= timeTolerance || begin >= 1 - timeTolerance)
        return std::nullopt;
    TurningPair pair{a, motionOfA, b, motionOfB, within};
    const TurningPair::Moment from = pair.at(begin);
    const TurningPair::Moment to = pair.at(end);
    const auto enter = pair.first(from, to);
    if (!enter)
        return std::nullopt;
    pair.rest();
    const double exit = std::max(*enter, pair.last(from, to).value_or(*enter));
    if (exit <= timeTolerance || *enter >= 1 - timeTolerance)
        return std::nullopt;
    return Span{*enter, exit, window.from < 0 && pair.isNear(from), window.to > 1 + timeTolerance && pair.isNear(to)};
}

/// Half the greater side of the hull's rectangle.
double sizeOf(const Hull& hull)
{
    const Vec size = boundsOf(hull).size();
    return std::max(size.x, size.y) * 0.5;
}

double farthest(const Motion& motion, const Hull& hull)
{
    return std::max({std::abs(motion.from.at.x), std::abs(motion.from.at.y), std::abs(motion.to.at.x),
                     std::abs(motion.to.at.y)}) +
           boundingRadius(hull) + hull.radius;
}

} // namespace

double depthTolerance(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB)
{
    double size = 1;
    for (const double own : {sizeOf(a), sizeOf(b)})
        if (own > 0)
            size = std::min(size, own);
    constexpr double rounding = 64 * std::numeric_limits<double>::epsilon();
    return std::max(1e-9 * size, rounding * std::max(farthest(motionOfA, a), farthest(motionOfB, b)));
}

Window heightWindow(const Band& a, const Motion& motionOfA, const Band& b, const Motion& motionOfB)
{
    Window window;
    if (!a.limited() && !b.limited())
        return window;
    const double rise = (motionOfB.to.z - motionOfB.from.z) - (motionOfA.to.z - motionOfA.from.z);
    const double apart = motionOfB.from.z - motionOfA.from.z;
    // b's low is below a's high, and b's high above a's low.
    const auto below = [&](double limit, double slope) { // slope * t < limit
        if (std::isinf(limit))
            return;
        if (slope == 0) {
            if (limit <= distanceTolerance)
                window = {0, 0};
        } else if (slope > 0) {
            window.to = std::min(window.to, limit / slope);
        } else {
            window.from = std::max(window.from, limit / slope);
        }
    };
    // Bands that overlap by no more than rounding touch.
    const auto depth = [&](double limit, double slope) { return std::max(limit, limit - slope); };
    const double close = distanceTolerance * std::max({1.0, std::abs(motionOfA.from.z), std::abs(motionOfB.from.z)});
    if (depth(a.high - b.low - apart, rise) <= close || depth(b.high - a.low + apart, -rise) <= close)
        return {0, 0};
    below(a.high - b.low - apart, rise);
    below(b.high - a.low + apart, -rise);
    return window;
}

std::optional<Span> nearSpan(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB,
                             double within, const Window& window)
{
    if (window.empty())
        return std::nullopt;
    if (motionOfA.turns() || motionOfB.turns())
        return turningSpan(a, motionOfA, b, motionOfB, within, window);
    return straightSpan(a, motionOfA, b, motionOfB, within, window);
}

Window plainWindow(const Vec& between, const Vec& way, const Vec& half, double radius)
{
    const bool stays = squaredLength(way) <= distanceTolerance * distanceTolerance; // but for rounding
    const Interval near = insideRoundedBox({between, stays ? Vec{0, 0} : way}, half, radius);
    return {near.low, near.high};
}

Window straightWindow(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB, double within)
{
    const Interval near = straightNearness(a, motionOfA, b, motionOfB, within).near;
    return {near.low, near.high};
}

std::optional<Span> nearSpan(std::span<const Hull> a, const Motion& motionOfA, std::span<const Hull> b,
                             const Motion& motionOfB, double within, const Window& window)
{
    if (a.size() == 1 && b.size() == 1)
        return nearSpan(a.front(), motionOfA, b.front(), motionOfB, within, window);
    std::optional<Span> whole;
    for (const Hull& partOfA : a) {
        Bounds around = sweptBounds(partOfA, motionOfA);
        around.grow(within + distanceTolerance);
        for (const Hull& partOfB : b) {
            if (!around.overlaps(sweptBounds(partOfB, motionOfB)))
                continue;
            const auto span = nearSpan(partOfA, motionOfA, partOfB, motionOfB, within, window);
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
