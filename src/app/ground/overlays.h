// SPDX-License-Identifier: Apache-2.0
/// What stands around the scene on the ground: rulers along two edges, and the overview in the
/// corner.
#pragma once

#include "app/ground/ground_scene.h"
#include "app/ground/transform.h"
#include "app/model/selection.h"

#include <QPainter>

namespace snare::app {

/// Metres along the upper and the left edge, with marks at the pointer.
void paintRulers(QPainter& painter, const GroundTransform& transform, const std::optional<QPointF>& pointer);

/// A small picture of the whole scene with what of it is in view; there only while that is not all.
class Overview {
  public:
    Overview() = default;
    Overview(const geometry::Bounds& scene, const GroundTransform& transform);

    /// Where it lies in the view; empty if it is not there.
    const QRectF& box() const { return box_; }
    /// The place in the scene under a point of it.
    Vec toScene(const QPointF& point) const;
    void paint(QPainter& painter, const std::vector<ShownPiece>& pieces, const Selection& selection) const;

  private:
    QPointF placeOf(const Vec& point) const;
    QRectF inner() const { return box_.adjusted(6, 6, -6, -6); }

    geometry::Bounds scene_;
    GroundTransform transform_;
    QRectF box_;
};

} // namespace snare::app
