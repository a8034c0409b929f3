// SPDX-License-Identifier: Apache-2.0
/// What listens to what: sources, snares, signals, values, phases and pieces of a scene, and what
/// leads from one to the other.
#pragma once

#include "check/finding.h"

#include <string>
#include <vector>

namespace snare::check {

struct FlowNode {
    enum class Kind { source, piece, snare, routine, signal, value, phase };

    Kind kind = Kind::piece;
    std::string name;       ///< "weigh", "tag:cask", "lamp: on"
    Place place = {};       ///< where it stands, if it is one thing of the scene
    bool isSeveral = false; ///< a selector, or whoever comes: known only when it runs
};

std::string_view wordOf(FlowNode::Kind kind);

/// From what happens to who listens, and from who acts to what is acted on.
struct FlowEdge {
    std::size_t from = 0; ///< node
    std::size_t to = 0;
    std::string label;          ///< the event, or what is done
    bool isDecidedLate = false; ///< by a path or a selector, when it runs
};

struct Flow {
    std::vector<FlowNode> nodes; ///< in the order in which the scene names them
    std::vector<FlowEdge> edges; ///< each once
};

/// The flow of a scene with its kits and assemblies.
Flow flowOf(const scene::Scene& scene);

/// The nodes from which one can be reached, and those that can be reached from it; with it.
std::vector<std::size_t> upstream(const Flow& flow, std::size_t node);
std::vector<std::size_t> downstream(const Flow& flow, std::size_t node);

/// The same as a graph in the DOT language, laid out from left to right.
std::string dotOf(const Flow& flow, const std::string& title);

} // namespace snare::check
