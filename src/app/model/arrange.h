// SPDX-License-Identifier: Apache-2.0
/// Putting several pieces in order: lining them up, spreading them evenly, raising and lowering
/// them.
#pragma once

#include "scene/scene.h"

namespace snare::app {

enum class Side { left, centre, right, top, middle, bottom };

/// Lines the pieces up along a side of the box around all of them.
void align(scene::Scene& scene, const std::vector<std::string>& pieces, Side side);

/// Spreads the pieces so that the gaps between them are even; the outermost stay. Needs three.
void distribute(scene::Scene& scene, const std::vector<std::string>& pieces, bool across);

/// Changes the layers of the pieces by `by`; with `outmost` above or below all others.
void restack(scene::Scene& scene, const std::vector<std::string>& pieces, int by, bool outmost);

} // namespace snare::app
