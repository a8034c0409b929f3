// SPDX-License-Identifier: Apache-2.0
/// The little panel in which a slot is filled in: a field to type in and a list of what fits.
#pragma once

#include "app/ui/question.h"

#include <QFrame>

class QLabel;
class QLineEdit;
class QListWidget;
class QListWidgetItem;
class QVBoxLayout;

namespace snare::app {

class SlotPopup : public QFrame {
    Q_OBJECT

  public:
    /// Opens below `anchor`; `answer` is called once if something was chosen, and never once the
    /// card of the anchor (or, without one, what the window shows) is gone. Opens nothing if a
    /// number in the slot is dragged: then the drag gives the answer.
    static void ask(QWidget* anchor, Question question, std::function<void(const QStringList&)> answer);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    SlotPopup(QWidget* parent, Question question, std::function<void(const QStringList&)> answer);
    void buildList(QVBoxLayout* layout);
    void buildButtons(QVBoxLayout* layout);
    void fill();
    void filter(const QString& text);
    QListWidgetItem* offerNew(const QString& name);
    static void toggle(QListWidgetItem* item);
    void fitHeight();
    QListWidgetItem* offerNearest(const QString& sought);
    void accept();
    void leaveFor(const std::function<void()>& other);
    void finish(const QStringList& answer);
    QStringList answerNow() const;
    QStringList partsNow() const;
    QString valueOf(const QString& typed) const;
    void takePart(const QListWidgetItem* item, bool another);

    Question question_;
    std::function<void(const QStringList&)> answer_;
    QLineEdit* edit_;
    QListWidget* list_;
    QLabel* wrong_;
    std::optional<QStringList> before_; ///< the answer that changes nothing
    QListWidgetItem* new_ = nullptr;    ///< offered for what is typed, not ticked yet
    bool marked_ = false;               ///< by hand, in the list
    bool ticked_ = false;               ///< by hand, since something was typed
    Qt::CheckState pressed_ = Qt::Unchecked; ///< of the entry under the pointer when it was pressed
    bool takingKey_ = false;            ///< the next key is the answer
};

} // namespace snare::app
