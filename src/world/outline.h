// SPDX-License-Identifier: Apache-2.0
/// The outline of a scene's shape: its convex parts, what it covers, and whether it is at a point.
#pragma once

#include "geometry/outline.h"
#include "scene/piece.h"

namespace snare::world {

/// The convex parts of a shape in the axes of its piece; never empty. A geometry with a fault, which a file cannot have
/// but a hand that is still drawing can, gives its corners joined by edges.
std::vector<geometry::Hull> partsOf(const scene::Shape& shape);

/// The corners of a box, polygon or line, or the ends of a capsule, in the axes of the piece; the middle of a circle.
std::vector<geometry::Vec> cornersOf(const scene::Shape& shape);

/// The rectangle around the shape when its piece is at `pose`.
geometry::Bounds boundsOf(const scene::Shape& shape, const geometry::Pose& pose);

/// Whether the shape is within `slack` (m) of the point when its piece is at `pose`.
bool reaches(const scene::Shape& shape, const geometry::Pose& pose, const geometry::Vec& point, double slack);

} // namespace snare::world
