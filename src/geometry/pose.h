// SPDX-License-Identifier: Apache-2.0
/// Where a piece is, how high and which way it is turned, and how it gets from one pose to another
/// within a tick.
///
/// Turns are degrees counter-clockwise and are never wrapped: 350 to 370 is a turn by 20, not by
/// -340.
#pragma once

#include "geometry/vec.h"

namespace snare::geometry {

/// Cosine and sine of a turn; exact for multiples of 90 degrees, so that upright boxes stay
/// upright.
struct Rotation {
    double cos = 1;
    double sin = 0;

    /// A vector turned by it, or turned back.
    constexpr Vec apply(const Vec& v) const { return {cos * v.x - sin * v.y, sin * v.x + cos * v.y}; }
    constexpr Vec undo(const Vec& v) const { return {cos * v.x + sin * v.y, cos * v.y - sin * v.x}; }
};

/// The rotation of a turn in degrees, of any size.
Rotation rotationOf(double degrees);

struct Pose {
    Vec at{0, 0};    ///< m
    double turn = 0; ///< degrees, counter-clockwise
    double z = 0;    ///< m, height over the plan (M15)

    friend bool operator==(const Pose&, const Pose&) = default;
};

/// `local`, given in the axes of `pose`, as a point of the scene.
Vec toScene(const Pose& pose, const Vec& local);

/// The scene's `point` in the axes of `pose`.
Vec toLocal(const Pose& pose, const Vec& point);

/// One tick of a piece: straight from `from` to `to`, rising and turning evenly (M6, M15).
struct Motion {
    Pose from;
    Pose to;

    /// The pose at `frac` of the tick, 0 to 1.
    Pose at(double frac) const;
    bool turns() const { return from.turn != to.turn; }
    bool rests() const { return from == to; }
};

} // namespace snare::geometry
