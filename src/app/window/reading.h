// SPDX-License-Identifier: Apache-2.0
/// *Read*: the scene told in sentences, to be read, copied, saved and printed.
#pragma once

#include "app/model/document.h"

#include <QDialog>
#include <QFutureWatcher>

class QPlainTextEdit;

namespace snare::app {

class Reading : public QDialog {
    Q_OBJECT

  public:
    Reading(Document& document, QWidget* parent);
    ~Reading() override;

    /// What it says.
    QString text() const;

  private:
    void refresh();
    void showText(const QString& now);
    void save();
    void print();

    Document& document_;
    QPlainTextEdit* text_;
    QFutureWatcher<QString> telling_;
    std::shared_ptr<const scene::Scene> told_; ///< that is told, or was told last
};

} // namespace snare::app
