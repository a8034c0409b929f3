// SPDX-License-Identifier: Apache-2.0
/// Snapping: what is drawn or moved lines up with the grid and with edges and centres of what is
/// there.
#pragma once

#include "app/ground/ground_painter.h"

#include <functional>

namespace snare::app {

/// A line that is shown while something lines up along it.
struct Guide {
    Vec from{0, 0};
    Vec to{0, 0};
};

struct Snap {
    Vec point{0, 0};
    std::vector<Guide> guides;
};

/// The point itself, or the nearest one on the grid of the settings unless Alt is held (then of 1
/// mm).
Vec onGrid(const Vec& point, Qt::KeyboardModifiers modifiers);

/// Edges and centres of the shown pieces, sorted, for one gesture.
class SnapLines {
  public:
    SnapLines() = default;
    /// Of the pieces in view, but not of those that `except` names.
    SnapLines(const std::vector<ShownPiece>& pieces, const GroundTransform& transform,
              const std::function<bool(const ShownPiece&)>& except);

    /// The point snapped to a line within a few pixels, else to the grid. Alt suspends it.
    Snap point(const Vec& point, Qt::KeyboardModifiers modifiers) const;

    /// The way `by` that a box should go so that an edge or its centre lines up; else so that
    /// `anchor` comes to lie on the grid.
    Snap way(const geometry::Bounds& box, const Vec& anchor, const Vec& by, Qt::KeyboardModifiers modifiers) const;

  private:
    struct LineAt {
        double value; ///< x of a vertical line, y of a level one
        double low;   ///< its extent
        double high;
    };

    const LineAt* nearest(const std::vector<LineAt>& lines, double value) const;

    std::vector<LineAt> upright_;
    std::vector<LineAt> level_;
    double reach_ = 0; ///< m
};

/// Draws guides over the ground.
void paintGuides(QPainter& painter, const std::vector<Guide>& guides, const GroundTransform& transform);

} // namespace snare::app
