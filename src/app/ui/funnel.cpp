// SPDX-License-Identifier: Apache-2.0
#include "app/ui/funnel.h"

#include "app/ui/accessible.h"
#include "app/ui/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

namespace snare::app {

Funnel::Funnel(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("funnel"));
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::TabFocus);
    setToolTip(tr("Click a part to go through its events in the timeline"));
}

void Funnel::setCounts(int caught, int filter, int gate, int sprung)
{
    const int next[4] = {caught, filter, gate, sprung};
    std::copy(std::begin(next), std::end(next), counts_);
    giveRole(this, QAccessible::Graphic);
    setAccessibleName(tr("caught %1, passed the filter %2, passed the gate %3, sprang %4")
                          .arg(caught)
                          .arg(filter)
                          .arg(gate)
                          .arg(sprung));
    update();
}

void Funnel::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(textFont(-1));
    const QString words[4] = {tr("caught %1").arg(counts_[0]), tr("filter %1").arg(counts_[1]),
                              tr("gate %1").arg(counts_[2]), tr("sprang %1").arg(counts_[3])};
    constexpr int strength[4] = {26, 52, 104, 255};
    double x = 0;
    const double height = 20;
    const double tip = 7;
    for (int i = 0; i < 4; ++i) {
        const double width = painter.fontMetrics().horizontalAdvance(words[i]) + 22;
        QPolygonF part;
        part << QPointF{x, 1} << QPointF{x + width, 1} << QPointF{x + width + tip, 1 + height / 2}
             << QPointF{x + width, 1 + height} << QPointF{x, 1 + height};
        if (i > 0)
            part << QPointF{x + tip, 1 + height / 2};
        painter.setPen(Qt::NoPen);
        const bool none = counts_[i] == 0;
        painter.setBrush(none ? QColor(t.panelDeep) : QColor(t.mint.red(), t.mint.green(), t.mint.blue(), strength[i]));
        painter.drawPolygon(part);
        painter.setPen(none ? t.inkSoft : i == 3 ? t.onAccent : t.ink);
        painter.drawText(QRectF{x + (i > 0 ? tip + 2 : 4), 1, width, height}, Qt::AlignVCenter | Qt::AlignLeft,
                         QStringLiteral(" ") + words[i]);
        x += width + 2;
        ends_[i] = x;
    }
}

void Funnel::mousePressEvent(QMouseEvent* event)
{
    for (int i = 0; i < 4; ++i)
        if (event->position().x() < ends_[i]) {
            emit partClicked(i);
            return;
        }
}

void Funnel::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
        emit partClicked(3);
    else
        QWidget::keyPressEvent(event);
}

} // namespace snare::app
