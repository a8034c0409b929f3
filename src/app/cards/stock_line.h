// SPDX-License-Identifier: Apache-2.0
/// A row of the stock: a heading with what is said of a kit, or a picture with a name and what it
/// is.
#pragma once

#include "scene/thing.h"

#include <QStyledItemDelegate>

namespace snare::app {

class StockLine : public QStyledItemDelegate {
  public:
    /// What a row says. `kindRole` is a number of scene::Thing, or -1 for what is not there.
    enum Role { nameRole = Qt::UserRole, detailRole, pictureRole, isHeadingRole, isWrongRole, kindRole };

    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

} // namespace snare::app
