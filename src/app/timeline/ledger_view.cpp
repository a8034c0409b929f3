// SPDX-License-Identifier: Apache-2.0
#include "app/timeline/ledger_view.h"

#include "app/ui/menus.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "io/exports.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QSortFilterProxyModel>
#include <QTableView>
#include <QToolButton>

namespace snare::app {

using rules::Line;
using rules::LineKind;

namespace {

/// Finds text in any column, several words in any order.
class AnyColumn : public QSortFilterProxyModel {
  public:
    using QSortFilterProxyModel::QSortFilterProxyModel;
    void setWords(const QString& text)
    {
        words_ = text.split(QLatin1Char(' '), Qt::SkipEmptyParts);
        invalidateFilter();
    }

    /// Rows at parts of laid assemblies: all are shown with an empty text, none with "-", else
    /// those of this one alone.
    void setLaid(const QString& laid, QStringList all)
    {
        laid_ = laid;
        allLaid_ = std::move(all);
        invalidateFilter();
    }
    const QString& laid() const { return laid_; }

  protected:
    bool filterAcceptsRow(int row, const QModelIndex& parent) const override
    {
        const auto isAt = [&](const QString& laid) {
            const QString start = laid + QLatin1Char('.');
            for (const int column : {LedgerModel::at, LedgerModel::by})
                if (sourceModel()->index(row, column, parent).data().toString().startsWith(start))
                    return true;
            return false;
        };
        if (laid_ == QLatin1String("-") ? std::ranges::any_of(allLaid_, isAt) : !laid_.isEmpty() && !isAt(laid_))
            return false;
        return std::ranges::all_of(words_, [&](const QString& word) {
            for (int column = 0; column < LedgerModel::columns; ++column)
                if (sourceModel()->index(row, column, parent).data().toString().contains(word, Qt::CaseInsensitive))
                    return true;
            return false;
        });
    }

  private:
    QStringList words_;
    QString laid_;
    QStringList allLaid_;
};

} // namespace

// --- model ---------------------------------------------------------------------------------------------------------

void LedgerModel::show(std::shared_ptr<const sim::Record> record)
{
    beginResetModel();
    record_ = std::move(record);
    rows_.clear();
    const auto& lines = record_->journal.lines;
    std::vector<std::int32_t> rowOf(lines.size(), -1);
    for (std::size_t i = 0; i < lines.size(); ++i)
        if (lines[i].kind == LineKind::event) {
            rowOf[i] = static_cast<std::int32_t>(rows_.size());
            rows_.push_back({static_cast<std::int32_t>(i), {}});
        }
    for (std::size_t i = 0; i < lines.size(); ++i)
        if (lines[i].kind == LineKind::snare && lines[i].about >= 0)
            if (const std::int32_t row = rowOf[static_cast<std::size_t>(lines[i].about)]; row >= 0)
                rows_[static_cast<std::size_t>(row)].came.push_back(static_cast<std::int32_t>(i));
    endResetModel();
}

int LedgerModel::rowAt(std::int64_t tick) const
{
    const auto after = std::ranges::upper_bound(rows_, tick, {}, [&](const Row& row) -> std::int64_t {
        return record_->journal.lines[static_cast<std::size_t>(row.line)].tick;
    });
    return static_cast<int>(after - rows_.begin()) - 1;
}

int LedgerModel::rowCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int LedgerModel::columnCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : columns;
}

QString LedgerModel::textOf(const Row& row, int column) const
{
    const Line& line = record_->journal.lines[static_cast<std::size_t>(row.line)];
    const auto named = [&](world::PieceIndex piece, std::int32_t shape) {
        const QString owner = toText(record_->nameOf(piece));
        const QString part = toText(record_->shapeNameOf(shape));
        return part.isEmpty() || part.front().isDigit() ? owner : owner + QLatin1Char('/') + part;
    };
    QStringList list;
    switch (column) {
    case time:
        return QString::number(io::secondsOf(line, record_->scene->rate), 'f', 3);
    case event:
        return line.text == 0
                   ? toText(scene::wordOf(line.event))
                   : toText(scene::wordOf(line.event)) + QLatin1Char(' ') + toText(record_->journal.textOf(line));
    case at:
        return named(line.self, line.shape);
    case by:
        return named(line.visitor, line.part);
    case sprang:
    case slipped:
        for (const std::int32_t came : row.came) {
            const Line& outcome = record_->journal.lines[static_cast<std::size_t>(came)];
            const bool fine = outcome.outcome == rules::Outcome::sprung;
            if (fine != (column == sprang))
                continue;
            const QString name = toText(record_->snareNameOf(outcome.snare));
            list << (fine ? name
                          : LedgerModel::tr("%1 at %2: %3")
                                .arg(name, toText(rules::wordOf(outcome.stage)),
                                     toText(record_->journal.textOf(outcome))));
        }
        return list.join(QStringLiteral("; "));
    default:
        return {};
    }
}

