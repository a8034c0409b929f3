// SPDX-License-Identifier: Apache-2.0
#include "desk/strokes.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace snare::desk {

namespace {

constexpr std::size_t pointCount = 48;

double lengthOf(std::span<const Vec> line)
{
    double length = 0;
    for (std::size_t i = 1; i < line.size(); ++i)
        length += glm::length(line[i] - line[i - 1]);
    return length;
}

/// Evenly spaced points along a line that has a length.
std::vector<Vec> spaced(std::span<const Vec> line)
{
    const double step = lengthOf(line) / (pointCount - 1);
    std::vector<Vec> points{line.front()};
    double walked = 0;
    for (std::size_t i = 1; i < line.size(); ++i) {
        const double part = glm::length(line[i] - line[i - 1]);
        while (part > 0 && points.size() < pointCount && walked + part >= step * static_cast<double>(points.size())) {
            const double along = (step * static_cast<double>(points.size()) - walked) / part;
            points.push_back(line[i - 1] + (line[i] - line[i - 1]) * along);
        }
        walked += part;
    }
    points.resize(pointCount, line.back());
    return points;
}

/// Around the origin, with its longer side 1: a flat line stays flat.
std::vector<Vec> fitted(std::vector<Vec> points)
{
    Vec low{1e300, 1e300};
    Vec high{-1e300, -1e300};
    Vec middle{0, 0};
    for (const Vec& point : points) {
        low = glm::min(low, point);
        high = glm::max(high, point);
        middle += point / static_cast<double>(points.size());
    }
    const double size = std::max(high.x - low.x, high.y - low.y);
    for (Vec& point : points)
        point = (point - middle) / size;
    return points;
}

double distanceFrom(const std::vector<Vec>& a, const std::vector<Vec>& b, std::size_t first, bool backwards)
{
    double sum = 0;
    for (std::size_t i = 0; i < pointCount; ++i) {
        const std::size_t k = backwards ? pointCount - 1 - i : i;
        sum += glm::length(a[i] - b[(first + k) % pointCount]);
    }
    return sum / pointCount;
}

double distanceOf(const std::vector<Vec>& drawn, const Stroke& stroke)
{
    const std::vector<Vec> wanted = fitted(spaced(stroke.line));
    double least = 1e300;
    for (std::size_t first = 0; first < (stroke.ring ? pointCount : 1); ++first)
        for (const bool backwards : {false, true})
            least = std::min(least, distanceFrom(drawn, wanted, first, backwards));
    return least;
}

std::vector<Stroke> makeStrokes()
{
    std::vector<Vec> ring;
    for (int i = 0; i <= 24; ++i) {
        const double angle = 2 * std::numbers::pi * i / 24;
        ring.push_back({std::cos(angle), std::sin(angle)});
    }
    std::vector<Vec> wave;
    for (int i = 0; i <= 32; ++i)
        wave.push_back({i / 8.0, 1.2 * std::sin(2 * std::numbers::pi * i / 16)});
    std::vector<Vec> hitch{{-1.6, -1}}; // up, round once, and across the own part
    for (int i = 0; i <= 20; ++i) {
        const double angle = -0.75 * std::numbers::pi / 2 + 1.75 * std::numbers::pi * i / 20;
        hitch.push_back({0.8 * std::cos(angle), 0.3 + 0.8 * std::sin(angle)});
    }
    hitch.push_back({1.6, -1});
    return {{"hitch", "a loop that crosses itself, as a rope is hitched", hitch, false},
            {"ring", "once around, begun anywhere", ring, true},
            {"wave", "two waves, side by side", wave, false},
            {"hook",
             "down, and up again in a bend",
             {{0, 2}, {0, 0.4}, {0.15, 0.1}, {0.45, 0}, {0.8, 0.1}, {1, 0.4}},
             false},
            {"peak", "up and down again", {{0, 0}, {1, 2}, {2, 0}}, false}};
}

} // namespace

const std::vector<Stroke>& knownStrokes()
{
    static const std::vector<Stroke> strokes = makeStrokes();
    return strokes;
}

Judgement judge(std::span<const Vec> drawn, double smallest)
{
    Judgement result;
    Vec low{1e300, 1e300};
    Vec high{-1e300, -1e300};
    for (const Vec& point : drawn) {
        if (!std::isfinite(point.x) || !std::isfinite(point.y)) {
            result.why = "it has a point that is nowhere";
            return result;
        }
        low = glm::min(low, point);
        high = glm::max(high, point);
    }
    if (drawn.size() < 3 || !(std::max(high.x - low.x, high.y - low.y) >= std::max(smallest, 1e-9))) {
        result.why = "it is too short to tell";
        return result;
    }
    const std::vector<Vec> points = fitted(spaced(drawn));
    for (const Stroke& stroke : knownStrokes())
        result.nearness.push_back({stroke.name, std::clamp(1 - distanceOf(points, stroke) / 0.5, 0.0, 1.0)});
    std::ranges::stable_sort(result.nearness, std::greater{}, &Nearness::near);
    const Nearness& best = result.nearness[0];
    const Nearness& next = result.nearness[1];
    if (best.near < nearEnough)
        result.why = fmt::format("nearest is {} with {:.2f}; it needs {:.2f}", best.name, best.near, nearEnough);
    else if (best.near - next.near < farAhead)
        result.why =
            fmt::format("it could be {} ({:.2f}) as well as {} ({:.2f})", best.name, best.near, next.name, next.near);
    else
        result.stroke = best.name;
    return result;
}

} // namespace snare::desk
