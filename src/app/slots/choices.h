// SPDX-License-Identifier: Apache-2.0
/// What can be chosen in slots: everything in a scene that has a name, each with a word or two
/// about it.
#pragma once

#include "app/model/document.h"
#include "app/ui/slot_popup.h"
#include "io/field_access.h"

#include <vector>

namespace snare::app {

/// All that a field can be filled with: what it refers to, its own words, and ways to work a value
/// out.
std::vector<Choice> choicesFor(const io::FieldView& field, const scene::Scene& scene);

/// A few colours for what is drawn; others are typed.
std::vector<Choice> colourChoices();
std::vector<Choice> pieceChoices(const scene::Scene& scene);
std::vector<Choice> groupChoices(const scene::Scene& scene);

/// The pictures in the folder of the scene and one below it: PNG, or SVG too.
std::vector<Choice> pictureChoices(Document& document, bool onlyPng);
/// Sounds beside the scene.
std::vector<Choice> soundChoices(Document& document);
std::vector<Choice> tagChoices(const scene::Scene& scene);
std::vector<Choice> placeChoices(const scene::Scene& scene); ///< where a snare can catch: shapes, pieces, tags, groups
std::vector<Choice> templateChoices(const scene::Scene& scene);
std::vector<Choice> signalChoices(const scene::Scene& scene); ///< with how many snares hear each
std::vector<Choice> keyChoices(const scene::Scene& scene);
std::vector<Choice> phaseChoices(const scene::Scene& scene, bool withScene); ///< `scene:NAME` for those of the scene
std::vector<Choice> timerChoices(const scene::Scene& scene);                 ///< of the scene and of pieces
std::vector<Choice> routineChoices(const scene::Scene& scene);               ///< of the scene and its kits

} // namespace snare::app
