// SPDX-License-Identifier: Apache-2.0
#include "geometry/outline.h"

#include <algorithm>
#include <map>
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

std::string tooMany()
{
    return "more than " + std::to_string(mostCorners) + " corners";
}

using Corners = std::vector<std::size_t>;

bool insideTriangle(const Vec& a, const Vec& b, const Vec& c, const Vec& p)
{
    return cross(b - a, p - a) >= 0 && cross(c - b, p - b) >= 0 && cross(a - c, p - c) >= 0;
}

/// Cuts triangles off a polygon that goes counter-clockwise, ear by ear.
class EarCutter {
  public:
    EarCutter(std::span<const Vec> points, Corners corners)
        : points_(points), rest_(std::move(corners)), evenness_(rest_.size())
    {
        for (std::size_t i = 0; i < rest_.size(); ++i)
            evenness_[i] = evennessOf(i);
    }

    std::vector<Corners> cut()
    {
        std::vector<Corners> triangles;
        while (rest_.size() > 3) {
            // The ear that is nearest to an even triangle, so that no thin ones are left over.
            const auto ear = static_cast<std::size_t>(std::ranges::max_element(evenness_) - evenness_.begin());
            if (evenness_[ear] != 0) // a corner on a straight edge is no area
                triangles.push_back({before(ear), rest_[ear], after(ear)});
            rest_.erase(rest_.begin() + static_cast<std::ptrdiff_t>(ear));
            evenness_.erase(evenness_.begin() + static_cast<std::ptrdiff_t>(ear));
            // Only its neighbours can have become ears, or ceased to be.
            for (const std::size_t neighbour : {(ear + rest_.size() - 1) % rest_.size(), ear % rest_.size()})
                evenness_[neighbour] = evennessOf(neighbour);
        }
        triangles.push_back(rest_);
        return triangles;
    }

  private:
    std::size_t before(std::size_t i) const { return rest_[(i + rest_.size() - 1) % rest_.size()]; }
    std::size_t after(std::size_t i) const { return rest_[(i + 1) % rest_.size()]; }

    /// How even the triangle at this corner is: above 0 for an ear, 0 on a straight edge, below 0
    /// if it is no ear.
    double evennessOf(std::size_t i) const
    {
        const Vec& a = points_[before(i)];
        const Vec& b = points_[rest_[i]];
        const Vec& c = points_[after(i)];
        const double turn = turnAt(a, b, c);
        const bool free = turn >= 0 && std::ranges::none_of(rest_, [&](std::size_t j) {
                              const Vec& other = points_[j];
                              return other != a && other != b && other != c && insideTriangle(a, b, c, other);
                          });
        if (!free)
            return -1;
        return turn / std::max({squaredLength(b - a), squaredLength(c - b), squaredLength(a - c)});
    }

    std::span<const Vec> points_;
    Corners rest_;
    std::vector<double> evenness_; ///< by place in `rest_`
};

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

/// Joins parts over their common edges as long as that works; what was joined to another is left
/// empty.
void joinNeighbours(std::span<const Vec> points, std::vector<Corners>& parts)
{
    std::map<std::pair<std::size_t, std::size_t>, std::size_t> owner; // of each edge, by its corners
    const auto own = [&](std::size_t part) {
        for (std::size_t i = 0; i < parts[part].size(); ++i)
            owner[{parts[part][i], parts[part][(i + 1) % parts[part].size()]}] = part;
    };
    for (std::size_t part = 0; part < parts.size(); ++part)
        own(part);
    for (std::size_t part = 0; part < parts.size(); ++part)
        for (std::size_t i = 0; i < parts[part].size();) {
            const std::pair opposite{parts[part][(i + 1) % parts[part].size()], parts[part][i]};
            const auto other = owner.find(opposite);
            Corners both;
            if (other != owner.end() && other->second != part && !parts[other->second].empty())
                both = joined(points, parts[part], parts[other->second]);
            if (both.empty()) {
                ++i;
                continue;
            }
            parts[other->second].clear();
            parts[part] = std::move(both);
            own(part);
            i = 0; // what did not fit before may fit now
        }
}

} // namespace

double doubledArea(std::span<const Vec> points)
{
    double area = 0;
    for (std::size_t i = 0; i < points.size(); ++i)
        area += cross(points[i] - points[0], points[(i + 1) % points.size()] - points[0]);
    return area;
}

bool encloses(std::span<const Vec> points, const Vec& point)
{
    bool inside = false;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Vec& a = points[i];
        const Vec& b = points[(i + 1) % points.size()];
        if ((a.y > point.y) != (b.y > point.y) &&
            point.x < a.x + (b.x - a.x) * (point.y - a.y) / (b.y - a.y)) // an edge to the right of it
            inside = !inside;
    }
    return inside;
}

std::optional<std::string> faultOfPolygon(std::span<const Vec> points)
{
    if (points.size() < 3)
        return "a polygon has at least three corners";
    if (points.size() > mostCorners)
        return tooMany();
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
    if (points.size() > mostCorners)
        return tooMany();
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
    std::vector<Corners> parts = EarCutter{points, std::move(all)}.cut();
    joinNeighbours(points, parts);
    for (const Corners& part : parts) {
        if (part.empty()) // joined to another
            continue;
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
