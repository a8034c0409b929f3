// SPDX-License-Identifier: Apache-2.0
/// *What takes never use*: a list that leads to each place. While it is open, ground, cards and
/// flow are tinted.
#pragma once

#include "app/model/coverage_watch.h"

#include <QDialog>
#include <QPointer>

class QLabel;
class QListWidget;

namespace snare::app {

class CoverageWindow : public QDialog {
    Q_OBJECT

  public:
    /// Turns the watch on, and off again when it is closed.
    CoverageWindow(CoverageWatch& coverage, QWidget* parent);
    ~CoverageWindow() override;

  signals:
    void placeWanted(const snare::check::Place& place);
    /// The bench is to look for what was never used.
    void scoutWanted();

  private:
    void refresh();
    void go();

    QPointer<CoverageWatch> coverage_; ///< it may end first, with the window around
    QLabel* said_;
    QListWidget* list_;
};

} // namespace snare::app
