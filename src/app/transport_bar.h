// SPDX-License-Identifier: Apache-2.0
/// Above the timeline: record, play, step, and what the last edit changed.
#pragma once

#include "app/document.h"
#include "app/stage.h"

#include <QWidget>

class QLabel;
class QToolButton;

namespace snare::app {

class TransportBar : public QWidget {
    Q_OBJECT

  public:
    TransportBar(Document& document, Stage& stage, QWidget* parent = nullptr);

    /// What it says of the last edit, without markup.
    QString changesText() const;

  signals:
    void recordPressed();

  private:
    void refresh();
    QToolButton* button(const QString& iconName, const QString& tip, const std::function<void()>& press);

    Document& document_;
    Stage& stage_;
    QToolButton* record_;
    QToolButton* play_;
    QLabel* take_;
    QLabel* changes_;
};

} // namespace snare::app