QVariant LedgerModel::data(const QModelIndex& index, int role) const
{
    const Row& row = rows_[static_cast<std::size_t>(index.row())];
    switch (role) {
    case Qt::DisplayRole:
    case Qt::ToolTipRole:
        return textOf(row, index.column());
    case Qt::UserRole: // what is sorted by
        if (index.column() == time)
            return row.line;
        return textOf(row, index.column());
    case Qt::FontRole:
        return index.column() == time ? figureFont(-0.5) : textFont(-0.5);
    case Qt::TextAlignmentRole:
        return index.column() == time ? QVariant(Qt::AlignRight | Qt::AlignVCenter)
                                      : QVariant(Qt::AlignLeft | Qt::AlignVCenter);
    case Qt::ForegroundRole:
        if (index.column() == sprang)
            return theme().mintText;
        if (index.column() == slipped)
            return theme().coralText;
        return {};
    default:
        return {};
    }
}

QVariant LedgerModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (orientation != Qt::Horizontal)
        return {};
    if (role == Qt::TextAlignmentRole)
        return section == time ? QVariant(Qt::AlignRight | Qt::AlignVCenter)
                               : QVariant(Qt::AlignLeft | Qt::AlignVCenter);
    if (role != Qt::DisplayRole)
        return {};
    const QString titles[columns] = {tr("time, s"), tr("event"), tr("at"), tr("by"), tr("sprang"), tr("slipped")};
    return titles[section];
}

// --- view ----------------------------------------------------------------------------------------------------------

LedgerView::LedgerView(Stage& stage, QWidget* parent)
    : QWidget(parent), stage_(stage), model_(new LedgerModel{this}), sorted_(new AnyColumn{this})
{
    setObjectName(QStringLiteral("ledger"));
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(8, 6, 8, 0);
    layout->setSpacing(4);
    auto* top = new QHBoxLayout;
    filter_ = new QLineEdit{this};
    filter_->setObjectName(QStringLiteral("ledgerFilter"));
    filter_->setPlaceholderText(tr("filter: words in any column"));
    filter_->setAccessibleName(tr("Filter the ledger"));
    filter_->setClearButtonEnabled(true);
    filter_->setMinimumWidth(260);
    top->addWidget(filter_);
    laid_ = new QToolButton{this};
    laid_->setObjectName(QStringLiteral("ledgerLaid"));
    laid_->setAutoRaise(true);
    laid_->setToolTip(tr("Events at the parts of what is laid: all, folded away, or those of one"));
    connect(laid_, &QToolButton::clicked, this, &LedgerView::chooseLaid);
    top->addWidget(laid_);
    count_ = new QLabel{this};
    top->addWidget(count_);
    top->addStretch(1);
    auto* copyButton = new QToolButton{this};
    copyButton->setObjectName(QStringLiteral("copyCsv"));
    copyButton->setText(tr("Copy as CSV"));
    copyButton->setToolTip(tr("The rows shown, or those selected (Ctrl+C)"));
    connect(copyButton, &QToolButton::clicked, this, &LedgerView::copy);
    top->addWidget(copyButton);
    layout->addLayout(top);
    table_ = new QTableView{this};
    table_->setObjectName(QStringLiteral("ledgerTable"));
    table_->setAccessibleName(tr("Ledger"));
    sorted_->setSourceModel(model_);
    sorted_->setSortRole(Qt::UserRole);
    table_->setModel(sorted_);
    table_->setSortingEnabled(true);
    table_->sortByColumn(LedgerModel::time, Qt::AscendingOrder);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setFrameShape(QFrame::NoFrame);
    table_->setShowGrid(false);
    table_->setAlternatingRowColors(true);
    table_->setWordWrap(false);
    table_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(QFontMetrics{textFont()}.height() + 6);
    table_->horizontalHeader()->setHighlightSections(false);
    table_->horizontalHeader()->setStretchLastSection(true);
    constexpr int widths[] = {110, 120, 120, 130, 150};
    for (int i = 0; i < LedgerModel::slipped; ++i)
        table_->setColumnWidth(i, widths[i]);
    layout->addWidget(table_, 1);
    table_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(table_, &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        if (const QModelIndex row = table_->indexAt(at); row.isValid()) {
            const std::int32_t line = model_->lineOf(sorted_->mapToSource(row).row());
            stage_.chooseLine(line);
            emit menuWanted(line, table_->viewport()->mapToGlobal(at));
        }
    });
    connect(filter_, &QLineEdit::textChanged, this, &LedgerView::setFilter);
    connect(&stage_, &Stage::recordChanged, this, [this] {
        stale_ = true;
        if (isVisible() && stage_.mode() != Stage::Mode::recording)
            refresh();
    });
    connect(&stage_, &Stage::cursorChanged, this, &LedgerView::follow);
    connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& row) {
        if (row.isValid() && !following_) {
            following_ = true;
            stage_.chooseLine(model_->lineOf(sorted_->mapToSource(row).row()));
            following_ = false;
        }
    });
}

