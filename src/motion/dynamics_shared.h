// SPDX-License-Identifier: Apache-2.0
/// What the parts of `Dynamics` share: units, how far others are looked for, and pieces with what
/// rides on them.
#pragma once

#include "motion/contacts.h"

#include <cmath>
#include <numbers>

namespace snare::motion {

using geometry::Pose;
using world::PieceIndex;
using world::World;

/// In a radian.
inline constexpr double degrees = 180 / std::numbers::pi;
/// What is faster than this wakes what it comes near, m/s.
inline constexpr double wakingSpeed = 0.15;
/// How much larger than a part its fat AABB is on every side, m.
inline constexpr double fatMargin = skinWidth + contactMargin;

/// A pose after its body has shifted, and turned around `centre`.
inline Pose after(const Pose& pose, const Vec& centre, const Vec& shift, double turned)
{
    if (turned == 0)
        return {pose.at + shift, pose.turn, pose.z};
    const double cos = std::cos(turned);
    const double sin = std::sin(turned);
    const Vec arm = pose.at - centre;
    return {centre + shift + Vec{cos * arm.x - sin * arm.y, sin * arm.x + cos * arm.y}, pose.turn + turned * degrees,
            pose.z};
}

/// A piece and what rides on it.
template <class Visit> void forEachOf(const World& world, PieceIndex root, Visit&& visit)
{
    visit(root);
    for (const PieceIndex rider : world.carried())
        if (world.carrierOfAll(rider) == root)
            visit(rider);
}

inline PieceIndex rootOf(const World& world, PieceIndex piece)
{
    return world.carried().empty() ? piece : world.carrierOfAll(piece);
}

} // namespace snare::motion
