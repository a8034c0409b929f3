// SPDX-License-Identifier: Apache-2.0
#include "app/panels/contacts_panel.h"

#include "app/slots/naming.h"
#include "app/slots/slot_fill.h"
#include "app/ui/accessible.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QDropEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

namespace snare::app {

using scene::Contact;

void setContact(scene::Scene& scene, const std::string& first, const std::string& second, Contact contact)
{
    std::erase_if(scene.contacts, [&](const scene::ContactRule& rule) {
        return (rule.first == first && rule.second == second) || (rule.first == second && rule.second == first);
    });
    if (contact != Contact::stop)
        scene.contacts.push_back({first, second, contact});
}

void mergeGroups(scene::Scene& scene, const std::string& from, const std::string& into)
{
    // What the table said of the group that goes, goes with it.
    std::erase_if(scene.contacts,
                  [&](const scene::ContactRule& rule) { return rule.first == from || rule.second == from; });
    std::erase(scene.groups, from);
    scene::rename(scene, scene::Thing::group, from, into);
}

namespace {

QString wordFor(Contact contact)
{
    switch (contact) {
    case Contact::pass:
        return QObject::tr("passes");
    case Contact::sense:
        return QObject::tr("senses");
    case Contact::stop:
        break;
    }
    return QObject::tr("stops");
}

/// A sign for each, told apart by shape: nothing, a ring, a filled square.
void paintSign(QPainter& painter, const QRectF& box, Contact contact)
{
    const Theme& t = theme();
    const QPointF middle = box.center();
    const double r = std::min(box.width(), box.height()) * 0.27;
    switch (contact) {
    case Contact::pass:
        painter.setPen(QPen{t.hairline, 1.4});
        painter.drawLine(middle - QPointF{r * 0.7, 0}, middle + QPointF{r * 0.7, 0});
        break;
    case Contact::sense:
        painter.setPen(QPen{t.mint, 2});
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(middle, r, r);
        break;
    case Contact::stop:
        painter.setPen(Qt::NoPen);
        painter.setBrush(t.slate);
        painter.drawRect(QRectF{middle.x() - r * 0.85, middle.y() - r * 0.85, r * 1.7, r * 1.7});
        break;
    }
}

} // namespace

// --- tray ----------------------------------------------------------------------------------------------------------

ContactTray::ContactTray(Contact contact, QWidget* parent) : QListWidget(parent), contact_(contact)
{
    setObjectName(QStringLiteral("tray ") + toText(scene::wordOf(contact)));
    setAccessibleName(wordFor(contact));
    setDragDropMode(QAbstractItemView::DragDrop);
    setDefaultDropAction(Qt::MoveAction);
    setSelectionMode(QAbstractItemView::SingleSelection);
    setFixedHeight(150);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    dress(this, [] {
        return QStringLiteral(
                   "QListWidget { background: %1; border: 1px solid %2; border-radius: 6px; }"
                   "QListWidget::item { padding: 4px 8px; } QListWidget::item:selected { background: %3; color: %4; }")
            .arg(theme().paper.name(), theme().hairline.name(), theme().mint.name(), theme().onAccent.name());
    });
}

void ContactTray::dropEvent(QDropEvent* event)
{
    const auto* from = qobject_cast<ContactTray*>(event->source());
    if (!from || from == this || from->selectedItems().isEmpty())
        return;
    const QString group = from->selectedItems().front()->data(Qt::UserRole).toString();
    event->setDropAction(Qt::CopyAction); // the trays are filled anew from the scene
    event->accept();
    emit moved(group, contact_);
}

bool ContactTray::event(QEvent* event)
{
    if (event->type() == QEvent::ShortcutOverride) { // here P, S and T are trays, not tools
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_P || key == Qt::Key_S || key == Qt::Key_T) {
            event->accept();
            return true;
        }
    }
    return QListWidget::event(event);
}

void ContactTray::keyPressEvent(QKeyEvent* event)
{
    const auto to = [&]() -> std::optional<Contact> {
        switch (event->key()) {
        case Qt::Key_P:
            return Contact::pass;
        case Qt::Key_S:
            return Contact::sense;
        case Qt::Key_T:
            return Contact::stop;
        default:
            return std::nullopt;
        }
    }();
    if (to && currentItem()) {
        if (*to != contact_)
            emit moved(currentItem()->data(Qt::UserRole).toString(), *to);
        return;
    }
    QListWidget::keyPressEvent(event);
}

