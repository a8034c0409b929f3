// SPDX-License-Identifier: Apache-2.0
/// Movement on the ground: the routes of pieces, and on request how everything moves, rests, stands
/// and is carried.
#pragma once

#include "app/ground/ground_scene.h"
#include "app/ground/transform.h"

#include <QPainter>

namespace snare::app {

/// The way that a piece goes by itself, or null.
const scene::Route* routeOf(const scene::Piece& piece);

/// An arrow of a velocity, from one point of the view to another.
void paintArrow(QPainter& painter, const QPointF& from, const QPointF& to);

/// The route of a piece, from where it stands at the start, with its points numbered.
void paintRoute(QPainter& painter, const GroundTransform& transform, const ShownPiece& piece);

/// Speeds as arrows, a bar under what rests, a foot under what stands on something, a dotted line
/// to what carries it.
void paintMotion(QPainter& painter, const GroundTransform& transform, const sim::Record& record, std::int64_t tick,
                 const std::vector<ShownPiece>& pieces);

/// What the signs of `paintMotion` mean, with the lower middle of the view at `at`.
void paintMotionLegend(QPainter& painter, const QPointF& at);

} // namespace snare::app
