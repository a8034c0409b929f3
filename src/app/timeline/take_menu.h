// SPDX-License-Identifier: Apache-2.0
/// What can be changed of a take by words and numbers: its length, its seed, and inputs that are added at the cursor.
#pragma once

#include "app/model/document.h"
#include "app/model/stage.h"

class QMenu;
class QWidget;

namespace snare::app {

/// Adds the entries to a menu; their questions open below `anchor`.
void addTakeEntries(QMenu& menu, QWidget* anchor, Document& document, Stage& stage);

/// The take with a length in s, or with the usual one: what came later is left out.
scene::Take withLength(scene::Take take, std::optional<double> seconds);

} // namespace snare::app
