// SPDX-License-Identifier: Apache-2.0
#include "geometry/outline.h"

#include <algorithm>
#include <numeric>

namespace snare::geometry {

namespace {

double turnAt(const Vec& a, const Vec& b, const Vec& c)
{
    return cross(b - a, c - b);
}

bool onSegment(const Vec& a, const Vec& b, const Vec& p)
{
    return cross(b - a, p - a) == 0 && glm::dot(p - a, p - b) <= 0;
}

/// True if the two segments have a point in common.
bool meet(const Vec& a, const Vec& b, const Vec& c, const Vec& d)
{
    const auto side = [](const Vec& from, const Vec& to, const Vec& p) {
        const double s = cross(to - from, p - from);
        return s > 0 ? 1 : s < 0 ? -1 : 0;
    };
    if (side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0)
        return true;
    return onSegment(a, b, c) || onSegment(a, b, d) || onSegment(c, d, a) || onSegment(c, d, b);
}

std::optional<std::string> doubledCorner(std::span<const Vec> points, bool closed)
{
    for (std::size_t i = 0; i + 1 < points.size() + (closed ? 1 : 0); ++i)
        if (points[i] == points[(i + 1) % points.size()])
            return "corner " + std::to_string(i + 1) + " and the next one are at the same place";
    return std::nullopt;
}

using Corners = std::vector<std::size_t>;

bool insideTriangle(const Vec& a, const Vec& b, const Vec& c, const Vec& p)
{
    return cross(b - a, p - a) >= 0 && cross(c - b, p - b) >= 0 && cross(a - c, p - c) >= 0;
}

/// Triangles of a polygon that goes counter-clockwise.
std::vector<Corners> triangles(std::span<const Vec> points, Corners rest)
{
    std::vector<Corners> result;
    while (rest.size() > 3) {
        std::size_t ear = 0;
        double best = -1;
        for (std::size_t i = 0; i < rest.size(); ++i) {
            const std::size_t before = rest[(i + rest.size() - 1) % rest.size()];
            const std::size_t after = rest[(i + 1) % rest.size()];
            const Vec& a = points[before];
            const Vec& b = points[rest[i]];
            const Vec& c = points[after];
            const double turn = turnAt(a, b, c);
            if (turn < 0)
                continue;
            const bool free = std::ranges::none_of(rest, [&](std::size_t j) {
                return j != before && j != rest[i] && j != after && points[j] != a && points[j] != b &&
                       points[j] != c && insideTriangle(a, b, c, points[j]);
            });
            // The ear that is nearest to an even triangle, so that no thin ones are left over.
            const double size = std::max({squaredLength(b - a), squaredLength(c - b), squaredLength(a - c)});
            if (free && turn / size > best) {
                best = turn / size;
                ear = i;
            }
        }
        const std::size_t before = rest[(ear + rest.size() - 1) % rest.size()];
        const std::size_t after = rest[(ear + 1) % rest.size()];
        if (best != 0) // a corner on a straight edge is no area
            result.push_back({before, rest[ear], after});
        rest.erase(rest.begin() + static_cast<std::ptrdiff_t>(ear));
    }
    result.push_back(rest);
    return result;
}

/// The two parts as one, if they share an edge and stay convex and small enough; else empty.
Corners joined(std::span<const Vec> points, const Corners& a, const Corners& b)
{
    if (a.size() + b.size() - 2 > maxHullPoints)
        return {};
    for (std::size_t i = 0; i < a.size(); ++i) {
        const std::size_t from = a[i];
        const std::size_t to = a[(i + 1) % a.size()];
        for (std::size_t j = 0; j < b.size(); ++j) {
            if (b[j] != to || b[(j + 1) % b.size()] != from)
                continue;
            Corners all; // around a from `to`, then around b from `from`
            for (std::size_t k = 0; k < a.size(); ++k)
                all.push_back(a[(i + 1 + k) % a.size()]);
            for (std::size_t k = 2; k < b.size(); ++k)
                all.push_back(b[(j + k) % b.size()]);
            for (std::size_t k = 0; k < all.size(); ++k)
                if (turnAt(points[all[k]], points[all[(k + 1) % all.size()]], points[all[(k + 2) % all.size()]]) < 0)
                    return {};
            return all;
        }
    }
    return {};
}

} // namespace

double doubledArea(std::span<const Vec> points)
{
    double area = 0;
    for (std::size_t i = 0; i < points.size(); ++i)
        area += cross(points[i] - points[0], points[(i + 1) % points.size()] - points[0]);
    return area;
}

std::optional<std::string> faultOfPolygon(std::span<const Vec> points)
{
    if (points.size() < 3)
        return "a polygon has at least three corners";
    if (auto doubled = doubledCorner(points, true))
        return doubled;
    const std::size_t n = points.size();
    for (std::size_t i = 0; i < n; ++i) {
        const Vec& a = points[i];
        const Vec& b = points[(i + 1) % n];
        // The next edge may share its corner only.
        if (onSegment(a, b, points[(i + 2) % n]) || onSegment(b, points[(i + 2) % n], a))
            return "edge " + std::to_string(i + 1) + " and the next one lie on each other";
        for (std::size_t j = i + 2; j < n; ++j)
            if ((j + 1) % n != i && meet(a, b, points[j], points[(j + 1) % n]))
                return "edges " + std::to_string(i + 1) + " and " + std::to_string(j + 1) + " cross";
    }
    if (doubledArea(points) == 0)
        return "the polygon has no area";
    return std::nullopt;
}

std::optional<std::string> faultOfLine(std::span<const Vec> points, bool closed)
{
    if (points.size() < (closed ? 3U : 2U))
        return closed ? "a closed line has at least three corners" : "a line has at least two corners";
    return doubledCorner(points, closed);
}

std::vector<Hull> partsOfPolygon(std::span<const Vec> points)
{
    std::vector<Hull> hulls;
    if (points.size() < 3)
        return hulls;
    Corners all(points.size());
    std::iota(all.begin(), all.end(), 0U);
    if (doubledArea(points) < 0)
        std::ranges::reverse(all);
    std::vector<Corners> parts = triangles(points, std::move(all));
    for (std::size_t i = 0; i < parts.size(); ++i)
        for (std::size_t j = i + 1; j < parts.size();) {
            Corners both = joined(points, parts[i], parts[j]);
            if (both.empty()) {
                ++j;
                continue;
            }
            parts[i] = std::move(both);
            parts.erase(parts.begin() + static_cast<std::ptrdiff_t>(j));
            j = i + 1; // what did not fit before may fit now
        }
    for (const Corners& part : parts) {
        Hull hull;
        for (const std::size_t corner : part)
            hull.points[static_cast<std::size_t>(hull.count++)] = points[corner];
        hulls.push_back(hull);
    }
    return hulls;
}

std::vector<Hull> partsOfLine(std::span<const Vec> points, bool closed)
{
    std::vector<Hull> hulls;
    for (std::size_t i = 0; i + 1 < points.size() + (closed ? 1 : 0); ++i)
        hulls.push_back(capsuleHull(points[i], points[(i + 1) % points.size()], 0));
    return hulls;
}

Hull capsuleHull(const Vec& from, const Vec& to, double radius)
{
    Hull hull;
    hull.points[0] = from;
    hull.points[1] = to;
    hull.count = from == to ? 1 : 2;
    hull.radius = radius;
    return hull;
}

} // namespace snare::geometry
