// SPDX-License-Identifier: Apache-2.0
/// How the ground is shown: which part of the scene, how large, and what of it.
#pragma once

#include "geometry/outline.h"
#include "geometry/vec.h"

#include <QPointF>
#include <QRectF>
#include <QSizeF>

#include <set>
#include <string>

namespace snare::app {

using geometry::Vec;

/// From metres to pixels: y goes up in the scene and down on the screen.
struct GroundTransform {
    Vec centre{0, 0};  ///< m, in the middle of the view
    double scale = 50; ///< pixels a metre
    QSizeF size;       ///< of the view, pixels

    QPointF toView(const Vec& point) const
    {
        return {size.width() / 2 + (point.x - centre.x) * scale, size.height() / 2 - (point.y - centre.y) * scale};
    }
    QRectF toView(const geometry::Bounds& box) const
    {
        return {toView(Vec{box.low.x, box.high.y}), toView(Vec{box.high.x, box.low.y})};
    }
    Vec toScene(const QPointF& point) const
    {
        return {centre.x + (point.x() - size.width() / 2) / scale, centre.y - (point.y() - size.height() / 2) / scale};
    }
};

struct GroundOptions {
    bool allThreads = false;
    bool clean = false;           ///< no zones and threads
    bool motion = false;          ///< speeds, rest, ground contact and carrying, all routes
    bool rulers = false;          ///< along two edges
    bool bare = false;            ///< the pieces alone: no grid, names or scale
    bool pointerPath = false;     ///< where the pointer goes in the take, to be bent
    bool overview = true;         ///< in the corner, while not all is in view
    bool glass = false;           ///< the glass alone: the scene under it is pale and cannot be picked
    std::set<std::string> locked; ///< pieces that cannot be picked
    std::set<std::string> veiled; ///< pieces that are not drawn
    std::set<std::string> unvisited; ///< pieces into whose zones no take leads: hatched
};

} // namespace snare::app
