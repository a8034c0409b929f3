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

    /// Shows which view stands below.
    void setView(int index);
    /// What it says of the last edit, without markup.
    QString changesText() const;

  signals:
    void recordPressed();
    void recordOnPressed();
    /// The next (1) or previous (-1) event of the chosen lane.
    void jumpWanted(int by);
    void loopPressed();
    /// Which view is to stand below: 0 timeline, 1 ledger.
    void viewChosen(int index);

  private:
    void refresh();
    void showTakes();
    void renameTake();
    QToolButton* button(const QString& iconName, const QString& tip, const std::function<void()>& press);

    Document& document_;
    Stage& stage_;
    QToolButton* record_;
    QToolButton* play_;
    QToolButton* loop_;
    QToolButton* take_;
    QLabel* changes_;
    std::vector<QToolButton*> views_;
};

} // namespace snare::app
