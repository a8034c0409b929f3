// SPDX-License-Identifier: Apache-2.0
/// A slow and separate way to say how far two shapes are apart: outlines as they were drawn, not as
/// they are cut up, and nothing but segments, crossings and points inside. The tests compare
/// detection with it.
#pragma once

#include "geometry/trace.h"
#include "scene/piece.h"
#include "world/outline.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace snare::tests {

using geometry::Pose;
using geometry::Vec;

/// Outlines with a rounding, placed in the scene.
struct Region {
    std::vector<std::vector<Vec>> rings;
    bool filled = false; ///< what an odd number of rings encloses belongs to it
    bool closed = false; ///< the last corner joins the first
    double radius = 0;
};

inline Region regionOf(const scene::Shape& shape, const Pose& pose)
{
    Region region;
    if (const auto* circle = std::get_if<scene::Circle>(&shape.geometry)) {
        region = {{{{0, 0}}}, false, false, circle->radius};
    } else if (const auto* box = std::get_if<scene::Box>(&shape.geometry)) {
        const Vec h = box->size * 0.5;
        region = {{{{-h.x, -h.y}, {h.x, -h.y}, {h.x, h.y}, {-h.x, h.y}}}, true, true, 0};
    } else if (const auto* capsule = std::get_if<scene::Capsule>(&shape.geometry)) {
        region = {{{capsule->from, capsule->to}}, false, false, capsule->radius};
    } else if (const auto* polygon = std::get_if<scene::Polygon>(&shape.geometry)) {
        region = {{polygon->points}, true, true, 0};
    } else if (const auto* line = std::get_if<scene::Line>(&shape.geometry)) {
        region = {{line->points}, false, line->closed, 0};
    } else if (const auto* traced = std::get_if<scene::Traced>(&shape.geometry)) {
        if (const scene::TracedArea* area = world::shownArea(*traced))
            region.rings = area->rings;
        region.filled = true;
        region.closed = true;
    }
    const auto place = [](const Vec& at, double degrees, const Vec& p) {
        const double a = degrees * 3.14159265358979323846 / 180;
        return Vec{at.x + std::cos(a) * p.x - std::sin(a) * p.y, at.y + std::sin(a) * p.x + std::cos(a) * p.y};
    };
    for (auto& ring : region.rings)
        for (Vec& point : ring)
            point = place(pose.at, pose.turn, place(shape.at, shape.turn, point));
    return region;
}

inline bool holds(const Region& region, const Vec& p)
{
    bool inside = false;
    if (!region.filled)
        return false;
    for (const auto& ring : region.rings)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            const Vec& a = ring[i];
            const Vec& b = ring[(i + 1) % ring.size()];
            if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (b.x - a.x) * (p.y - a.y) / (b.y - a.y))
                inside = !inside;
        }
    return inside;
}

inline double pointToSegment(const Vec& p, const Vec& a, const Vec& b)
{
    const double length = (b.x - a.x) * (b.x - a.x) + (b.y - a.y) * (b.y - a.y);
    double t = length > 0 ? ((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / length : 0;
    t = std::clamp(t, 0.0, 1.0);
    return std::hypot(p.x - a.x - t * (b.x - a.x), p.y - a.y - t * (b.y - a.y));
}

inline double segmentToSegment(const Vec& a, const Vec& b, const Vec& c, const Vec& d)
{
    const auto side = [](const Vec& from, const Vec& to, const Vec& p) {
        return (to.x - from.x) * (p.y - from.y) - (to.y - from.y) * (p.x - from.x);
    };
    if (side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0)
        return 0;
    return std::min(
        {pointToSegment(a, c, d), pointToSegment(b, c, d), pointToSegment(c, a, b), pointToSegment(d, a, b)});
}

/// How far two regions are apart, m; 0 or less where they overlap, but not how deep.
inline double slowDistance(const Region& a, const Region& b)
{
    double nearest = std::numeric_limits<double>::infinity();
    const auto edges = [](const Region& region, auto&& visit) {
        for (const auto& ring : region.rings) {
            if (ring.size() == 1)
                visit(ring[0], ring[0]);
            const std::size_t count = ring.size() - (region.closed ? 0 : 1);
            for (std::size_t i = 0; i < count; ++i)
                visit(ring[i], ring[(i + 1) % ring.size()]);
        }
    };
    edges(a, [&](const Vec& from, const Vec& to) {
        edges(b, [&](const Vec& c, const Vec& d) { nearest = std::min(nearest, segmentToSegment(from, to, c, d)); });
    });
    // Corners inside, as many as there are: what a hole encloses is not inside.
    for (const auto& [one, other] : {std::pair(&a, &b), std::pair(&b, &a)})
        for (const auto& ring : other->rings)
            for (const Vec& corner : ring)
                if (holds(*one, corner))
                    nearest = 0;
    return nearest - a.radius - b.radius;
}

} // namespace snare::tests
