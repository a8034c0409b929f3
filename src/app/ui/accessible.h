// SPDX-License-Identifier: Apache-2.0
/// What screen readers are told of widgets that we paint ourselves.
#pragma once

#include <QAccessible>
#include <QString>

class QWidget;

namespace snare::app {

/// Says what kind of thing a widget is, and what it is called. An empty name leaves the one it has.
void giveRole(QWidget* widget, QAccessible::Role role, const QString& name = {});

} // namespace snare::app
