// SPDX-License-Identifier: Apache-2.0
/// `Stock`: what there is to lay and to run, in the scene and in its kits: templates, assemblies,
/// routines, and the snares of kits; with pictures, what uses them, and where they are kept.
#pragma once

#include "app/model/document.h"
#include "app/model/selection.h"

#include <QWidget>

#include <map>

class QLabel;
class QLineEdit;
class QListWidget;
class QListWidgetItem;
class QMenu;

namespace snare::app {

class StockPanel : public QWidget {
    Q_OBJECT

  public:
    StockPanel(Document& document, Selection& selection, QWidget* parent = nullptr);
    void refresh();
    /// Names a kit, or makes a new one.
    void addKit(QWidget* anchor);

  signals:
    /// The stamp is to lay this.
    void layWanted(const QString& name);
    /// The card of a routine or of a kit's snare is to be shown, as text (card_key.h).
    void cardWanted(const QString& card);
    /// `Here` shows what is chosen.
    void hereWanted();

  protected:
    void showEvent(QShowEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    struct Entry {
        scene::Thing kind;
        std::string home;
        std::string name;
        bool isThere = true;

        friend bool operator==(const Entry&, const Entry&) = default;
    };
    struct Counts;

    void lookForUsers();
    void addHeading(const std::string& home);
    void addEntry(const Entry& entry, const Counts& counts);
    QString detailOf(const Entry& entry, const Counts& counts) const;
    const QPixmap& pictureOf(const Entry& entry);
    std::optional<Entry> chosen() const;
    void open(const Entry& entry);
    void rename(const Entry& entry);
    void remove(const Entry& entry);
    void fillMenu(QMenu& menu, const Entry& entry);
    void fillKitMenu(QMenu& menu, const std::string& kit);
    void showMenu(const QPoint& screenPoint);
    QString usersText(const std::string& kit) const;
    void chooseFollowers(const Entry& entry);

    Document& document_;
    Selection& selection_;
    QLineEdit* search_;
    QListWidget* list_;
    std::vector<std::optional<Entry>> rows_;   ///< nothing: a heading
    std::vector<std::string> homes_;           ///< of the rows
    std::map<std::string, QStringList> users_; ///< other scenes beside this one that name a kit
    struct Picture {
        scene::Scene of;
        QPixmap pixmap;
    };
    std::map<std::string, Picture> pictures_;
};

} // namespace snare::app
