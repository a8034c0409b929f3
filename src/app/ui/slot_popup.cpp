// SPDX-License-Identifier: Apache-2.0
#include "app/ui/slot_popup.h"

#include "app/ui/key_names.h"
#include "app/ui/sentence_card.h"
#include "app/ui/slot_button.h"
#include "app/ui/theme.h"

#include "scene/values.h"

#include <QApplication>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPointer>
#include <QPushButton>
#include <QRegularExpression>
#include <QScreen>
#include <QVBoxLayout>

namespace snare::app {

namespace {

constexpr int valueRole = Qt::UserRole;
constexpr int wordsRole = Qt::UserRole + 1;
constexpr int headingRole = Qt::UserRole + 2;
constexpr int textRole = Qt::UserRole + 3;
constexpr int mostRows = 11;

/// Whom an answer is for: the card that the anchor is on, else all that the window shows. The
/// anchor itself may go while its card is built anew.
QWidget* ownerOf(QWidget* anchor)
{
    QWidget* owner = anchor;
    for (QWidget* one = anchor; one && !one->isWindow(); one = one->parentWidget()) {
        owner = one;
        if (qobject_cast<SentenceCard*>(one))
            break;
    }
    return owner;
}

} // namespace

void SlotPopup::ask(QWidget* anchor, Question question, std::function<void(const QStringList&)> answer)
{
    auto* slot = qobject_cast<SlotButton*>(anchor);
    if (slot && slot->kind() == SlotButton::Kind::filled && !question.proposes)
        question.shown = slot->text();
    const QPointer<QWidget> owner = ownerOf(anchor);
    const auto ifThere = [owner, tell = std::move(answer)](const QStringList& chosen) {
        if (owner)
            tell(chosen);
    };
    if (slot && slot->takeOver(question, ifThere))
        return;
    for (QWidget* other : QApplication::topLevelWidgets()) // only one slot is open at a time
        if (qobject_cast<SlotPopup*>(other))
            other->close();
    auto* popup = new SlotPopup{anchor->window(), std::move(question), ifThere};
    connect(owner, &QObject::destroyed, popup, &QWidget::close);
    popup->adjustSize();
    QPoint at = anchor->mapToGlobal(QPoint{0, anchor->height() + 2});
    const QRect screen = anchor->screen()->availableGeometry();
    at.setX(std::clamp(at.x(), screen.left(), std::max(screen.left(), screen.right() - popup->width())));
    if (at.y() + popup->height() > screen.bottom())
        at.setY(std::max(screen.top(), anchor->mapToGlobal(QPoint{0, 0}).y() - popup->height() - 2));
    popup->move(at);
    popup->show();
    popup->edit_->setFocus(Qt::PopupFocusReason);
    popup->edit_->selectAll();
}

SlotPopup::SlotPopup(QWidget* parent, Question question, std::function<void(const QStringList&)> answer)
    : QFrame(parent, Qt::Popup), question_(std::move(question)), answer_(std::move(answer))
{
    setObjectName(QStringLiteral("slotPopup"));
    setAttribute(Qt::WA_DeleteOnClose);
    setFrameShape(QFrame::NoFrame);
    dress(this, [] {
        return QStringLiteral("#slotPopup { background: %1; border: 1px solid %2; }")
            .arg(theme().panel.name(), theme().hairline.name());
    });
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(10, 8, 10, 10);
    layout->setSpacing(6);
    auto* title = new QLabel{question_.title, this};
    title->setFont(textFont(-0.5, true));
    layout->addWidget(title);
    edit_ = new QLineEdit{question_.typed, this};
    edit_->setAccessibleName(question_.title);
    edit_->setPlaceholderText(question_.placeholder);
    edit_->setMinimumWidth(220);
    edit_->installEventFilter(this);
    layout->addWidget(edit_);
    buildList(layout);
    wrong_ = new QLabel{this};
    wrong_->setWordWrap(true);
    colourText(wrong_, &Theme::coralText);
    wrong_->hide();
    layout->addWidget(wrong_);
    buildButtons(layout);
    fill();
    if (!question_.proposes && (question_.many || question_.freeText || !question_.chosen.isEmpty()))
        before_ = answerNow();
    connect(edit_, &QLineEdit::textEdited, this, &SlotPopup::filter);
}

void SlotPopup::buildList(QVBoxLayout* layout)
{
    list_ = new QListWidget{this};
    list_->setAccessibleName(question_.title);
    list_->setFrameShape(QFrame::NoFrame);
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    dress(list_, [] { // what is ticked is dark in light and dark colours: the tick is white
        return QStringLiteral("QListWidget { background: transparent; } QListWidget::item { padding: 3px 4px; "
                              "border-radius: 4px; }"
                              "QListWidget::item:selected { background: %1; color: %2; }"
                              "QListWidget::indicator { width: 12px; height: 12px; border-radius: 3px; "
                              "border: 1px solid %3; background: %4; }"
                              "QListWidget::indicator:checked { background: #16323a; "
                              "image: url(:/icons/tick.svg); }")
            .arg(theme().mint.name(), theme().onAccent.name(), theme().inkSoft.name(), theme().paper.name());
    });
    layout->addWidget(list_);
    connect(list_, &QListWidget::itemPressed, this, [this](QListWidgetItem* item) { pressed_ = item->checkState(); });
    connect(list_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        if (item->data(headingRole).toBool())
            return;
        list_->setCurrentItem(item);
        marked_ = true;
        if (question_.many) {
            ticked_ = true;
            if (item->checkState() == pressed_) // beside the little box
                toggle(item);
        }
        if (question_.parts && (QApplication::keyboardModifiers() & Qt::ShiftModifier))
            takePart(item, true);
        else if (!question_.many)
            accept();
    });
}

