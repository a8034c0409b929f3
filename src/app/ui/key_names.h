// SPDX-License-Identifier: Apache-2.0
/// X keysym names of keys, as takes and snares use them.
#pragma once

#include <QString>
#include <QStringList>

class QKeyEvent;

namespace snare::app {

/// The X keysym name of a key: `Right`, `space`, `e` with Shift too, `semicolon`. Empty for keys
/// that have none.
QString keyName(const QKeyEvent& event);

/// What people call it: "→", "Space", "E"; of `button:left` "left button".
QString keyLabel(const QString& name);

/// The names of keys that are offered first.
QStringList commonKeys();

} // namespace snare::app
