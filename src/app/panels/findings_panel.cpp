// SPDX-License-Identifier: Apache-2.0
#include "app/panels/findings_panel.h"

#include "app/ui/menus.h"
#include "app/ui/slot_popup.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <QStyledItemDelegate>
#include <QToolButton>
#include <QVBoxLayout>
#include <QtConcurrentRun>

namespace snare::app {

namespace {

enum ItemRole { textRole = Qt::UserRole, whyRole, fixRole, errorRole, acceptedRole, takeRole };

/// A finding: its sign, what is wrong, why it matters, and its fix as a pill.
class FindingLine : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const Boxes boxes = boxesOf(index, 0, widthIn(option));
        return {100, static_cast<int>(boxes.bottom)};
    }

    /// Where the pill of the fix stands in a row.
    static QRectF pillIn(const QModelIndex& index, const QRect& row)
    {
        return boxesOf(index, row.top(), row.width()).fix;
    }

    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const Theme& t = theme();
        const QRectF row = option.rect;
        const Boxes boxes = boxesOf(index, row.top(), row.width());
        const bool isError = index.data(errorRole).toBool();
        const bool isAccepted = !index.data(acceptedRole).toString().isEmpty();
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        if (option.state & QStyle::State_Selected)
            painter->fillRect(row, QColor(t.mint.red(), t.mint.green(), t.mint.blue(), 46));
        // A filled sign for what stops, a hollow one for a warning, a tick for what may stay.
        const QPointF sign{row.left() + 20, boxes.text.top() + 9};
        const QColor colour = isAccepted ? t.inkSoft : isError ? t.coral : t.ochre;
        painter->setPen(QPen{colour, 1.5});
        painter->setBrush(isError && !isAccepted ? QBrush{colour} : QBrush{Qt::NoBrush});
        if (index.data(takeRole).toInt() >= 0) {
            painter->setPen(QPen{t.slate, 1.5}); // the hollow diamond of the lanes: it slipped
            painter->drawPolygon(
                QPolygonF{{sign + QPointF{0, -6}, sign + QPointF{5, 0}, sign + QPointF{0, 6}, sign + QPointF{-5, 0}}});
        } else if (isAccepted)
            painter->drawPolyline(QPolygonF{{sign + QPointF{-5, 0}, sign + QPointF{-1, 4}, sign + QPointF{6, -5}}});
        else
            painter->drawPolygon(QPolygonF{{sign + QPointF{0, -6}, sign + QPointF{6.5, 5}, sign + QPointF{-6.5, 5}}});
        painter->setFont(textFont());
        painter->setPen(isAccepted ? t.inkSoft : t.ink);
        painter->drawText(boxes.text, Qt::TextWordWrap, index.data(textRole).toString());
        painter->setFont(textFont(-0.5));
        painter->setPen(t.inkSoft);
        painter->drawText(boxes.why, Qt::TextWordWrap, index.data(whyRole).toString());
        if (!boxes.fix.isEmpty()) {
            painter->setPen(QPen{t.mint, 1.3});
            painter->setBrush(t.paper);
            painter->drawRoundedRect(boxes.fix, 4, 4);
            painter->setPen(t.ink);
            painter->drawText(boxes.fix, Qt::AlignCenter, index.data(fixRole).toString());
        }
        painter->setPen(QPen{t.hairline, 0.6});
        painter->drawLine(row.bottomLeft(), row.bottomRight());
        painter->restore();
    }

  private:
    struct Boxes {
        QRectF text;
        QRectF why;
        QRectF fix;
        double bottom = 0;
    };

    static int widthIn(const QStyleOptionViewItem& option)
    {
        const auto* view = qobject_cast<const QAbstractItemView*>(option.widget);
        return view ? view->viewport()->width() : option.rect.width();
    }

    static Boxes boxesOf(const QModelIndex& index, double top, double width)
    {
        constexpr double left = 38;
        constexpr double right = 14;
        constexpr int tall = 10'000;
        const QRect room{0, 0, static_cast<int>(width - left - right), tall};
        const QFontMetricsF text{textFont()};
        const QFontMetricsF small{textFont(-0.5)};
        Boxes boxes;
        boxes.text = text.boundingRect(room, Qt::TextWordWrap, index.data(textRole).toString());
        boxes.text = QRectF{left, top + 10, static_cast<double>(room.width()), boxes.text.height()};
        const QRectF why = small.boundingRect(room, Qt::TextWordWrap, index.data(whyRole).toString());
        boxes.why = QRectF{left, boxes.text.bottom() + 2, static_cast<double>(room.width()), why.height()};
        boxes.bottom = boxes.why.bottom() + 10;
        if (const QString fix = index.data(fixRole).toString(); !fix.isEmpty()) {
            boxes.fix = QRectF{left, boxes.why.bottom() + 6,
                               std::min(small.horizontalAdvance(fix) + 22, width - left - right), 22};
            boxes.bottom = boxes.fix.bottom() + 10;
        }
        return boxes;
    }
};

} // namespace

