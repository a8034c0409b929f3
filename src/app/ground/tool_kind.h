// SPDX-License-Identifier: Apache-2.0
/// The tools of the ground and the kinds of shape that they draw.
#pragma once

#include <QString>

#include <vector>

namespace snare::app {

/// What the next press on the ground does.
enum class ToolKind { select, solid, zone, line, thread, stamp, measure };

/// What solid, zone and line draw. From `polygon` on corner by corner.
enum class ShapeKind { box, circle, capsule, polygon, line, ring };

/// The name of a kind of shape: "box".
QString wordOf(ShapeKind kind);

/// The kinds that a tool draws, in the order in which its key goes through them; none for a tool
/// that draws no shape.
std::vector<ShapeKind> kindsOf(ToolKind tool);

} // namespace snare::app
