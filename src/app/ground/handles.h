// SPDX-License-Identifier: Apache-2.0
/// The places where the selected piece, its chosen shape and its route can be taken hold of.
#pragma once

#include "app/ground/ground_scene.h"
#include "app/ground/transform.h"

#include <vector>

namespace snare::app {

/// A place where the selected shape can be taken.
struct Handle {
    enum class Kind {
        size,  ///< corners and edges of its box, left to right, bottom to top
        turn,  ///< above the piece
        point, ///< a corner, or an end of a capsule
        edge,  ///< the middle of an edge: a new corner
        stop,  ///< a point of its route
        leg    ///< the middle of a way between two: a new point
    };
    Kind kind;
    std::size_t index;
    QPointF at;
};

/// Those of a piece; of its shape only with `shape` a number of one. In pixels of the view.
std::vector<Handle> handlesOf(const ShownPiece& piece, std::size_t shape, const GroundTransform& transform);

} // namespace snare::app
