// SPDX-License-Identifier: Apache-2.0
/// Mass, centre of mass and moment of inertia of convex parts, by their areas.
#pragma once

#include "geometry/hull.h"

namespace snare::motion {

/// An edge without thickness counts as a bar as thick as this, so that a line has a mass; m.
inline constexpr double edgeThickness = 0.1;

struct Mass {
    double mass = 0;            ///< kg
    geometry::Vec centre{0, 0}; ///< m, of mass
    double inertia = 0;         ///< kg m², around the centre

    /// Puts two masses together.
    Mass& operator+=(const Mass& other);
    /// The same distribution with another mass.
    Mass scaledTo(double newMass) const;
    /// The same mass in the axes in which its own lie at `pose`.
    Mass placedAt(const geometry::Pose& pose) const;
};

/// The mass of one part of `density` kg/m² (> 0), exact for discs, capsules and polygons.
Mass massOf(const geometry::Hull& part, double density);

} // namespace snare::motion
