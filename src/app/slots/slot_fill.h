// SPDX-License-Identifier: Apache-2.0
/// What a slot of a response shows, offers and takes; worked out from the field's kind and what it
/// refers to.
#pragma once

#include "app/slots/choices.h"
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

/// A value from what was typed: a number, true, false, a path such as `self.load`, else a text. As
/// JSON.
std::string valueJson(const QString& typed);

} // namespace snare::app
