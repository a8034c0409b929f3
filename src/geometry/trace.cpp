// SPDX-License-Identifier: Apache-2.0
#include "geometry/trace.h"

#include "geometry/outline.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>

namespace snare::geometry {

namespace {

// --- along the pixels ----------------------------------------------------------------------------------------------

/// A corner of pixels, in whole numbers, y downwards as in the picture.
struct Corner {
    int x;
    int y;
};

enum class Way : std::uint8_t { right, down, left, up };

constexpr std::array<Corner, 4> steps = {{{1, 0}, {0, 1}, {-1, 0}, {0, -1}}};

Way turned(Way way, int quarters)
{
    return static_cast<Way>((static_cast<int>(way) + quarters + 4) % 4);
}

/// Follows pixel edges with the area on the right hand (seen with y downwards).
class Follower {
  public:
    explicit Follower(const Mask& mask)
        : mask_(mask), followed_(static_cast<std::size_t>(mask.width) * static_cast<std::size_t>(mask.height))
    {
    }

    /// Starts at the upper edge of a pixel whose upper neighbour is outside. Empty if that edge was
    /// followed before.
    std::vector<Corner> follow(int x, int y)
    {
        std::vector<Corner> corners;
        if (wasFollowed(x, y))
            return corners;
        Corner at{x, y};
        Way way = Way::right;
        do {
            if (way == Way::right)
                markFollowed(at.x, at.y);
            const Corner step = steps[static_cast<std::size_t>(way)];
            at = {at.x + step.x, at.y + step.y};
            // The two pixels ahead, on the right and on the left of the way.
            const bool right = pixelAhead(at, way, true);
            const bool left = pixelAhead(at, way, false);
            Way next = way;
            if (!right)
                next = turned(way, 1); // pixels that touch at a corner only are apart
            else if (left)
                next = turned(way, -1);
            if (next != way)
                corners.push_back(at);
            way = next;
        } while (at.x != x || at.y != y || way != Way::right);
        return corners;
    }

  private:
    std::size_t index(int x, int y) const
    {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(mask_.width) + static_cast<std::size_t>(x);
    }
    bool wasFollowed(int x, int y) const { return followed_[index(x, y)]; }
    void markFollowed(int x, int y) { followed_[index(x, y)] = true; }

    bool pixelAhead(const Corner& at, Way way, bool onTheRight) const
    {
        switch (way) {
        case Way::right:
            return mask_.at(at.x, onTheRight ? at.y : at.y - 1);
        case Way::down:
            return mask_.at(onTheRight ? at.x - 1 : at.x, at.y);
        case Way::left:
            return mask_.at(at.x - 1, onTheRight ? at.y - 1 : at.y);
        case Way::up:
            return mask_.at(onTheRight ? at.x : at.x - 1, at.y - 1);
        }
        return false;
    }

    const Mask& mask_;
    std::vector<bool> followed_;
};

// --- straighter ----------------------------------------------------------------------------------------------------

double distanceToSegment(const Vec& point, const Vec& from, const Vec& to)
{
    const Vec along = to - from;
    const double length = squaredLength(along);
    const double t = length > 0 ? std::clamp(glm::dot(point - from, along) / length, 0.0, 1.0) : 0;
    return glm::length(point - from - along * t);
}

/// The outline as the pixels have it, with the middles of single pixels' steps marked as better
/// places for corners.
struct Staircase {
    std::vector<Vec> points;
    std::vector<char> stop; ///< may a straighter outline have a corner here?
};

Staircase staircaseOf(const std::vector<Vec>& corners)
{
    Staircase stairs;
    const std::size_t n = corners.size();
    const auto corner = [&](std::size_t i) { return corners[i % n]; };
    const auto isStep = [&](std::size_t i) { // the edge from corner i on is one pixel long and part of a staircase
        const Vec edge = corner(i + 1) - corner(i);
        return squaredLength(edge) == 1 &&
               cross(corner(i) - corner(i + n - 1), edge) * cross(edge, corner(i + 2) - corner(i + 1)) < 0;
    };
    for (std::size_t i = 0; i < n; ++i) {
        const bool comesByStep = isStep(i + n - 1);
        const bool goesByStep = isStep(i);
        stairs.points.push_back(corners[i]);
        stairs.stop.push_back(!comesByStep && !goesByStep);
        if (goesByStep) {
            stairs.points.push_back((corner(i) + corner(i + 1)) * 0.5);
            stairs.stop.push_back(true);
        }
    }
    return stairs;
}

class Straightener {
  public:
    Straightener(const Staircase& stairs, double slack) : points_(stairs.points), stop_(stairs.stop), slack_(slack) {}