/// The other ways to answer, and what else can be done with what is named.
void SlotPopup::buildButtons(QVBoxLayout* layout)
{
    if (question_.many) {
        auto* done = new QPushButton{tr("Done"), this};
        done->setObjectName(QStringLiteral("done"));
        connect(done, &QPushButton::clicked, this, &SlotPopup::accept);
        layout->addWidget(done, 0, Qt::AlignRight);
    }
    if (question_.takesKey) {
        auto* take = new QPushButton{tr("Press the key…"), this};
        take->setObjectName(QStringLiteral("pressKey"));
        take->setFocusPolicy(Qt::NoFocus);
        connect(take, &QPushButton::clicked, this, [this, take] {
            takingKey_ = true;
            take->setText(tr("… any key is taken now"));
            take->setEnabled(false);
            edit_->setFocus();
        });
        layout->addWidget(take, 0, Qt::AlignLeft);
    }
    if (question_.point) {
        auto* onGround = new QPushButton{
            question_.parts ? tr("Point at them on the ground") : tr("Point at it on the ground"), this};
        onGround->setObjectName(QStringLiteral("pointAtIt"));
        onGround->setFocusPolicy(Qt::NoFocus);
        connect(onGround, &QPushButton::clicked, this, [this] {
            const auto point = question_.point;
            const auto tell = std::exchange(answer_, nullptr);
            close();
            point(tell);
        });
        layout->addWidget(onGround, 0, Qt::AlignLeft);
    }
    if (question_.rename) {
        auto* rename = new QPushButton{question_.renameText, this};
        rename->setObjectName(QStringLiteral("renameIt"));
        rename->setFocusPolicy(Qt::NoFocus);
        connect(rename, &QPushButton::clicked, this, [this] { leaveFor(question_.rename); });
        layout->addWidget(rename, 0, Qt::AlignLeft);
    }
    if (question_.uses) {
        auto* uses = new QPushButton{question_.usesText, this};
        uses->setObjectName(QStringLiteral("showUses"));
        uses->setFocusPolicy(Qt::NoFocus);
        connect(uses, &QPushButton::clicked, this, [this] { leaveFor(question_.uses); });
        layout->addWidget(uses, 0, Qt::AlignLeft);
    }
}

