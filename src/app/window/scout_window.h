// SPDX-License-Identifier: Apache-2.0
/// *Scout*: the bench plays the scene by itself; what it could spring, what never sprang, what
/// broke, each with a take to keep.
#pragma once

#include "app/model/scouting.h"

#include <QDialog>

class QLabel;
class QListWidget;
class QProgressBar;
class QPushButton;
class QVBoxLayout;

namespace snare::app {

class SlotButton;

class ScoutWindow : public QDialog {
    Q_OBJECT

  public:
    ScoutWindow(Scouting& scouting, Document& document, QWidget* parent);

  signals:
    /// A snare is to be shown, as the run calls it.
    void snareWanted(const QString& snare);
    void said(const QString& text);

  private:
    void buildTop(QVBoxLayout* column);
    void buildList(QVBoxLayout* column);
    void buildFoot(QVBoxLayout* column);
    void askHowMuch();
    void startOrStop();
    void refresh();
    void tell();
    void list();
    const check::ScoutLine* chosen() const;
    void go();
    void keep(bool all);

    Scouting& scouting_;
    Document& document_;
    check::ScoutOptions next_; ///< how much is played when it is started
    QLabel* said_ = nullptr;
    SlotButton* amount_ = nullptr;
    QPushButton* start_ = nullptr;
    QProgressBar* progress_ = nullptr;
    QListWidget* list_ = nullptr;
    QWidget* blank_ = nullptr;
    QPushButton* keep_ = nullptr;
    QPushButton* keepAll_ = nullptr;
};

} // namespace snare::app
