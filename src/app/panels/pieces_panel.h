// SPDX-License-Identifier: Apache-2.0
/// `Pieces`: everything placed in the scene as a list that can be searched; select, rename, tag,
/// regroup and delete from it.
#pragma once

#include "app/model/document.h"
#include "app/model/selection.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QListWidget;
class QListWidgetItem;

namespace snare::app {

class PiecesPanel : public QWidget {
    Q_OBJECT

  public:
    PiecesPanel(Document& document, Selection& selection, QWidget* parent = nullptr);
    void refresh();
    /// Asks for a group for all selected pieces.
    void regroupChosen();
    /// Asks for a tag for all selected pieces.
    void tagChosen();

  signals:
    /// The ground is to show the selected pieces.
    void showWanted();

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void filter();
    void selectionToList();
    void listToSelection();
    void rename(QListWidgetItem* item);
    void showMenu(const QPoint& at);

    Document& document_;
    Selection& selection_;
    QLineEdit* search_;
    QListWidget* list_;
    QLabel* count_;
    bool busy_ = false;
};

} // namespace snare::app