FindingsPanel::FindingsPanel(Document& document, Stage& stage, QWidget* parent)
    : QWidget(parent), stage_(stage), findings_(document.findings())
{
    setObjectName(QStringLiteral("findings"));
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(0, 8, 0, 0);
    layout->setSpacing(4);
    count_ = new QLabel{this};
    count_->setObjectName(QStringLiteral("findingsCount"));
    count_->setContentsMargins(14, 0, 12, 2);
    count_->setWordWrap(true);
    colourText(count_, &Theme::inkSoft);
    layout->addWidget(count_);
    list_ = new QListWidget{this};
    list_->setObjectName(QStringLiteral("findingsList"));
    list_->setAccessibleName(tr("Findings"));
    list_->setFrameShape(QFrame::NoFrame);
    list_->setItemDelegate(new FindingLine{list_});
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    list_->installEventFilter(this);
    list_->viewport()->installEventFilter(this);
    layout->addWidget(list_, 1);
    setProperty("help", QStringLiteral("guide#findings"));
    connect(list_, &QListWidget::currentRowChanged, this, [this] {
        const check::Finding* finding = chosen();
        list_->setProperty("help", finding ? QStringLiteral("findings#") + toText(finding->id) : QString());
    });
    connect(list_, &QListWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        if (QListWidgetItem* item = list_->itemAt(at))
            list_->setCurrentItem(item);
        showMenu(list_->viewport()->mapToGlobal(at));
    });
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(10, 0, 10, 6);
    const auto button = [&](const QString& name, const QString& text, const QString& tip) {
        auto* made = new QToolButton{this};
        made->setObjectName(name);
        made->setText(text);
        made->setToolTip(tip);
        made->setAutoRaise(true);
        foot->addWidget(made);
        return made;
    };
    connect(button(QStringLiteral("findingShow"), tr("Show"), tr("The place at which it is (Return)")),
            &QToolButton::clicked, this, &FindingsPanel::go);
    connect(button(QStringLiteral("findingFix"), tr("Mend"), tr("What its button says (Ctrl+Return)")),
            &QToolButton::clicked, this, &FindingsPanel::fix);
    connect(button(QStringLiteral("findingAccept"), tr("Accept…"), tr("It is meant to be so: keep the reason (Del)")),
            &QToolButton::clicked, this, &FindingsPanel::accept);
    foot->addStretch(1);
    auto* all = button(QStringLiteral("findingsAccepted"), tr("Accepted"), tr("Also those that are accepted"));
    all->setCheckable(true);
    connect(all, &QToolButton::toggled, this, [this](bool on) {
        showsAccepted_ = on;
        refresh();
    });
    layout->addLayout(foot);
    const auto follow = [this] {
        if (isVisible() && stage_.mode() != Stage::Mode::recording)
            refresh();
    };
    connect(&looking_, &QFutureWatcherBase::finished, this, [this, follow] {
        ofTake_ = looking_.result();
        follow(); // there may be another record meanwhile
    });
    connect(&findings_, &FindingsWatch::changed, this, follow);
    connect(&stage_, &Stage::recordChanged, this, follow);
}

FindingsPanel::~FindingsPanel()
{
    looking_.waitForFinished();
}

/// What the take shows is looked for beside everything else; until it is there, nothing of another
/// take is shown.
void FindingsPanel::lookAtTake()
{
    if (looking_.isRunning() || looked_ == stage_.sharedRecord())
        return;
    looked_ = stage_.sharedRecord();
    ofTake_.clear();
    if (looked_->lastTick() > 0)
        looking_.setFuture(QtConcurrent::run([record = looked_] { return check::findingsOfTake(*record); }));
}

void FindingsPanel::refresh()
{
    const int row = list_->currentRow();
    list_->clear();
    std::size_t errors = 0;
    std::size_t open = 0;
    const auto& all = findings_.all();
    for (std::size_t i = 0; i < all.size(); ++i) {
        const check::Finding& finding = all[i];
        const bool isError = finding.severity == check::Severity::error;
        if (finding.accepted.empty()) {
            ++open;
            errors += isError ? 1 : 0;
        } else if (!showsAccepted_) {
            continue;
        }
        auto* item = new QListWidgetItem;
        QString text = toText(finding.text);
        text[0] = text[0].toUpper();
        if (!finding.place.home.empty())
            text = tr("%1: %2").arg(toText(finding.place.home), text);
        const QString why = finding.accepted.empty() ? toText(check::rowOf(finding.id).why)
                                                     : tr("Accepted: %1").arg(toText(finding.accepted));
        item->setData(textRole, text);
        item->setData(whyRole, why);
        item->setData(errorRole, isError);
        item->setData(acceptedRole, toText(finding.accepted));
        item->setData(takeRole, -1);
        if (finding.fix && finding.accepted.empty())
            item->setData(fixRole, toText(finding.fix->text));
        item->setData(Qt::AccessibleTextRole, tr("%1: %2").arg(toText(check::wordOf(finding.severity)), text));
        item->setToolTip(tr("%1 [%2]").arg(why, toText(finding.id)));
        item->setData(Qt::WhatsThisRole, static_cast<int>(i));
        list_->addItem(item);
    }
    lookAtTake();
    for (std::size_t i = 0; i < ofTake_.size(); ++i) {
        auto* item = new QListWidgetItem;
        QString text = toText(ofTake_[i].text);
        item->setData(textRole, text);
        item->setData(whyRole, tr("In this take. It may be meant so."));
        item->setData(takeRole, static_cast<int>(i));
        item->setData(Qt::AccessibleTextRole, text);
        list_->addItem(item);
    }
    const std::size_t accepted = all.size() - open;
    QStringList parts;
    if (errors > 0)
        parts << counted(errors, tr("error"), tr("errors"));
    if (open > errors)
        parts << counted(open - errors, tr("warning"), tr("warnings"));
    if (parts.isEmpty())
        parts << tr("Nothing found: all names point somewhere, and nothing is known that cannot work.");
    if (accepted > 0)
        parts << tr("%1 accepted").arg(accepted);
    if (!ofTake_.empty())
        parts << tr("%1 of this take").arg(ofTake_.size());
    count_->setText(parts.join(tr(" · ")));
    if (list_->count() > 0 && row >= 0)
        list_->setCurrentRow(std::min(row, list_->count() - 1));
}

