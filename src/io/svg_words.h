// SPDX-License-Identifier: Apache-2.0
/// The words of SVG 1.1 that tell where things are: transforms, lists of numbers, paths. y goes
/// down.
#pragma once

#include "geometry/pose.h"

#include <cmath>
#include <numbers>
#include <optional>
#include <string_view>
#include <vector>

namespace snare::io::svg {

using geometry::Vec;

/// x' = a·x + c·y + e, y' = b·x + d·y + f; y goes down.
struct Affine {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;

    Vec apply(const Vec& p) const { return {a * p.x + c * p.y + e, b * p.x + d * p.y + f}; }
    /// First `inner`, then this.
    Affine after(const Affine& inner) const
    {
        return {a * inner.a + c * inner.b, b * inner.a + d * inner.b,     a * inner.c + c * inner.d,
                b * inner.c + d * inner.d, a * inner.e + c * inner.f + e, b * inner.e + d * inner.f + f};
    }
    /// How much lengths grow if that is the same in all directions, else 0.
    double evenScale() const
    {
        const double x = std::hypot(a, b);
        const double y = std::hypot(c, d);
        const bool isRight = std::abs(a * c + b * d) <= 1e-9 * x * y;
        return isRight && std::abs(x - y) <= 1e-9 * x ? x : 0;
    }
    /// Degrees counter-clockwise in the scene.
    double turn() const { return -std::atan2(b, a) * 180 / std::numbers::pi; }
    bool isFinite() const { return std::isfinite(a + b + c + d + e + f); }
};

/// Reads numbers and letters one after the other, as paths, transforms and lists of points hold
/// them.
class Reading {
  public:
    explicit Reading(std::string_view text) : text_(text) {}

    /// Passes over what parts numbers.
    void skip();
    bool atEnd()
    {
        skip();
        return at_ >= text_.size();
    }
    char peek() const { return at_ < text_.size() ? text_[at_] : '\0'; }
    char take() { return at_ < text_.size() ? text_[at_++] : '\0'; }
    /// Letters; empty if there are none.
    std::string_view word();
    /// A finite number; nothing if there is none.
    std::optional<double> number();
    /// 0 or 1, which may stand without anything between: "a1 1 0 01 5 5".
    std::optional<bool> flag();
    std::optional<Vec> point()
    {
        const auto x = number();
        const auto y = x ? number() : std::nullopt;
        return y ? std::optional(Vec{*x, *y}) : std::nullopt;
    }

  private:
    std::string_view text_;
    std::size_t at_ = 0;
};

/// What a `transform` says; nothing if it cannot be read.
std::optional<Affine> transformIn(std::string_view text);

/// A way of edges.
struct Way {
    std::vector<Vec> points;
    bool closed = false;
};

/// The ways of a path; nothing if it cannot be read to its end. Curves become edges that are at
/// most `tolerance` off, in units of the path.
std::optional<std::vector<Way>> waysOf(std::string_view path, double tolerance);

/// The outline of an ellipse, as edges that are at most `tolerance` off.
Way ellipse(const Vec& middle, const Vec& radii, double tolerance);

} // namespace snare::io::svg