// --- square --------------------------------------------------------------------------------------------------------

ContactSquare::ContactSquare(Document& document, QWidget* parent) : QWidget(parent), document_(document)
{
    setAccessibleName(tr("All groups against all"));
}

std::vector<std::string> ContactSquare::groups() const
{
    std::vector<std::string> all = scene::allGroups(document_.scene());
    std::erase(all, "pointer"); // the table does not apply to it
    return all;
}

double ContactSquare::cell() const
{
    const auto count = static_cast<double>(std::max<std::size_t>(1, groups().size()));
    return std::clamp((width() - 110.0) / count, 16.0, 30.0);
}

QSize ContactSquare::sizeHint() const
{
    return {300, static_cast<int>(static_cast<double>(groups().size()) * cell() + 80)};
}

void ContactSquare::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    const std::vector<std::string> all = groups();
    const double size = cell();
    const QPointF origin{100, 66};
    painter.setFont(textFont(-1));
    for (std::size_t i = 0; i < all.size(); ++i) {
        const double at = static_cast<double>(i) * size;
        painter.setPen(t.ink);
        painter.drawText(QRectF{0, origin.y() + at, 92, size}, Qt::AlignRight | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(toText(all[i]), Qt::ElideRight, 90));
        painter.save();
        painter.translate(origin.x() + at + size / 2 + 4, origin.y() - 6);
        painter.rotate(-50);
        painter.drawText(QPointF{0, 0}, painter.fontMetrics().elidedText(toText(all[i]), Qt::ElideRight, 70));
        painter.restore();
        for (std::size_t j = 0; j < all.size(); ++j) {
            const QRectF box{origin.x() + static_cast<double>(j) * size, origin.y() + at, size, size};
            const bool chosen = chosen_ == std::pair{static_cast<int>(i), static_cast<int>(j)};
            painter.setPen(QPen{chosen ? t.ink : t.hairline, chosen ? 1.8 : 0.8});
            painter.setBrush(chosen ? t.panelDeep : t.paper);
            painter.drawRect(box);
            paintSign(painter, box, scene::contactBetween(document_.scene(), all[i], all[j]));
        }
    }
}

void ContactSquare::mousePressEvent(QMouseEvent* event)
{
    const std::vector<std::string> all = groups();
    const int row = static_cast<int>(std::floor((event->position().y() - 66) / cell()));
    const int column = static_cast<int>(std::floor((event->position().x() - 100) / cell()));
    if (row < 0 || column < 0 || row >= static_cast<int>(all.size()) || column >= static_cast<int>(all.size()))
        return;
    chosen_ = {row, column};
    update();
    emit cellChosen(toText(all[static_cast<std::size_t>(row)]), toText(all[static_cast<std::size_t>(column)]));
}

// --- panel ---------------------------------------------------------------------------------------------------------