const check::Finding* FindingsPanel::chosen() const
{
    const QListWidgetItem* item = chosenOfTake() ? nullptr : list_->currentItem();
    const auto index = item ? item->data(Qt::WhatsThisRole).toUInt() : 0;
    return item && index < findings_.all().size() ? &findings_.all()[index] : nullptr;
}

const check::TakeFinding* FindingsPanel::chosenOfTake() const
{
    const QListWidgetItem* item = list_->currentItem();
    const int index = item ? item->data(takeRole).toInt() : -1;
    return index >= 0 && static_cast<std::size_t>(index) < ofTake_.size() ? &ofTake_[static_cast<std::size_t>(index)]
                                                                          : nullptr;
}

void FindingsPanel::go()
{
    if (const check::TakeFinding* found = chosenOfTake()) {
        const check::TakeFinding one = *found; // the list may change meanwhile
        stage_.setCursor(one.tick);
        if (one.snare.empty())
            emit placeWanted({check::Place::Of::piece, one.piece});
        else
            emit snareWanted(toText(one.snare));
        return;
    }
    if (const check::Finding* finding = chosen())
        emit placeWanted(check::Place{finding->place}); // the list may change meanwhile
}

void FindingsPanel::fix()
{
    if (const check::Finding* finding = chosen(); finding && finding->accepted.empty())
        findings_.fix(check::Finding{*finding});
}

void FindingsPanel::accept()
{
    const check::Finding* found = chosen();
    if (!found)
        return;
    if (!found->accepted.empty())
        return findings_.unaccept(check::Finding{*found});
    Question question;
    question.title = tr("Why it may stay as it is; the scene keeps it");
    question.freeText = true;
    question.check = [](const QStringList& answer) {
        return answer.front().trimmed().isEmpty() ? tr("A reason, please") : QString();
    };
    SlotPopup::ask(list_, question, [this, finding = *found](const QStringList& answer) {
        findings_.accept(finding, answer.front().trimmed());
    });
}

void FindingsPanel::showMenu(const QPoint& screenPoint)
{
    const check::Finding* finding = chosen();
    if (!finding)
        return;
    QMenu& menu = *makeMenu(this);
    menu.addAction(tr("Show the place\tReturn"), this, &FindingsPanel::go);
    if (finding->fix && finding->accepted.empty())
        menu.addAction(toText(finding->fix->text) + QStringLiteral("\tCtrl+Return"), this, &FindingsPanel::fix);
    menu.addAction(finding->accepted.empty() ? tr("Accept…\tDel") : tr("Accept it no longer\tDel"), this,
                   &FindingsPanel::accept);
    menu.popup(screenPoint);
}

bool FindingsPanel::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == list_->viewport() && event->type() == QEvent::Resize) // texts wrap anew
        QMetaObject::invokeMethod(list_, &QListWidget::doItemsLayout, Qt::QueuedConnection);
    if (watched == list_->viewport() && event->type() == QEvent::MouseButtonRelease) {
        const auto* mouse = static_cast<QMouseEvent*>(event);
        const QModelIndex index = list_->indexAt(mouse->position().toPoint());
        if (mouse->button() == Qt::LeftButton && index.isValid()) {
            list_->setCurrentRow(index.row());
            if (FindingLine::pillIn(index, list_->visualRect(index)).contains(mouse->position()))
                QMetaObject::invokeMethod(this, &FindingsPanel::fix, Qt::QueuedConnection); // the list is rebuilt
            else
                go();
        }
        return QWidget::eventFilter(watched, event);
    }
    if (watched != list_ || (event->type() != QEvent::KeyPress && event->type() != QEvent::ShortcutOverride))
        return QWidget::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (!isReturn && key->key() != Qt::Key_Delete)
        return QWidget::eventFilter(watched, event);
    if (event->type() == QEvent::KeyPress) {
        if (!isReturn)
            accept();
        else if (key->modifiers() & Qt::ControlModifier)
            fix();
        else
            go();
    }
    event->accept();
    return true;
}

} // namespace snare::app
