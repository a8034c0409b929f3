// SPDX-License-Identifier: Apache-2.0
#include "app/ui/flag.h"

#include "app/ui/theme.h"

namespace snare::app {

void paintFlag(QPainter& painter, const QPointF& foot, bool held)
{
    const Theme& t = theme();
    const QColor colour = held ? t.mint : t.coral;
    const QPointF top = foot - QPointF{0, 14};
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    QPolygonF cloth;
    if (held)
        cloth << top << top + QPointF{9, 0} << top + QPointF{9, 7} << top + QPointF{0, 7};
    else // torn
        cloth << top << top + QPointF{9, 0} << top + QPointF{5.5, 2.5} << top + QPointF{8, 4.5} << top + QPointF{4.5, 5}
              << top + QPointF{6, 7} << top + QPointF{0, 7};
    painter.setPen(QPen{t.paper, 2.4});
    painter.drawLine(top, foot);
    painter.setPen(Qt::NoPen);
    painter.setBrush(colour);
    painter.drawPolygon(cloth);
    painter.setPen(QPen{t.ink, 1.3});
    painter.drawLine(top, foot);
    painter.restore();
}

FlagSign::FlagSign(bool held, QWidget* parent) : QWidget(parent), held_(held)
{
    setFixedSize(16, 20);
    setAccessibleName(held ? tr("it held") : tr("it did not hold"));
}

void FlagSign::paintEvent(QPaintEvent*)
{
    QPainter painter{this};
    paintFlag(painter, QPointF{3.5, 18}, held_);
}

} // namespace snare::app
