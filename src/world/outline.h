// SPDX-License-Identifier: Apache-2.0
/// The outline of a scene's shape: its convex parts, what it covers, and whether it is at a point.
#pragma once

#include "geometry/outline.h"
#include "scene/piece.h"

namespace snare::world {

/// The convex parts of a shape in the axes of its piece; empty only for a traced shape whose
/// picture is missing or has nothing of its colours. A geometry with a fault, which a file cannot
/// have but a hand that is still drawing can, gives its corners joined by edges.
std::vector<geometry::Hull> partsOf(const scene::Shape& shape);

/// The area that a traced shape has at the start: of its own picture, or of its piece's first look.
/// Null if there is none.
const scene::TracedArea* shownArea(const scene::Traced& traced);

/// The corners of a box, polygon or line, of the picture of a traced shape, or the ends of a
/// capsule, in the axes of the piece; the middle of a circle.
std::vector<geometry::Vec> cornersOf(const scene::Shape& shape);

/// A piece as it is once it was resized and looks like `image`: its shapes `scale` times as large,
/// what is traced from the look traced from that picture.
scene::Piece asShown(const scene::Piece& piece, double scale, std::string_view image);

/// A pinned piece as it fills the view (P6): its shapes so large that together they do, around the
/// middle. Stretched, a rounding or a shape that is turned takes the smaller of the two factors.
/// `view`: width and height, m.
scene::Piece filling(const scene::Piece& piece, const geometry::Vec& view);

/// The rectangle around the shape when its piece is at `pose`.
geometry::Bounds boundsOf(const scene::Shape& shape, const geometry::Pose& pose);

/// Whether the shape is within `slack` (m) of the point when its piece is at `pose`.
bool reaches(const scene::Shape& shape, const geometry::Pose& pose, const geometry::Vec& point, double slack);

} // namespace snare::world
