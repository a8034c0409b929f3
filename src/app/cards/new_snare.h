// SPDX-License-Identifier: Apache-2.0
/// A new snare for any event, with or without a piece: from the book, from `Here`, by menu and
/// Ctrl+K.
#pragma once

#include "app/model/document.h"
#include "app/model/selection.h"

namespace snare::app {

/// A snare that catches this event at the piece, if it can be caught at one; without responses.
scene::Snare snareFor(const scene::Scene& scene, scene::EventKind kind, const std::string& piece);

/// Asks what is to be caught, makes the snare, chooses it, and tells `made` its name: its first
/// empty slot is to be opened.
void askNewSnare(QWidget* anchor, Document& document, Selection& selection,
                 const std::function<void(const std::string& snare)>& made);

} // namespace snare::app