void LedgerView::setFilter(const QString& text)
{
    if (filter_->text() != text)
        filter_->setText(text);
    static_cast<AnyColumn*>(sorted_)->setWords(text);
    count_->setText(tr("%1 of %2").arg(sorted_->rowCount()).arg(model_->rowCount()));
}

void LedgerView::setLaid(const QString& laid)
{
    QStringList all;
    for (const scene::Laid& one : stage_.record().scene->laid)
        all << toText(one.id);
    const QString shown = laid == QLatin1String("-") || all.contains(laid) ? laid : QString();
    laid_->setVisible(!all.isEmpty());
    laid_->setText(tr("laid: %1 ▾")
                       .arg(shown.isEmpty()               ? tr("all")
                            : shown == QLatin1String("-") ? tr("folded")
                                                          : shown));
    static_cast<AnyColumn*>(sorted_)->setLaid(shown, all);
    count_->setText(tr("%1 of %2").arg(sorted_->rowCount()).arg(model_->rowCount()));
}

void LedgerView::chooseLaid()
{
    QMenu& menu = *makeMenu(this);
    menu.addAction(tr("all"), this, [this] { setLaid({}); });
    menu.addAction(tr("folded: none at their parts"), this, [this] { setLaid(QStringLiteral("-")); });
    menu.addSeparator();
    for (const scene::Laid& one : stage_.record().scene->laid)
        menu.addAction(toText(one.id), this, [this, id = toText(one.id)] { setLaid(id); });
    menu.popup(laid_->mapToGlobal(QPoint{0, laid_->height()}));
}

void LedgerView::refresh()
{
    stale_ = false;
    following_ = true;
    model_->show(stage_.sharedRecord());
    following_ = false;
    setLaid(static_cast<AnyColumn*>(sorted_)->laid());
    setFilter(filter_->text());
    follow();
}

/// The row of the cursor is the current one.
void LedgerView::follow()
{
    if (!isVisible() || following_ || stale_)
        return;
    const int row = model_->rowAt(stage_.cursor());
    if (row < 0)
        return;
    const QModelIndex at = sorted_->mapFromSource(model_->index(row, 0));
    if (!at.isValid())
        return;
    following_ = true;
    table_->selectionModel()->setCurrentIndex(at, QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
    table_->scrollTo(at);
    following_ = false;
}

void LedgerView::showEvent(QShowEvent*)
{
    if (stale_)
        refresh();
    follow();
}

void LedgerView::keyPressEvent(QKeyEvent* event)
{
    if (event->matches(QKeySequence::Copy))
        copy();
    else
        QWidget::keyPressEvent(event);
}

QString LedgerView::csv() const
{
    QString text;
    const auto add = [&](const std::vector<std::string>& cells) { text += toText(io::csvRow(cells)); };
    std::vector<std::string> heading;
    heading.reserve(LedgerModel::columns);
    for (int column = 0; column < LedgerModel::columns; ++column)
        heading.push_back(model_->headerData(column, Qt::Horizontal, Qt::DisplayRole).toString().toStdString());
    add(heading);
    const QModelIndexList chosen = table_->selectionModel()->selectedRows();
    for (int row = 0; row < sorted_->rowCount(); ++row) {
        if (chosen.size() > 1 && !table_->selectionModel()->isRowSelected(row, {}))
            continue;
        std::vector<std::string> cells;
        cells.reserve(LedgerModel::columns);
        for (int column = 0; column < LedgerModel::columns; ++column)
            cells.push_back(sorted_->index(row, column).data().toString().toStdString());
        add(cells);
    }
    return text;
}

void LedgerView::copy()
{
    const QString text = csv();
    QApplication::clipboard()->setText(text);
    emit said(tr("Copied %1")
                  .arg(counted(static_cast<std::size_t>(text.count(QLatin1Char('\n')) - 1), tr("row"), tr("rows"))));
}

} // namespace snare::app
