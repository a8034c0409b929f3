// SPDX-License-Identifier: Apache-2.0
/// The ledger: the record as a table. What happened when, where, by whom, what sprang and what
/// slipped and why.
#pragma once

#include "app/model/stage.h"

#include <QAbstractTableModel>
#include <QWidget>

class QLabel;
class QLineEdit;
class QSortFilterProxyModel;
class QTableView;
class QToolButton;

namespace snare::app {

class LedgerModel : public QAbstractTableModel {
    Q_OBJECT

  public:
    enum Column { time, event, at, by, sprang, slipped, columns };

    using QAbstractTableModel::QAbstractTableModel;

    /// Shows a record; it is kept until the next one.
    void show(std::shared_ptr<const sim::Record> record);
    /// The line of the record that a row is about.
    std::int32_t lineOf(int row) const { return rows_[static_cast<std::size_t>(row)].line; }
    /// The row of a tick: the last at or before it.
    int rowAt(std::int64_t tick) const;

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    struct Row {
        std::int32_t line;              ///< an event
        std::vector<std::int32_t> came; ///< snare lines that followed from it
    };
    QString textOf(const Row& row, int column) const;

    std::shared_ptr<const sim::Record> record_;
    std::vector<Row> rows_;
};

class LedgerView : public QWidget {
    Q_OBJECT

  public:
    explicit LedgerView(Stage& stage, QWidget* parent = nullptr);

    void setFilter(const QString& text);
    /// Shows the events at the parts of what is laid: all (empty), none ("-"), or those of one
    /// alone.
    void setLaid(const QString& laid);
    /// The shown rows, or the selected ones if there are several, as CSV (RFC 4180) with a heading.
    QString csv() const;

  signals:
    /// What can be expected of a line of the record is to be offered.
    void menuWanted(int line, const QPoint& at);
    void said(const QString& text);

  protected:
    void showEvent(QShowEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void refresh();
    void chooseLaid();
    void follow();
    void copy();

    Stage& stage_;
    LedgerModel* model_;
    QSortFilterProxyModel* sorted_;
    QTableView* table_;
    QLineEdit* filter_;
    QToolButton* laid_;
    QLabel* count_;
    bool stale_ = true;
    bool following_ = false;
};

} // namespace snare::app
