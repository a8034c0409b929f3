// SPDX-License-Identifier: Apache-2.0
/// Problems: what keeps a snare from working, known before anything runs.
#pragma once

#include "scene/scene.h"

namespace snare::check {

/// What is wrong with a snare, in words, each naming the word at fault: names that point to nothing, fields that are
/// not filled in, events that cannot come where they are caught. Empty if nothing is known to be wrong.
std::vector<std::string> problemsOf(const scene::Scene& scene, const scene::Snare& snare);

/// What is wrong with a piece: pictures to trace that are missing or have nothing of the colour.
std::vector<std::string> problemsOf(const scene::Scene& scene, const scene::Piece& piece);

} // namespace snare::check
