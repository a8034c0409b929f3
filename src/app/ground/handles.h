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
        size,     ///< corners and edges of its box, left to right, bottom to top
        turn,     ///< above the piece
        point,    ///< a corner, or an end of a capsule
        edge,     ///< the middle of an edge: a new corner
        stop,     ///< a point of its route
        leg,      ///< the middle of a way between two: a new point
        velocity, ///< the tip of the arrow of its own velocity
        path,     ///< a place of the pointer or of a driven piece in the take; `index` is its input
        pathLeg,  ///< between a place and the next: a new one
        bounds    ///< corners and edges of the scene's bounds, in the order of `size`
    };
    Kind kind;
    std::size_t index;
    QPointF at;
};

/// Those of a piece; of its shape only with `shape` a number of one. In pixels of the view.
std::vector<Handle> handlesOf(const ShownPiece& piece, std::size_t shape, const GroundTransform& transform);

/// Places of the pointer in a take, with the number of the input each; m in the scene. Those on the
/// glass lie in `glass`, the part of the scene that the view shows.
struct PathPoint {
    std::size_t input;
    Vec at{0, 0};
};
std::vector<PathPoint> pointerPath(const scene::Take& take, const geometry::Bounds& glass);
/// The same of a driven piece: where the take leads it (V10), in `glass` if it is pinned.
std::vector<PathPoint> ledPath(const scene::Take& take, const scene::Piece& piece, const geometry::Bounds& glass);
/// Where places lie too close together to be taken one by one, some have no handle.
std::vector<Handle> pathHandles(const std::vector<PathPoint>& path, const GroundTransform& transform);

/// Those of the scene's bounds, if it has any.
std::vector<Handle> boundsHandles(const scene::Scene& scene, const GroundTransform& transform);

/// The velocity that a piece begins with, m/s, if it can have one: kinematic without a route, or
/// dynamic.
const Vec* velocityOf(const scene::Piece& piece);
Vec* velocityOf(scene::Piece& piece);

} // namespace snare::app
