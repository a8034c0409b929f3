// SPDX-License-Identifier: Apache-2.0
/// F1: all keys and gestures on one sheet, by subject.
#pragma once

#include <QDialog>

class QMenuBar;

namespace snare::app {

/// The same as Markdown, a heading a subject.
QString keysText(const QMenuBar& menus);

class KeySheet : public QDialog {
    Q_OBJECT

  public:
    /// The keys are those of the menus, a subject a menu; the gestures stand beside them.
    KeySheet(const QMenuBar& menus, QWidget* parent);
};

} // namespace snare::app
