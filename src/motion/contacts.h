// SPDX-License-Identifier: Apache-2.0
/// Where two convex parts touch, or will within this tick (M6).
#pragma once

#include "geometry/gap.h"
#include "geometry/impact.h"
#include "motion/solver.h"

namespace snare::motion {

using geometry::Hull;
using geometry::Motion;

/// A part on its way through the tick, as far as is known before anything stops it.
struct Mover {
    const Hull* part = nullptr; ///< in the axes of its piece
    Motion motion;
    Vec velocity{0, 0}; ///< m/s, of the centre
    Vec centre{0, 0};   ///< that it turns around
    double spin = 0;    ///< radians/s
};

/// Points of contact of two parts, as places in the scene at the moment of the contact.
struct Touching {
    geometry::Manifold manifold;
    double moment = 0; ///< part of the tick at which they meet; 0: what is measured now
};

/// What stays apart further than this at the end of the tick is no contact, m.
inline constexpr double contactMargin = 0.02;

/// Where two parts touch; nothing if they stay apart in this tick.
std::optional<Touching> touchingOf(const Mover& a, const Mover& b, double dt);

/// Whether a point on the edge of one part, with `outwards` away from it, is no edge of what lies
/// around it: another part that holds the point reaches further outwards. Such contacts are joints
/// inside a line or a row of solids, which nothing that slides along may be caught by (M13).
bool isInnerJoint(const Hull& placedOther, const Vec& point, const Vec& outwards);

} // namespace snare::motion
