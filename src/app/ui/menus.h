// SPDX-License-Identifier: Apache-2.0
/// Menus that are opened at a place.
#pragma once

class QMenu;
class QWidget;

namespace snare::app {

/// An empty menu, to be filled and shown with `popup`. It lives and dies with its owner: if what it
/// was opened at goes while it is open, for instance because another program changed the file, it
/// goes too. It never blocks.
QMenu* makeMenu(QWidget* owner);

} // namespace snare::app