ContactsPanel::ContactsPanel(Document& document, QWidget* parent) : QWidget(parent), document_(document)
{
    setObjectName(QStringLiteral("contacts"));
    auto* outer = new QVBoxLayout{this};
    outer->setContentsMargins(0, 0, 0, 0);
    auto* scroll = new QScrollArea{this};
    giveRole(scroll, QAccessible::Pane, tr("Contacts"));
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    outer->addWidget(scroll);
    auto* page = new QWidget;
    scroll->setWidget(page);
    auto* layout = new QVBoxLayout{page};
    layout->setContentsMargins(14, 12, 14, 12);
    layout->setSpacing(8);

    auto* head = new QHBoxLayout;
    head->setSpacing(4);
    const auto slot = [&](const QString& name, const QString& text, SlotButton::Kind kind, auto&& press) {
        auto* button = new SlotButton{text, kind, page};
        button->setObjectName(name);
        button->setAccessibleName(text);
        connect(button, &SlotButton::clicked, this, press);
        head->addWidget(button);
        return button;
    };
    auto* word = new QLabel{tr("Group"), page};
    head->addWidget(word);
    front_ = slot(QStringLiteral("group in front"), toText(group_), SlotButton::Kind::filled, [this] {
        Question question;
        question.title = tr("The group in front");
        question.choices = groupChoices(document_.scene());
        SlotPopup::ask(front_, question, [this](const QStringList& answer) { choose(answer.front().toStdString()); });
    });
    head->addStretch();
    slot(QStringLiteral("add group"), tr("+ group"), SlotButton::Kind::offer, [this] { addGroup(); });
    slot(QStringLiteral("rename group"), tr("rename"), SlotButton::Kind::offer, [this] {
        if (group_ != "default")
            askForName(front_, document_, scene::Thing::group, group_,
                       [this](const std::string& name) { choose(name); });
    });
    slot(QStringLiteral("merge group"), tr("merge"), SlotButton::Kind::offer, [this] { mergeInto(); });
    slot(QStringLiteral("delete group"), tr("delete"), SlotButton::Kind::offer, [this] { removeGroup(); });
    layout->addLayout(head);
    about_ = new QLabel{page};
    about_->setWordWrap(true);
    colourText(about_, &Theme::inkSoft);
    layout->addWidget(about_);

    auto* row = new QHBoxLayout;
    for (const Contact contact : {Contact::pass, Contact::sense, Contact::stop}) {
        auto* column = new QVBoxLayout;
        auto* title = new QLabel{wordFor(contact), page};
        title->setFont(textFont(0, true));
        column->addWidget(title);
        auto* tray = new ContactTray{contact, page};
        connect(
            tray, &ContactTray::moved, this,
            [this](const QString& group, Contact to) { setContact(group.toStdString(), to); }, Qt::QueuedConnection);
        column->addWidget(tray);
        row->addLayout(column);
        trays_.push_back(tray);
    }
    layout->addLayout(row);
    square_ = new ContactSquare{document_, page};
    connect(square_, &ContactSquare::cellChosen, this, [this](const QString& first, const QString& second) {
        explain(first.toStdString(), second.toStdString());
    });
    layout->addWidget(square_);
    cell_ = new QLabel{tr("– passes   ○ senses   ■ stops.  Click a cell to see whom it concerns."), page};
    cell_->setObjectName(QStringLiteral("contact cell"));
    cell_->setWordWrap(true);
    layout->addWidget(cell_);
    layout->addStretch(1);
    connect(&document_, &Document::changed, this, [this] {
        if (isVisible())
            refresh();
    });
    connect(&document_, &Document::replaced, this, [this] { group_.clear(); });
}

void ContactsPanel::choose(const std::string& group)
{
    group_ = group;
    refresh();
}

void ContactsPanel::refresh()
{
    const scene::Scene& scene = document_.scene();
    std::vector<std::string> all = scene::allGroups(scene);
    std::erase(all, "pointer");
    if (std::ranges::find(all, group_) == all.end()) // at first the first group of its own
        group_ = all.size() > 1 ? all[1] : all[0];
    front_->setText(toText(group_));
    front_->updateGeometry();
    const auto pieces = static_cast<std::size_t>(std::ranges::count(scene.pieces, group_, &scene::Piece::group));
    about_->setText(tr("%1. Drag groups between the trays: P, S, T.").arg(countedPieces(pieces)));
    for (ContactTray* tray : trays_) {
        const QString kept = tray->currentItem() ? tray->currentItem()->data(Qt::UserRole).toString() : QString();
        tray->clear();
        for (const std::string& other : all) {
            if (scene::contactBetween(scene, group_, other) != tray->contact())
                continue;
            auto* item =
                new QListWidgetItem{other == group_ ? tr("%1 (itself)").arg(toText(other)) : toText(other), tray};
            item->setData(Qt::UserRole, toText(other));
            if (toText(other) == kept)
                tray->setCurrentItem(item);
        }
    }
    square_->updateGeometry();
    square_->update();
}

void ContactsPanel::setContact(const std::string& other, Contact contact)
{
    document_.edit(tr("%1 %2 %3").arg(toText(group_), wordFor(contact), toText(other)),
                   [&](scene::Scene& scene) { app::setContact(scene, group_, other, contact); });
    // The group that moved keeps the keyboard, so that several keys in a row go on with it.
    for (ContactTray* tray : trays_)
        for (int i = 0; tray->contact() == contact && i < tray->count(); ++i)
            if (tray->item(i)->data(Qt::UserRole).toString() == toText(other)) {
                tray->setCurrentRow(i);
                tray->setFocus();
            }
}

