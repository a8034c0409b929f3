// SPDX-License-Identifier: Apache-2.0
/// *Read*: the scene told in sentences, to be read, copied, saved and printed.
#pragma once

#include "app/model/document.h"

#include <QDialog>

class QPlainTextEdit;

namespace snare::app {

class Reading : public QDialog {
    Q_OBJECT

  public:
    Reading(Document& document, QWidget* parent);

    /// What it says.
    QString text() const;

  private:
    void refresh();
    void save();
    void print();

    Document& document_;
    QPlainTextEdit* text_;
};

} // namespace snare::app
