// SPDX-License-Identifier: Apache-2.0
/// *Settings*: one page for all that can be chosen, in force as soon as it is. Keys of commands,
/// too.
#pragma once

#include "app/ui/theme.h"

#include <QDialog>

#include <functional>

class QAction;
class QLabel;
class QLineEdit;
class QTableWidget;
class QVBoxLayout;

namespace snare::app {

/// Gives commands the keys that were chosen for them; what they had becomes their usual one.
void applyChosenKeys(const QList<QAction*>& commands);

class SettingsPage : public QDialog {
    Q_OBJECT

  public:
    /// `setScheme` takes on other colours.
    SettingsPage(QList<QAction*> commands, const std::function<void(SchemeWish)>& setScheme, QWidget* parent);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void buildChoices(QVBoxLayout* column, const std::function<void(SchemeWish)>& setScheme);
    void buildKeys(QVBoxLayout* column);
    void fillKeys();
    void filterKeys(const QString& words);
    void askKey();
    void setKey(QAction* command, const QString& key);
    QAction* chosen() const;

    QList<QAction*> commands_;
    QLineEdit* search_ = nullptr;
    QTableWidget* keys_ = nullptr;
    QLabel* said_ = nullptr;
};

} // namespace snare::app
