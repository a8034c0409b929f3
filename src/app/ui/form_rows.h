// SPDX-License-Identifier: Apache-2.0
/// Rows of a form: what is chosen, the field, and what that means.
#pragma once

#include <QString>

class QGridLayout;
class QWidget;

namespace snare::app {

/// A grid for such rows; the third column takes what room is left.
QGridLayout* makeForm();

/// Adds a row at the end. Label and field belong together for keys and screen readers.
void addFormRow(QGridLayout* form, const QString& words, QWidget* field, const QString& about = {});

} // namespace snare::app
