// SPDX-License-Identifier: Apache-2.0
/// Pieces that are ready to be laid with one click: what nearly every scene begins with.
#pragma once

#include "scene/scene.h"

#include <QString>

#include <array>

namespace snare::app {

enum class Ready { walker, fallingBox, button, words };

inline constexpr std::array allReady{Ready::walker, Ready::fallingBox, Ready::button, Ready::words};

/// What it is called in menus: "Walker".
QString titleOf(Ready kind);
/// Everyday words that find it.
QString synonymsOf(Ready kind);
/// Whether it lies on the glass.
bool isOnGlass(Ready kind);

/// The piece as it is laid in this scene, at (0, 0), named after what it is: a walker is a capsule
/// that jumps from the side and a disc from above, steered by the arrow keys.
scene::Piece readyPiece(Ready kind, const scene::Scene& scene);

} // namespace snare::app