void SlotPopup::fill()
{
    if (question_.many) // what is chosen and known to nobody stays
        for (const QString& name : std::as_const(question_.chosen))
            if (!name.isEmpty() &&
                std::ranges::find(question_.choices, name, &Choice::value) == question_.choices.end())
                question_.choices.push_back({name, {}, {}, {}});
    int widest = 0;
    for (const Choice& choice : question_.choices) {
        const QString text = choice.text.isEmpty() ? choice.value : choice.text;
        auto* item = new QListWidgetItem{
            choice.detail.isEmpty() ? text : text + QStringLiteral("   –  ") + choice.detail, list_};
        if (choice.heading) {
            item->setFlags(Qt::NoItemFlags);
            item->setFont(textFont(-1, true));
            item->setForeground(theme().inkSoft);
            item->setData(headingRole, true);
            continue;
        }
        if (choice.swatch.isValid()) {
            QPixmap patch{12, 12};
            patch.fill(choice.swatch);
            item->setIcon(patch);
        }
        item->setData(valueRole, choice.value);
        item->setData(textRole, text);
        item->setData(wordsRole, text + QLatin1Char(' ') + choice.value + QLatin1Char(' ') + choice.words);
        if (question_.many) {
            item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
            item->setCheckState(question_.chosen.contains(choice.value) ? Qt::Checked : Qt::Unchecked);
        }
        widest = std::max(widest, list_->fontMetrics().horizontalAdvance(item->text()));
    }
    if (question_.choices.empty()) {
        list_->hide();
        return;
    }
    fitHeight();
    list_->setMinimumWidth(std::min(widest + (question_.many ? 60 : 34), 460));
    for (int i = 0; i < list_->count(); ++i)
        if (list_->item(i)->data(valueRole).toString() == question_.typed ||
            question_.chosen.contains(list_->item(i)->data(valueRole).toString())) {
            list_->setCurrentRow(i);
            break;
        }
    const bool marksFirst = !question_.freeText && question_.shown.isEmpty();
    for (int i = 0; marksFirst && list_->currentRow() < 0 && i < list_->count(); ++i)
        if (!list_->item(i)->data(headingRole).toBool())
            list_->setCurrentRow(i);
}

/// As high as what fits, up to `mostRows`.
void SlotPopup::fitHeight()
{
    int rows = 0;
    for (int i = 0; i < list_->count(); ++i)
        rows += list_->item(i)->isHidden() ? 0 : 1;
    const int row = std::max(22, list_->sizeHintForRow(0));
    list_->setFixedHeight(std::clamp(rows, 1, mostRows) * row + 4);
    adjustSize();
}

void SlotPopup::toggle(QListWidgetItem* item)
{
    item->setCheckState(item->checkState() == Qt::Checked ? Qt::Unchecked : Qt::Checked);
}

/// A name that is not there yet can be ticked like the others.
QListWidgetItem* SlotPopup::offerNew(const QString& name)
{
    new_ = new QListWidgetItem{tr("%1   –  new").arg(name), list_};
    new_->setData(valueRole, name);
    new_->setData(textRole, name);
    new_->setData(wordsRole, name);
    new_->setFlags(new_->flags() | Qt::ItemIsUserCheckable);
    new_->setCheckState(Qt::Unchecked);
    list_->show();
    return new_;
}