    Ring straight()
    {
        const std::size_t n = points_.size();
        const auto first = static_cast<std::size_t>(std::ranges::find(stop_, 1) - stop_.begin());
        if (first == n)
            return points_;
        // Two places that surely stay: some stop, and the stop that is farthest from it.
        std::size_t far = first;
        for (std::size_t i = 0; i < n; ++i)
            if (stop_[i] && squaredLength(points_[i] - points_[first]) > squaredLength(points_[far] - points_[first]))
                far = i;
        if (far == first)
            return points_;
        Ring ring;
        cut(first, far >= first ? far : far + n, ring);
        cut(far, first + n, ring);
        return ring.size() >= 3 ? ring : points_;
    }

  private:
    const Vec& point(std::size_t i) const { return points_[i % points_.size()]; }

    /// Adds the corners from `from` up to, but without, `to`.
    void cut(std::size_t from, std::size_t to, Ring& ring)
    {
        if (to < from)
            to += points_.size();
        std::vector<std::pair<std::size_t, std::size_t>> open{{from, to}};
        while (!open.empty()) {
            const auto [low, high] = open.back();
            open.pop_back();
            double worst = slack_ * (1 - 1e-9);
            std::size_t at = high;
            bool fits = true;
            for (std::size_t i = low + 1; i < high; ++i) {
                const double off = distanceToSegment(point(i), point(low), point(high));
                fits = fits && off <= slack_ * (1 - 1e-9);
                if (off > worst && stop_[i % stop_.size()]) {
                    worst = off;
                    at = i;
                }
            }
            if (!fits && at == high) // only places that are no stops are too far off: the one in the middle
                for (std::size_t i = low + 1; i < high; ++i)
                    if (stop_[i % stop_.size()] && (at == high || absent(i, low, high) < absent(at, low, high)))
                        at = i;
            if (fits || at == high) {
                ring.push_back(point(low));
                if (!fits) // no stop between: all the pixel corners stay
                    for (std::size_t i = low + 1; i < high; ++i)
                        ring.push_back(point(i));
                continue;
            }
            open.push_back({at, high});
            open.push_back({low, at});
        }
    }

    /// How far a place is from the middle of a stretch.
    static std::size_t absent(std::size_t i, std::size_t low, std::size_t high)
    {
        const std::size_t middle = (low + high) / 2;
        return i > middle ? i - middle : middle - i;
    }

    const std::vector<Vec>& points_;
    const std::vector<char>& stop_;
    double slack_;
};

// --- strips --------------------------------------------------------------------------------------------------------

struct Edge {
    Vec low;
    Vec high;

