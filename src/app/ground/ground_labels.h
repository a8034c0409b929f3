// SPDX-License-Identifier: Apache-2.0
/// Names on the ground: each stands where no other stands, or not at all.
#pragma once

#include <QColor>
#include <QRectF>
#include <QString>

#include <vector>

namespace snare::app {

/// A name, and where it may stand.
struct GroundLabel {
    QString text;
    bool bold = false;
    QColor ink;
    bool veiled = false;        ///< on a pale ground of its own: a picture may have any colours
    bool wanted = false;        ///< stands even if it covers another
    std::vector<QRectF> places; ///< pixels, the best first
};

struct PlacedLabel {
    const GroundLabel* label;
    QRectF box; ///< pixels
};

/// Where the labels stand. Those that are wanted are placed first, then the others in their order;
/// each takes the first of its places that is free. A label for which none is free is left out,
/// unless it is wanted.
std::vector<PlacedLabel> placed(const std::vector<GroundLabel>& labels);

} // namespace snare::app