void SlotPopup::filter(const QString& text)
{
    wrong_->hide();
    ticked_ = false;
    if (new_ && new_->checkState() != Qt::Checked)
        delete new_;
    new_ = nullptr;
    const QString sought = question_.parts ? text.section(QLatin1Char(','), -1).trimmed() : text.trimmed();
    QListWidgetItem* first = nullptr;
    int best = 0;
    bool isExact = false;
    for (int i = 0; i < list_->count(); ++i) {
        QListWidgetItem* item = list_->item(i);
        if (item->data(headingRole).toBool()) {
            item->setHidden(!text.trimmed().isEmpty());
            continue;
        }
        const bool fits = item->data(wordsRole).toString().contains(sought, Qt::CaseInsensitive);
        item->setHidden(!fits);
        // What is called so comes before what begins so, and that before what only has the word
        // somewhere.
        const QString shown = item->data(textRole).toString();
        const int rank = !fits                                             ? 0
                         : shown.compare(sought, Qt::CaseInsensitive) == 0 ? 3
                         : shown.startsWith(sought, Qt::CaseInsensitive)   ? 2
                                                                           : 1;
        if (rank > best) {
            first = item;
            best = rank;
        }
        isExact = isExact || sought == item->data(valueRole).toString() || sought == item->data(textRole).toString();
    }
    if (question_.takesNew && !isExact && scene::isId(sought.toStdString())) {
        QListWidgetItem* added = offerNew(sought);
        first = first ? first : added;
    }
    if (!first && !question_.freeText && !question_.parts && !sought.isEmpty())
        first = offerNearest(sought);
    // A part that is no name as it stands, nor could be one, is completed.
    static const QRegularExpression path{QStringLiteral("[.:/]")};
    const bool isWhole = isExact || sought.contains(path) || scene::isReserved(sought.toStdString());
    const bool completes = question_.parts && !sought.isEmpty() && !isWhole;
    list_->setCurrentItem(question_.freeText && !completes ? nullptr : first);
    fitHeight();
}

/// Nothing fits: says so, and shows what is spelt most like it. Returns that, or nullptr.
QListWidgetItem* SlotPopup::offerNearest(const QString& sought)
{
    std::vector<std::string> known;
    std::vector<QListWidgetItem*> whose;
    for (int i = 0; i < list_->count(); ++i) {
        QListWidgetItem* item = list_->item(i);
        if (item->data(headingRole).toBool())
            continue;
        for (const QString& word :
             item->data(wordsRole).toString().toLower().split(QLatin1Char(' '), Qt::SkipEmptyParts)) {
            known.push_back(word.toStdString());
            whose.push_back(item);
        }
    }
    const std::vector<std::string_view> words{known.begin(), known.end()};
    const std::string_view nearest = scene::nearestWord(sought.toLower().toStdString(), words);
    QListWidgetItem* first = nullptr;
    for (std::size_t i = 0; i < known.size() && !nearest.empty(); ++i)
        if (known[i] == nearest) {
            whose[i]->setHidden(false);
            first = first ? first : whose[i];
        }
    wrong_->setText(first ? tr("Nothing is called “%1”. The nearest:").arg(sought)
                          : tr("Nothing is called “%1”.").arg(sought));
    wrong_->show();
    return first;
}

/// What is typed; if that is how a choice is shown, and none is called so itself, what it stands
/// for.
QString SlotPopup::valueOf(const QString& typed) const
{
    QString value = typed;
    for (int i = 0; i < list_->count(); ++i) {
        if (list_->item(i)->data(headingRole).toBool())
            continue;
        if (list_->item(i)->data(valueRole).toString() == typed)
            return typed;
        if (value == typed && list_->item(i)->data(textRole).toString() == typed)
            value = list_->item(i)->data(valueRole).toString();
    }
    return value;
}

/// What is typed, part by part; what is shown of a choice stands for its value.
QStringList SlotPopup::partsNow() const
{
    QStringList parts;
    for (const QString& typed : edit_->text().split(QLatin1Char(','), Qt::SkipEmptyParts)) {
        const QString part = valueOf(typed.trimmed());
        if (!part.isEmpty() && !parts.contains(part))
            parts << part;
    }
    return parts;
}

/// Puts a choice in the place of the last part; `another`: one more is to follow.
void SlotPopup::takePart(const QListWidgetItem* item, bool another)
{
    QStringList parts = edit_->text().split(QLatin1Char(','));
    parts.removeLast();
    for (QString& part : parts)
        part = part.trimmed();
    parts << item->data(valueRole).toString();
    edit_->setText(parts.join(QStringLiteral(", ")) + (another ? QStringLiteral(", ") : QString()));
    marked_ = false;
    filter(edit_->text());
    edit_->setFocus();
}

/// Closes without an answer and does something else.
void SlotPopup::leaveFor(const std::function<void()>& other)
{
    const auto then = other;
    answer_ = nullptr;
    close();
    then();
}