    double xAt(double y) const { return low.x + (high.x - low.x) * ((y - low.y) / (high.y - low.y)); }
};

/// A part that is still growing upwards between two edges.
struct Strip {
    std::size_t left;
    std::size_t right;
    double from;
};

Hull hullOf(const Edge& left, const Edge& right, double from, double to)
{
    const Vec corners[] = {{left.xAt(from), from}, {right.xAt(from), from}, {right.xAt(to), to}, {left.xAt(to), to}};
    const double close = 1e-9 * (to - from); // where the edges meet, but for rounding
    const auto isClose = [&](const Vec& one, const Vec& other) {
        return std::abs(one.x - other.x) <= close && std::abs(one.y - other.y) <= close;
    };
    Hull hull;
    for (const Vec& corner : corners)
        if (hull.count == 0 || (!isClose(corner, hull.points[static_cast<std::size_t>(hull.count - 1)]) &&
                                !isClose(corner, hull.points[0])))
            hull.points[static_cast<std::size_t>(hull.count++)] = corner;
    return hull;
}

/// The heights between which no edge begins, ends or crosses another.
std::vector<double> levelsOf(const std::vector<Edge>& edges)
{
    std::vector<double> levels;
    for (const Edge& edge : edges) {
        levels.push_back(edge.low.y);
        levels.push_back(edge.high.y);
    }
    std::ranges::sort(levels);
    levels.erase(std::unique(levels.begin(), levels.end()), levels.end());
    return levels;
}

} // namespace

std::vector<Ring> ringsOf(const Mask& mask, double slack)
{
    std::vector<Ring> rings;
    Follower follower{mask};
    const Vec middle{mask.width * 0.5, mask.height * 0.5};
    for (int y = 0; y < mask.height; ++y)
        for (int x = 0; x < mask.width; ++x) {
            if (!mask.at(x, y) || mask.at(x, y - 1))
                continue;
            const std::vector<Corner> corners = follower.follow(x, y);
            if (corners.empty())
                continue;
            std::vector<Vec> points;
            points.reserve(corners.size());
            for (const Corner& corner : corners)
                points.push_back({corner.x - middle.x, middle.y - corner.y});
            const Staircase stairs = staircaseOf(points);
            Ring ring = Straightener{stairs, slack}.straight();
            std::ranges::reverse(ring);
            if (doubledArea(ring) != 0)
                rings.push_back(std::move(ring));
        }
    return rings;
}

std::vector<Hull> partsOfRings(std::span<const Ring> rings)
{
    std::vector<Edge> edges;
    for (const Ring& ring : rings)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            const Vec& from = ring[i];
            const Vec& to = ring[(i + 1) % ring.size()];
            if (from.y < to.y)
                edges.push_back({from, to});
            else if (to.y < from.y)
                edges.push_back({to, from});
        }
    std::ranges::sort(edges, {}, [](const Edge& edge) { return std::tuple(edge.low.y, edge.low.x, edge.high.x); });
    std::vector<double> levels = levelsOf(edges);
    std::vector<Hull> parts;
    std::vector<Strip> growing;
    std::vector<std::size_t> active;
    std::vector<std::size_t> startedBy(edges.size()); ///< by left edge: the strip that it bounds now
    std::size_t next = 0;
    const auto finish = [&](const Strip& strip, double to) {
        const Hull hull = hullOf(edges[strip.left], edges[strip.right], strip.from, to);
        if (hull.count >= 3 && doubledArea(hull.corners()) > 0)
            parts.push_back(hull);
    };
    for (std::size_t level = 0; level + 1 < levels.size(); ++level) {
        double from = levels[level];
        const double to = levels[level + 1];
        std::erase_if(active, [&](std::size_t edge) { return edges[edge].high.y <= from; });
        for (; next < edges.size() && edges[next].low.y <= from; ++next)
            active.push_back(next);
        while (from < to) {
            // Left to right just above `from`; where neighbours change places below `to`, the strip
            // ends there.
            double until = to;
            std::ranges::sort(active, {}, [&](std::size_t edge) {
                return std::tuple(edges[edge].xAt(from), edges[edge].xAt(to), edge);
            });
            for (std::size_t i = 0; i + 1 < active.size(); ++i) {
                const Edge& left = edges[active[i]];
                const Edge& right = edges[active[i + 1]];
                const double before = right.xAt(from) - left.xAt(from);
                const double after = right.xAt(to) - left.xAt(to);
                if (before > 0 && after < 0) {
                    const double crossing = from + (to - from) * (before / (before - after));
                    if (crossing > from && crossing < until)
                        until = crossing;
                }
            }
            std::vector<Strip> here;
            for (std::size_t i = 0; i + 1 < active.size(); i += 2)
                here.push_back({active[i], active[i + 1], from});
            // What lay between the same two edges goes on growing.
            for (std::size_t i = 0; i < here.size(); ++i)
                startedBy[here[i].left] = i;
            for (const Strip& strip : growing) {
                const std::size_t same = startedBy[strip.left];
                if (same < here.size() && here[same].left == strip.left && here[same].right == strip.right)
                    here[same].from = strip.from;
                else
                    finish(strip, from);
            }
            growing = std::move(here);
            from = until;
        }
    }
    if (!levels.empty())
        for (const Strip& strip : growing)
            finish(strip, levels.back());
    return parts;
}

double areaOf(std::span<const Ring> rings)
{
    double doubled = 0;
    for (const Ring& ring : rings)
        doubled += doubledArea(ring);
    return doubled * 0.5;
}

} // namespace snare::geometry
