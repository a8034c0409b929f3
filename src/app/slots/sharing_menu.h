// SPDX-License-Identifier: Apache-2.0
/// Moving what is shared between the scene and its kits, as entries of a menu.
#pragma once

#include "app/model/document.h"

#include <functional>

class QMenu;
class QWidget;

namespace snare::app {

/// Asks for a kit file beside the scene: one that it names, or a new one.
void askForKit(QWidget* anchor, const Document& document, const QString& title,
               const std::function<void(const std::string& kit)>& done);

/// Adds what can be done to keep something elsewhere: from the scene (an empty home) in a kit, from
/// a kit in the scene.
void offerMoves(QMenu& menu, QWidget* anchor, Document& document, scene::Thing kind, const std::string& home,
                const std::string& name);

} // namespace snare::app