QStringList SlotPopup::answerNow() const
{
    if (question_.parts) {
        const QListWidgetItem* item = list_->currentItem();
        QStringList parts = partsNow();
        if (!item || item->isHidden() || item->data(headingRole).toBool())
            return parts;
        const QString typed = edit_->text();
        const bool replaces = !typed.trimmed().isEmpty() && !typed.trimmed().endsWith(QLatin1Char(','));
        if (replaces && !parts.isEmpty())
            parts.removeLast();
        if (const QString value = item->data(valueRole).toString(); !parts.contains(value))
            parts << value;
        return parts;
    }
    if (question_.many) {
        QStringList all;
        for (int i = 0; i < list_->count(); ++i)
            if (list_->item(i)->checkState() == Qt::Checked)
                all << list_->item(i)->data(valueRole).toString();
        return all;
    }
    const QListWidgetItem* item = list_->currentItem();
    if (item && !item->isHidden())
        return {item->data(valueRole).toString()};
    return question_.freeText ? QStringList{valueOf(edit_->text().trimmed())} : QStringList{};
}

void SlotPopup::accept()
{
    // What was typed to find one of several, and then confirmed, is meant.
    if (question_.many && !ticked_ && !edit_->text().trimmed().isEmpty()) {
        if (QListWidgetItem* found = list_->currentItem(); found && !found->isHidden())
            found->setCheckState(Qt::Checked);
        else if (before_ == answerNow()) // what was typed fits nothing
            return;
    }
    const QStringList answer = answerNow();
    const bool isSame = !marked_ && !question_.shown.isEmpty() && edit_->text() == question_.shown;
    const bool isNothing = answer.isEmpty() && !question_.many && !question_.parts;
    if (before_ == answer || isSame || (isNothing && edit_->text().isEmpty())) {
        close();
        return;
    }
    if (isNothing) // what was typed fits nothing
        return;
    if (const QString wrong = question_.check ? question_.check(answer) : QString(); !wrong.isEmpty()) {
        wrong_->setText(wrong);
        wrong_->show();
        adjustSize();
        if (const auto at = question_.wrongAt ? question_.wrongAt(edit_->text()) : std::nullopt)
            edit_->setSelection(*at, static_cast<int>(edit_->text().size()) - *at);
        return;
    }
    finish(answer);
}

void SlotPopup::finish(const QStringList& answer)
{
    const auto tell = std::exchange(answer_, nullptr);
    close();
    if (tell)
        tell(answer);
}

bool SlotPopup::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == edit_ && takingKey_ && event->type() == QEvent::ShortcutOverride) {
        event->accept();
        return true;
    }
    if (watched != edit_ || event->type() != QEvent::KeyPress)
        return QFrame::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    if (takingKey_) {
        if (const QString name = keyName(*key); !name.isEmpty())
            finish({name});
        return true;
    }
    const auto step = [&](int by) {
        int row = list_->currentRow();
        do
            row += by;
        while (row >= 0 && row < list_->count() &&
               (list_->item(row)->isHidden() || list_->item(row)->data(headingRole).toBool()));
        if (row >= 0 && row < list_->count())
            list_->setCurrentRow(row);
        marked_ = true;
    };
    switch (key->key()) {
    case Qt::Key_Down:
        step(1);
        return true;
    case Qt::Key_Up:
        step(-1);
        return true;
    case Qt::Key_Space:
        if (question_.many && list_->currentItem()) {
            toggle(list_->currentItem());
            ticked_ = true;
            return true;
        }
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        accept();
        return true;
    case Qt::Key_F2:
        if (key->modifiers() & Qt::ShiftModifier ? question_.uses != nullptr : question_.rename != nullptr)
            leaveFor(key->modifiers() & Qt::ShiftModifier ? question_.uses : question_.rename);
        return true;
    case Qt::Key_Escape:
        close();
        return true;
    default:
        break;
    }
    return QFrame::eventFilter(watched, event);
}

} // namespace snare::app
