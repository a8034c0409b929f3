// SPDX-License-Identifier: Apache-2.0
/// What a slot of a response shows, offers and takes; worked out from the field's kind and what it refers to.
#pragma once

#include "app/document.h"
#include "app/slot_popup.h"
#include "io/field_access.h"

#include <functional>

namespace snare::app {

/// How the field reads in a sentence; empty if it is not given.
QString slotText(const io::FieldView& field);

/// What the panel of the slot asks; `check` says what is wrong with an answer as JSON.
Question questionFor(const io::FieldView& field, const scene::Scene& scene,
                     const std::function<std::optional<std::string>(const std::string& json)>& check);

/// Asks for ids with commas between.
Question wordsQuestion(const QString& title, const QString& typed);

/// The JSON of what was chosen or typed.
std::string jsonFrom(const io::FieldView& field, const QStringList& answer);

// Choices that other slots use too.
std::vector<Choice> pieceChoices(const scene::Scene& scene);
std::vector<Choice> groupChoices(const scene::Scene& scene);

/// The pictures in the folder of the scene and one below it: PNG, or SVG too.
std::vector<Choice> pictureChoices(Document& document, bool onlyPng);
std::vector<Choice> tagChoices(const scene::Scene& scene);
std::vector<Choice> placeChoices(const scene::Scene& scene); ///< where a snare can catch: shapes, pieces, tags, groups
std::vector<Choice> templateChoices(const scene::Scene& scene);
std::vector<Choice> signalChoices(const scene::Scene& scene); ///< with how many snares hear each
std::vector<Choice> keyChoices(const scene::Scene& scene);
std::vector<Choice> phaseChoices(const scene::Scene& scene, bool withScene); ///< `scene:NAME` for those of the scene
std::vector<Choice> timerChoices(const scene::Scene& scene);                 ///< of the scene and of pieces
std::vector<Choice> routineChoices(const scene::Scene& scene);               ///< of the scene and its kits

/// A value from what was typed: a number, true, false, a path such as `self.load`, else a text. As JSON.
std::string valueJson(const QString& typed);

} // namespace snare::app
