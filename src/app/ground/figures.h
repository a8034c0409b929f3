// SPDX-License-Identifier: Apache-2.0
/// The figures that the ground is drawn with: outlines of shapes, zones with their loops, and
/// figures on a ground.
#pragma once

#include "app/ground/transform.h"
#include "geometry/pose.h"
#include "scene/piece.h"

#include <QColor>
#include <QPainter>
#include <QPainterPath>
#include <QString>

#include <vector>

namespace snare::app {

/// One shape as a path in pixels.
QPainterPath shapePath(const scene::Shape& shape, const geometry::Pose& pose, const GroundTransform& transform);

/// The outline of a zone that is being drawn.
void paintZone(QPainter& painter, const QPainterPath& path, const std::vector<QPointF>& loops, const QColor& colour,
               bool lit);

/// A figure on a small ground of its own, readable over everything.
void paintFigure(QPainter& painter, const QPointF& at, const QString& text);

/// The loops by which a zone is held down: at the corners of a box, at the quarters of a circle.
std::vector<QPointF> loopsOf(const scene::Shape& shape, const geometry::Pose& pose, const GroundTransform& transform);

/// The colour of a look, or `fallback` if it has none.
QColor colourOf(const scene::Look& look, const QColor& fallback);

/// How bright a colour looks, 0 to 1.
double brightness(const QColor& colour);

/// Zones that are narrower than this in the view have no loops and no counts, pixels.
inline constexpr double loopPixels = 44;

/// The colour, as opaque as said, 0 to 255.
QColor withAlpha(QColor colour, int alpha);

} // namespace snare::app
