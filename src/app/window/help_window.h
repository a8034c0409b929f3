// SPDX-License-Identifier: Apache-2.0
/// *Help*: the guide, the rules and the reference, by page, with search. What is selected has a
/// topic of its own.
#pragma once

#include <QDialog>
#include <QTextBrowser>

#include <vector>

class QLineEdit;
class QMenuBar;
class QToolButton;
class QTreeWidget;
class QTreeWidgetItem;

namespace snare::app {

/// A part of a page that is shown by itself.
struct HelpSection {
    QString page;  ///< "guide", "events"
    QString title; ///< "Lay", "enter"; of a page's beginning the page's
    QString text;  ///< Markdown
    bool isBeginning = false;

    /// "guide#Lay"; of a page's beginning "guide".
    QString topic() const { return isBeginning ? page : page + QLatin1Char('#') + title; }
};

/// The pages in their order: the guide and the rules as they lie beside the program, the reference
/// from its tables, the keys from the menus.
std::vector<HelpSection> helpSections(const QMenuBar& menus);

/// Markdown, with pictures no wider than the room.
class HelpText : public QTextBrowser {
    Q_OBJECT

  public:
    explicit HelpText(QWidget* parent);
    /// Shows a text whose pictures lie in a folder, and marks the words that were searched.
    void show(const QString& markdown, const QString& folder, const QString& searched);

  protected:
    QVariant loadResource(int type, const QUrl& name) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    void lay();

    QString markdown_;
    QString folder_;
    QString searched_;
    int laidFor_ = 0; ///< which width, pixels
    bool willLay_ = false;
};

class HelpWindow : public QDialog {
    Q_OBJECT

  public:
    HelpWindow(const QMenuBar& menus, QWidget* parent);

    /// Shows "guide#Lay", "events#enter", "findings"; the beginning of the page if it has no such
    /// part.
    void showTopic(const QString& topic);
    /// What is shown.
    const QString& topic() const { return topic_; }

  private:
    void buildList();
    void search(const QString& words);
    void showItem(const QTreeWidgetItem* item);
    void follow(const QUrl& link);
    void go(int by);
    void refreshWays();

    std::vector<HelpSection> sections_;
    QString folder_;
    QString topic_;
    QStringList visited_;
    int at_ = -1; ///< among the visited
    QLineEdit* search_;
    QTreeWidget* list_;
    HelpText* text_;
    QToolButton* back_;
    QToolButton* forth_;
};

/// The topic of a widget, or of the nearest one around it that has one (its property "help"); empty
/// if none has.
QString helpTopicOf(const QWidget* widget);

} // namespace snare::app
