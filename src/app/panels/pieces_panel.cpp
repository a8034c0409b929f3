// SPDX-License-Identifier: Apache-2.0
#include "app/panels/pieces_panel.h"

#include "app/slots/naming.h"
#include "app/slots/slot_fill.h"
#include "app/ui/menus.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include <set>

namespace snare::app {

namespace {

enum ItemRole { idRole = Qt::UserRole, groupRole, tagsRole, bodyRole, roleRole, wordsRole };

/// A piece in one line: a sign for body and role, its name, group and tags.
class PieceLine : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {200, 30}; }

    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const Theme& t = theme();
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        const QRectF row = option.rect;
        if (option.state & QStyle::State_Selected)
            painter->fillRect(row, QColor(t.mint.red(), t.mint.green(), t.mint.blue(), 46));
        paintSign(*painter, QRectF{row.left() + 12, row.top() + 8, 18, 14}, index.data(roleRole).toString(),
                  index.data(bodyRole).toString());
        painter->setPen(t.ink);
        painter->setFont(textFont(0, true));
        const QString name = index.data(idRole).toString();
        painter->drawText(QRectF{row.left() + 40, row.top(), row.width(), row.height()}, Qt::AlignVCenter, name);
        const double used = painter->fontMetrics().horizontalAdvance(name) + 52;
        painter->setFont(textFont(-0.5));
        painter->setPen(t.inkSoft);
        QString more = index.data(groupRole).toString() + QStringLiteral(" · ") + index.data(bodyRole).toString();
        if (const QString tags = index.data(tagsRole).toString(); !tags.isEmpty())
            more += QStringLiteral(" · #") + tags;
        const QRectF rest{row.left() + used, row.top(), row.width() - used - 8, row.height()};
        painter->drawText(rest, Qt::AlignVCenter,
                          painter->fontMetrics().elidedText(more, Qt::ElideRight, static_cast<int>(rest.width())));
        painter->setPen(QPen{t.hairline, 0.6});
        painter->drawLine(row.bottomLeft(), row.bottomRight());
        painter->restore();
    }

  private:
    static void paintSign(QPainter& painter, const QRectF& box, const QString& role, const QString& body)
    {
        const Theme& t = theme();
        const bool zone = role == QLatin1String("zone");
        painter.setPen(QPen{zone ? t.mint : t.slate, 1.5, zone ? Qt::DashLine : Qt::SolidLine});
        painter.setBrush(zone ? QColor(t.mint.red(), t.mint.green(), t.mint.blue(), 40) : t.solid);
        if (body == QLatin1String("walker"))
            painter.drawEllipse(box.center(), 7, 7);
        else
            painter.drawRect(box);
        if (body == QLatin1String("static"))
            return;
        painter.setPen(QPen{t.ink, 1.4});
        painter.drawLine(box.center() - QPointF{3, 0}, box.center() + QPointF{4, 0});
        painter.drawLine(box.center() + QPointF{4, 0}, box.center() + QPointF{1, -3});
        painter.drawLine(box.center() + QPointF{4, 0}, box.center() + QPointF{1, 3});
    }
};

} // namespace

