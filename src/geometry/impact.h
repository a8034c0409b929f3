// SPDX-License-Identifier: Apache-2.0
/// Time of impact: when, within one tick, do two moving hulls first come nearer than `within`, and
/// when do they part?
///
/// Both go in a straight line and turn evenly (M6). Without a turn the answer is the root of a line
/// or a quadratic and exact up to rounding. With a turn the tick is halved until bounds on the
/// distance decide: the first moment is never reported late and the last never early, both are
/// exact to `timeStep`, and the only overlaps that may be taken for a touch are those that stay
/// shallower than `depthTolerance` (see there).
#pragma once

#include "geometry/hull.h"

#include <limits>
#include <optional>

namespace snare::geometry {

/// Edges nearer than this count as touching, not as overlapping (M3), so that rounding cannot make
/// a meeting; m.
inline constexpr double distanceTolerance = 1e-12;

/// Two moments this close, in parts of a tick, are the same: an end this near to a tick's end
/// belongs to that tick (M3).
inline constexpr double timeTolerance = 1e-9;

/// How exactly a turning pair's first and last moment are found, in parts of a tick.
inline constexpr double timeStep = 1e-10;

/// An overlap of a turning pair that is never deeper than this may be taken for a touch: a
/// billionth of the smaller hull (of 1 m if both are larger), or what rounding leaves of
/// coordinates as large as theirs; m.
double depthTolerance(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB);

/// The part of time in which something else lets two shapes meet, in parts of a tick; may reach
/// beyond it.
struct Window {
    double from = -std::numeric_limits<double>::infinity();
    double to = std::numeric_limits<double>::infinity();

    /// Whether no moment lies in it.
    bool empty() const { return !(from < to); }
};

/// A stretch of heights, relative to its piece; unlimited by default (M15), m.
struct Band {
    double low = -std::numeric_limits<double>::infinity();
    double high = std::numeric_limits<double>::infinity();

    bool limited() const
    {
        return low > -std::numeric_limits<double>::infinity() || high < std::numeric_limits<double>::infinity();
    }
    friend bool operator==(const Band&, const Band&) = default;
};

/// When the interiors of two bands overlap while their pieces rise and sink (M15).
Window heightWindow(const Band& a, const Motion& motionOfA, const Band& b, const Motion& motionOfB);

/// First and last moment of nearness within a tick, as parts of it in [0, 1].
struct Span {
    double enter; ///< 0 if they were near from the start
    double exit;  ///< 1 if they still are at the end, or part exactly there
    bool atStart; ///< near at frac 0 already
    bool atEnd;   ///< still near at frac 1
};

/// The span in which the distance of the hulls is less than `within` (m; 0: the interiors overlap)
/// within `window`, or nothing.
std::optional<Span> nearSpan(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB,
                             double within = 0, const Window& window = {});

/// The same for shapes of several parts: from when the first two parts come near to when the last
/// two leave (M6, M13).
std::optional<Span> nearSpan(std::span<const Hull> a, const Motion& motionOfA, std::span<const Hull> b,
                             const Motion& motionOfB, double within = 0, const Window& window = {});

/// When two hulls that do not turn are nearer than `within`, or deeper than -`within`, if they go
/// on like this for ever, and always did: in parts of the tick, beyond it too; empty if never.
Window straightWindow(const Hull& a, const Motion& motionOfA, const Hull& b, const Motion& motionOfB, double within);

/// A hull as most are: a disc (`half` is (0, 0)), or a box along the axes without a rounding.
struct Plain {
    Vec middle{0, 0};  ///< from its owner's place, m
    Vec half{0, 0};    ///< m
    double radius = 0; ///< m
};

/// The hull as it lies when its owner is turned so, if it is plain then.
std::optional<Plain> plainOf(const Hull& hull, double turn);

/// What `straightWindow` says of two plain hulls: `between` leads from the middle of one to that of
/// the other, `way` is how that changes in a tick, `half` and `radius` are the sums of theirs, with
/// the within in `radius`.
Window plainWindow(const Vec& between, const Vec& way, const Vec& half, double radius);

} // namespace snare::geometry
