// SPDX-License-Identifier: Apache-2.0
/// Names: asking for a new one, which all mentions follow, and telling what mentions a thing.
#pragma once

#include "app/model/document.h"
#include "app/ui/slot_popup.h"
#include "io/field_access.h"
#include "scene/mentions.h"

#include <functional>
#include <string>
#include <vector>

namespace snare::app {

/// Asks for a new name of a thing; says first how many mentions will follow. One undo step.
void askForName(QWidget* anchor, Document& document, scene::Thing kind, const std::string& name,
                const std::function<void(const std::string&)>& renamed);

/// Lists all that mentions a thing; choosing one of them shows it.
void showUses(QWidget* anchor, Document& document, scene::Thing kind, const std::string& name);

/// Lets the panel of a slot show where a thing is used.
void offerUses(Question& question, QWidget* anchor, Document& document, scene::Thing kind, const std::string& name);

/// Lets the panel of a slot rename what the slot names (a tag, a signal, a phase …) and show where
/// it is used. Nothing if it names no single thing that can be renamed.
void offerRename(Question& question, QWidget* anchor, Document& document, const io::FieldView& field);

/// What deleting these pieces leaves behind, in words: "2 snares listen at it, 1 acts on it". Empty
/// if nothing.
QString whatMentions(const scene::Scene& scene, const std::vector<std::string>& pieces);

} // namespace snare::app
