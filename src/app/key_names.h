// SPDX-License-Identifier: Apache-2.0
/// X keysym names of keys, as takes and snares use them.
#pragma once

#include <QString>

class QKeyEvent;

namespace snare::app {

/// The name of the key itself, whatever the modifiers: `Right`, `space`, `e`. Empty for keys that have none here.
QString keyName(const QKeyEvent& event);

/// What people call it: "→", "Space", "E"; of `button:left` "left button".
QString keyLabel(const QString& name);

} // namespace snare::app
