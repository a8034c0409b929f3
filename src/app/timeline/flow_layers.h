// SPDX-License-Identifier: Apache-2.0
/// A layered drawing of a graph, for where Graphviz would take too long or is not there.
#pragma once

#include <QPainterPath>
#include <QRectF>

#include <utility>
#include <vector>

namespace snare::app {

/// Pixels. Boxes do not overlap.
struct LayeredGraph {
    std::vector<QRectF> boxes;       ///< of the nodes
    std::vector<QPainterPath> lines; ///< of the edges, each from its first node to its second
    QSizeF size{0, 0};
};

/// Nodes of the given sizes in layers from left to right; an edge goes to a later layer but where
/// edges run in a circle. Takes time in proportion to n log n of nodes and edges. The same graph is
/// always drawn alike.
///
/// After K. Sugiyama, S. Tagawa, M. Toda, "Methods for visual understanding of hierarchical system
/// structures" (1981): circles are cut greedily, as in P. Eades, X. Lin, W. Smyth, "A fast and
/// effective heuristic for the feedback arc set problem" (1993), layers are longest paths, and the
/// order within a layer follows the mean of the neighbours, some times to and fro. Edges over
/// several layers are drawn straight through.
LayeredGraph layered(const std::vector<QSizeF>& sizes, const std::vector<std::pair<std::size_t, std::size_t>>& edges);

} // namespace snare::app