PiecesPanel::PiecesPanel(Document& document, Selection& selection, QWidget* parent)
    : QWidget(parent), document_(document), selection_(selection)
{
    setObjectName(QStringLiteral("pieces"));
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(0, 10, 0, 0);
    search_ = new QLineEdit{this};
    search_->setPlaceholderText(tr("Find by name, group, tag, template or body"));
    search_->setAccessibleName(tr("Find pieces"));
    search_->setClearButtonEnabled(true);
    search_->installEventFilter(this);
    auto* top = new QVBoxLayout;
    top->setContentsMargins(12, 0, 12, 0);
    top->addWidget(search_);
    count_ = new QLabel{this};
    colourText(count_, &Theme::inkSoft);
    top->addWidget(count_);
    layout->addLayout(top);
    list_ = new QListWidget{this};
    list_->setAccessibleName(tr("Pieces"));
    list_->setFrameShape(QFrame::NoFrame);
    list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    list_->setItemDelegate(new PieceLine{list_});
    list_->setUniformItemSizes(true);
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    list_->installEventFilter(this);
    layout->addWidget(list_, 1);
    connect(search_, &QLineEdit::textChanged, this, &PiecesPanel::filter);
    connect(list_, &QListWidget::itemSelectionChanged, this, &PiecesPanel::listToSelection);
    connect(list_, &QListWidget::itemDoubleClicked, this, &PiecesPanel::showWanted);
    connect(list_, &QListWidget::customContextMenuRequested, this, &PiecesPanel::showMenu);
    connect(&selection_, &Selection::changed, this, &PiecesPanel::selectionToList);
    connect(&document_, &Document::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

void PiecesPanel::refresh()
{
    busy_ = true;
    const scene::Scene& scene = document_.scene();
    while (list_->count() > static_cast<int>(scene.pieces.size()))
        delete list_->takeItem(list_->count() - 1);
    while (list_->count() < static_cast<int>(scene.pieces.size()))
        list_->addItem(new QListWidgetItem);
    for (int i = 0; i < list_->count(); ++i) {
        const scene::Piece& piece = scene.pieces[static_cast<std::size_t>(i)];
        QListWidgetItem* item = list_->item(i);
        const QString tags = joined(piece.tags, QStringLiteral("#"));
        const bool zone = !piece.shapes.empty() && piece.shapes.front().role == scene::Role::zone;
        const QString body = toText(scene::kindOf(piece.body));
        item->setData(idRole, toText(piece.id));
        item->setData(groupRole, toText(piece.group));
        item->setData(tagsRole, tags);
        item->setData(bodyRole, body);
        item->setData(roleRole, zone ? QStringLiteral("zone") : QStringLiteral("solid"));
        item->setData(wordsRole, QStringList{toText(piece.id), toText(piece.group), tags, body,
                                             toText(piece.templateName), zone ? tr("zone") : tr("solid")}
                                     .join(QLatin1Char(' ')));
        item->setData(Qt::AccessibleTextRole, tr("%1, %2, group %3").arg(toText(piece.id), body, toText(piece.group)));
    }
    busy_ = false;
    filter();
    selectionToList();
}

void PiecesPanel::filter()
{
    const QStringList wanted = search_->text().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    int shown = 0;
    for (int i = 0; i < list_->count(); ++i) {
        const QString words = list_->item(i)->data(wordsRole).toString();
        const bool fits =
            std::ranges::all_of(wanted, [&](const QString& word) { return words.contains(word, Qt::CaseInsensitive); });
        list_->item(i)->setHidden(!fits);
        shown += fits ? 1 : 0;
    }
    count_->setText(wanted.isEmpty()
                        ? countedPieces(static_cast<std::size_t>(list_->count()))
                        : tr("%1 of %2").arg(shown).arg(countedPieces(static_cast<std::size_t>(list_->count()))));
}

void PiecesPanel::selectionToList()
{
    if (busy_ || !isVisible())
        return;
    busy_ = true;
    QListWidgetItem* first = nullptr;
    for (int i = 0; i < list_->count(); ++i) {
        QListWidgetItem* item = list_->item(i);
        const bool chosen = selection_.has(item->data(idRole).toString().toStdString());
        item->setSelected(chosen);
        if (chosen && !first)
            first = item;
    }
    if (first)
        list_->scrollToItem(first);
    busy_ = false;
}

void PiecesPanel::listToSelection()
{
    if (busy_)
        return;
    busy_ = true;
    std::vector<std::string> chosen;
    for (const QListWidgetItem* item : list_->selectedItems())
        chosen.push_back(item->data(idRole).toString().toStdString());
    selection_.choosePieces(std::move(chosen));
    busy_ = false;
}

bool PiecesPanel::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() != QEvent::KeyPress && event->type() != QEvent::ShortcutOverride)
        return QWidget::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    if (watched == list_ && (key->key() == Qt::Key_F2 || key->key() == Qt::Key_Return)) {
        if (event->type() == QEvent::KeyPress && list_->currentItem()) {
            if (key->key() == Qt::Key_F2)
                rename(list_->currentItem());
            else
                emit showWanted();
        }
        event->accept();
        return true;
    }
    if (watched == search_ && key->key() == Qt::Key_Down && event->type() == QEvent::KeyPress) {
        list_->setFocus();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

void PiecesPanel::rename(QListWidgetItem* item)
{
    askForName(list_, document_, scene::Thing::piece, item->data(idRole).toString().toStdString(),
               [this](const std::string& name) { selection_.choosePiece(name); });
}

void PiecesPanel::regroupChosen()
{
    Question question;
    question.title = tr("Group of %1").arg(countedPieces(selection_.pieces().size()));
    question.freeText = true;
    question.choices = groupChoices(document_.scene());
    question.check = [](const QStringList& answer) {
        return scene::isId(answer.front().toStdString()) ? QString() : tr("Letters, digits, - and _ only");
    };
    SlotPopup::ask(search_, question, [this, chosen = selection_.pieces()](const QStringList& answer) {
        document_.edit(tr("Regroup %1").arg(countedPieces(chosen.size())), [&](scene::Scene& scene) {
            for (const std::string& id : chosen)
                if (scene::Piece* piece = scene::findPiece(scene, id))
                    piece->group = answer.front().toStdString();
        });
    });
}

void PiecesPanel::tagChosen()
{
    Question question;
    question.title = tr("Tag for %1").arg(countedPieces(selection_.pieces().size()));
    question.freeText = true;
    question.choices = tagChoices(document_.scene());
    question.check = [](const QStringList& answer) {
        return answer.front().isEmpty() ? tr("A word, please") : QString();
    };
    SlotPopup::ask(search_, question, [this, chosen = selection_.pieces()](const QStringList& answer) {
        document_.edit(tr("Tag %1").arg(countedPieces(chosen.size())), [&](scene::Scene& scene) {
            const std::string tag = answer.front().toStdString();
            for (const std::string& id : chosen)
                if (scene::Piece* piece = scene::findPiece(scene, id);
                    piece && std::ranges::find(piece->tags, tag) == piece->tags.end())
                    piece->tags.push_back(tag);
        });
    });
}

void PiecesPanel::showMenu(const QPoint& at)
{
    QListWidgetItem* item = list_->itemAt(at);
    if (!item)
        return;
    QMenu& menu = *makeMenu(this);
    menu.addAction(tr("Show on the ground"), this, &PiecesPanel::showWanted);
    menu.addAction(tr("Rename…\tF2"), this, [this] { rename(list_->currentItem()); })
        ->setEnabled(selection_.pieces().size() == 1);
    menu.addSeparator();
    menu.addAction(tr("Put into a group…"), this, &PiecesPanel::regroupChosen);
    menu.addAction(tr("Tag…"), this, &PiecesPanel::tagChosen);
    menu.popup(list_->viewport()->mapToGlobal(at));
}

} // namespace snare::app
