// SPDX-License-Identifier: Apache-2.0
/// `Contacts`: what groups do to each other. One group in front, the others in three trays; below,
/// the whole square.
#pragma once

#include "app/model/document.h"
#include "app/ui/slot_button.h"

#include <QListWidget>
#include <QWidget>

class QLabel;

namespace snare::app {

/// The groups that pass, are sensed by, or stop the group in front. Groups are dragged from tray to
/// tray.
class ContactTray : public QListWidget {
    Q_OBJECT

  public:
    explicit ContactTray(scene::Contact contact, QWidget* parent = nullptr);
    scene::Contact contact() const { return contact_; }

  signals:
    void moved(const QString& group, scene::Contact to);

  protected:
    void dropEvent(QDropEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

  private:
    scene::Contact contact_;
};

/// All groups against all, to read at a glance.
class ContactSquare : public QWidget {
    Q_OBJECT

  public:
    explicit ContactSquare(Document& document, QWidget* parent = nullptr);
    QSize sizeHint() const override;

  signals:
    void cellChosen(const QString& first, const QString& second);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

  private:
    std::vector<std::string> groups() const;
    double cell() const;

    Document& document_;
    std::pair<int, int> chosen_{-1, -1};
};

class ContactsPanel : public QWidget {
    Q_OBJECT

  public:
    explicit ContactsPanel(Document& document, QWidget* parent = nullptr);
    void refresh();
    void choose(const std::string& group);

  private:
    void setContact(const std::string& other, scene::Contact contact);
    void addGroup();
    void mergeInto();
    void removeGroup();
    void explain(const std::string& first, const std::string& second);

    Document& document_;
    std::string group_; ///< in front
    SlotButton* front_;
    QLabel* about_;
    std::vector<ContactTray*> trays_;
    ContactSquare* square_;
    QLabel* cell_;
};

/// Says in the contact table what two groups do to each other; `stop` needs no row.
void setContact(scene::Scene& scene, const std::string& first, const std::string& second, scene::Contact contact);

/// Puts everything of a group into another one, and takes the group away.
void mergeGroups(scene::Scene& scene, const std::string& from, const std::string& into);

} // namespace snare::app
