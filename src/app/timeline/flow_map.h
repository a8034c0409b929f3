// SPDX-License-Identifier: Apache-2.0
/// The flow of a scene laid out in layers from left to right.
#pragma once

#include "check/flow.h"

#include <QPainterPath>
#include <QRectF>

#include <optional>
#include <vector>

namespace snare::app {

/// Pixels at its natural size.
struct FlowMap {
    check::Flow flow;
    std::vector<QRectF> boxes;       ///< of the nodes
    std::vector<QPainterPath> lines; ///< of the edges
    std::vector<QPointF> labels;     ///< where their words stand
    QSizeF size{0, 0};

    std::optional<std::size_t> nodeAt(const QPointF& point) const;
};

/// Lays a flow out with the program `dot` of Graphviz; `sizes` are those of the nodes, `words` how
/// wide the words of the edges are. What that does not do in under a second, or is too dense for
/// it, is laid out plainly (flow_layers.h), and so is all where the program is missing.
FlowMap layOut(check::Flow flow, const std::vector<QSizeF>& sizes, const std::vector<double>& words);

} // namespace snare::app
