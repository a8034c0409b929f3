// SPDX-License-Identifier: Apache-2.0
#include "app/cards/stock_line.h"

#include "app/ui/theme.h"

#include <QPainter>
#include <QPixmap>

namespace snare::app {

using scene::Thing;

namespace {

/// Numbered lines for a routine, the diamond of the lanes for a snare, a cross for what is not
/// there.
void paintSign(QPainter& painter, const QPointF& at, int kind)
{
    const Theme& t = theme();
    painter.setBrush(Qt::NoBrush);
    if (kind == static_cast<int>(Thing::routine)) {
        for (int i = -1; i <= 1; ++i) {
            painter.setPen(QPen{t.blue, 3});
            painter.drawPoint(at + QPointF{-10, i * 7.0});
            painter.setPen(QPen{t.blue, 1.5});
            painter.drawLine(at + QPointF{-5, i * 7.0}, at + QPointF{i == 1 ? 5.0 : 11.0, i * 7.0});
        }
    } else if (kind == static_cast<int>(Thing::snare)) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(t.mint);
        painter.drawPolygon(
            QPolygonF{{at + QPointF{0, -7}, at + QPointF{6, 0}, at + QPointF{0, 7}, at + QPointF{-6, 0}}});
    } else {
        painter.setPen(QPen{t.coral, 1.5, Qt::DashLine});
        painter.drawRect(QRectF{at.x() - 12, at.y() - 12, 24, 24});
    }
}

} // namespace

QSize StockLine::sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const
{
    return {200, index.data(isHeadingRole).toBool() ? 40 : 52};
}

void StockLine::paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const
{
    const Theme& t = theme();
    const QRectF row = option.rect;
    const bool isHeading = index.data(isHeadingRole).toBool();
    const bool isWrong = index.data(isWrongRole).toBool();
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    if (isHeading)
        painter->fillRect(row, t.panelDeep);
    if (option.state & QStyle::State_Selected)
        painter->fillRect(row, QColor(t.mint.red(), t.mint.green(), t.mint.blue(), 46));
    double left = row.left() + 12;
    if (const auto picture = index.data(pictureRole).value<QPixmap>(); !picture.isNull()) {
        const QRectF box{left, row.top() + 6, 54, 40};
        painter->drawPixmap(box.toRect(), picture);
        painter->setPen(QPen{t.hairline, 1});
        painter->setBrush(Qt::NoBrush);
        painter->drawRect(box);
    } else if (!isHeading) {
        paintSign(*painter, QPointF{left + 27, row.center().y()}, index.data(kindRole).toInt());
    }
    if (!isHeading)
        left += 66;
    const double width = row.right() - left - 10;
    const double middle = isHeading ? row.top() + 20 : row.center().y();
    const auto line = [&](const QString& text, double top, const QFont& font, const QColor& colour) {
        painter->setFont(font);
        painter->setPen(colour);
        painter->drawText(QRectF{left, top, width, 18}, Qt::AlignVCenter,
                          painter->fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(width)));
    };
    line(index.data(nameRole).toString(), middle - 18, textFont(0, true), isHeading ? t.inkSoft : t.ink);
    line(index.data(detailRole).toString(), middle, textFont(-0.5), isWrong ? t.coralText : t.inkSoft);
    painter->setPen(QPen{t.hairline, 0.6});
    painter->drawLine(row.bottomLeft(), row.bottomRight());
    painter->restore();
}

} // namespace snare::app
