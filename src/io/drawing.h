// SPDX-License-Identifier: Apache-2.0
/// Drawings: a moment of a run as SVG 1.1, and pieces from an SVG.
///
/// In a drawing that is written a unit is a metre, and y goes down. What is written comes in again
/// as it was, shapes within 0.1 mm: ids, classes and `data-` attributes say what an element is.
#pragma once

#include "io/json_node.h"
#include "scene/scene.h"
#include "sim/record.h"

#include <string>
#include <string_view>
#include <vector>

namespace snare::io {

/// The moment at the end of a tick: zones, solids and names, each in a layer of its own.
std::string svgOf(const sim::Record& record, std::int64_t tick);

struct DrawingOptions {
    double metres = 1;        ///< of a unit of the drawing, > 0
    double tolerance = 0.005; ///< m, > 0: how far curves may be off once they are edges
    bool centred = false;     ///< the middle of what is brought in is at (0, 0); else where the drawing has it
};

/// What a drawing gives.
struct Drawing {
    scene::Scene clip;              ///< nothing but its pieces
    std::vector<std::string> notes; ///< what was passed over, and why; each kind once, with how often
    geometry::Bounds bounds;        ///< of the pieces, m; empty without any
};

/// Pieces from rect, circle, ellipse, line, polyline, polygon and path, in groups and with
/// transforms.
///
/// What an element says of itself counts for what is in it, too: `data-role` (`solid`, `zone`),
/// `data-group`, `data-tags`, `data-template`, `data-layer`, `data-body`. `data-piece` puts its
/// shapes on one piece. Of the words of `class` `solid` and `zone` are roles, `line` makes edges of
/// an area and `capsule` a rounded bar of a line; others are tags. Refused: what is no SVG, what is
/// nested deeper than 200 levels, and what declares entities.
tl::expected<Drawing, Problem> piecesFrom(std::string_view svg, const std::string& file,
                                          const DrawingOptions& options = {});

/// Adds the pieces of a drawing, moved by `by` (m), under names that are free. One that says a
/// template which the scene has is stamped from it, at the same place; one that says another is a
/// plain piece, which `notes` tells. Returns the names of the new pieces.
std::vector<std::string> bringIn(scene::Scene& scene, Drawing drawing, const geometry::Vec& by,
                                 std::vector<std::string>& notes);

} // namespace snare::io
