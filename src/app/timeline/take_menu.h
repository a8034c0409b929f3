// SPDX-License-Identifier: Apache-2.0
/// What can be changed of a take by words and numbers: its length, its seed, and inputs that are
/// added at the cursor.
#pragma once

#include "app/model/document.h"
#include "app/model/stage.h"

#include <functional>

class QMenu;
class QObject;
class QWidget;

namespace snare::app {

/// Adds the entries to a menu; their questions open below `anchor`.
void addTakeEntries(QMenu& menu, QWidget* anchor, Document& document, Stage& stage);

/// The take with a length in s, or with the usual one: what came later is left out.
scene::Take withLength(scene::Take take, std::optional<double> seconds);

/// Entries that expect a line of the shown record: that one like it must come, must come about
/// then, must never come. None for lines that nobody expects. `expect` is called with what was
/// chosen.
void addWishEntries(QMenu& menu, QObject* owner, Stage& stage, std::int32_t line,
                    const std::function<void(scene::Expectation)>& expect);

} // namespace snare::app