void ContactsPanel::addGroup()
{
    Question question;
    question.title = tr("Name of the new group");
    question.freeText = true;
    question.check = [this](const QStringList& answer) {
        const std::string name = answer.front().toStdString();
        if (!scene::isId(name))
            return tr("Letters, digits, - and _ only");
        const auto all = scene::allGroups(document_.scene());
        return std::ranges::find(all, name) == all.end() ? QString() : tr("%1 is there already").arg(answer.front());
    };
    SlotPopup::ask(front_, question, [this](const QStringList& answer) {
        document_.edit(tr("Add group %1").arg(answer.front()),
                       [&](scene::Scene& scene) { scene.groups.push_back(answer.front().toStdString()); });
        choose(answer.front().toStdString());
    });
}

void ContactsPanel::mergeInto()
{
    if (group_ == "default")
        return;
    const auto count =
        static_cast<std::size_t>(std::ranges::count(document_.scene().pieces, group_, &scene::Piece::group));
    Question question;
    question.title = tr("%1: %2 go into").arg(toText(group_), countedPieces(count));
    for (Choice& choice : groupChoices(document_.scene()))
        if (choice.value != toText(group_) && choice.value != QLatin1String("pointer"))
            question.choices.push_back(std::move(choice));
    SlotPopup::ask(front_, question, [this](const QStringList& answer) {
        document_.edit(tr("Merge %1 into %2").arg(toText(group_), answer.front()),
                       [&](scene::Scene& scene) { mergeGroups(scene, group_, answer.front().toStdString()); });
        choose(answer.front().toStdString());
    });
}

void ContactsPanel::removeGroup()
{
    if (group_ == "default")
        return;
    const auto count =
        static_cast<std::size_t>(std::ranges::count(document_.scene().pieces, group_, &scene::Piece::group));
    Question question;
    question.title = tr("Delete %1?").arg(toText(group_));
    question.choices = {
        {QStringLiteral("yes"), tr("Delete it"), tr("%1 go into default").arg(countedPieces(count)), {}},
        {QStringLiteral("no"), tr("Keep it"), {}, {}}};
    SlotPopup::ask(front_, question, [this](const QStringList& answer) {
        if (answer.front() != QLatin1String("yes"))
            return;
        document_.edit(tr("Delete group %1").arg(toText(group_)),
                       [&](scene::Scene& scene) { mergeGroups(scene, group_, "default"); });
        choose("default");
    });
}

/// Whom a cell concerns: the pieces of both groups, and the snares that catch at the one and ask
/// for the other.
void ContactsPanel::explain(const std::string& first, const std::string& second)
{
    const scene::Scene& scene = document_.scene();
    const auto piecesOf = [&](const std::string& group) {
        QStringList names;
        for (const scene::Piece& piece : scene.pieces)
            if (piece.group == group)
                names << toText(piece.id);
        return names.isEmpty() ? tr("none") : names.join(QStringLiteral(", "));
    };
    QStringList snares;
    for (const scene::Snare& snare : scene.snares) {
        const scene::Piece* at = scene::findPiece(scene, snare.catches.at);
        const auto asks = [&](const std::string& group) {
            return snare.filter.groups.empty() ||
                   std::ranges::find(snare.filter.groups, group) != snare.filter.groups.end();
        };
        const bool contact = scene::familyOf(snare.catches.event.items.front()) == scene::EventFamily::contact;
        if (contact && at && ((at->group == first && asks(second)) || (at->group == second && asks(first))))
            snares << toText(snare.id);
    }
    cell_->setText(tr("<b>%1 %2 %3.</b><br>%1: %4<br>%3: %5<br>Snares: %6")
                       .arg(toText(first), wordFor(scene::contactBetween(scene, first, second)), toText(second),
                            piecesOf(first), piecesOf(second),
                            snares.isEmpty() ? tr("none") : snares.join(QStringLiteral(", "))));
}

} // namespace snare::app
