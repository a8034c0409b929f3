// SPDX-License-Identifier: Apache-2.0
#include "app/ui/slot_button.h"

#include "app/ui/number_drag.h"
#include "app/ui/theme.h"

#include <QApplication>
#include <QKeyEvent>
#include <QPainter>

namespace snare::app {

namespace {

constexpr int swatchRoom = 15; ///< pixels
constexpr int dragPixels = 6;  ///< less is a click

} // namespace

SlotButton::SlotButton(const QString& text, Kind kind, QWidget* parent) : QAbstractButton(parent), kind_(kind)
{
    setText(text);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setFont(textFont(kind == Kind::offer || kind == Kind::action ? -0.5 : 0));
    setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
}

SlotButton::~SlotButton()
{
    delete drag_;
}

QSize SlotButton::sizeHint() const
{
    const QFontMetrics metrics{font()};
    return {metrics.horizontalAdvance(text()) + 8 + (swatch_.isValid() ? swatchRoom : 0), metrics.height() + 6};
}

void SlotButton::setSwatch(const QColor& colour)
{
    swatch_ = colour;
    updateGeometry();
    update();
}

QSize SlotButton::minimumSizeHint() const
{
    return {24, sizeHint().height()};
}

void SlotButton::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF{rect()}.adjusted(0.5, 0.5, -0.5, -0.5);
    if (hovered_ || hasFocus()) {
        painter.setPen(hasFocus() ? QPen{t.mint, 1.4} : QPen{Qt::NoPen});
        painter.setBrush(t.panelDeep);
        painter.drawRoundedRect(box, 4, 4);
    }
    const bool quiet = kind_ == Kind::offer || kind_ == Kind::action;
    const bool title = font().weight() >= QFont::DemiBold;
    painter.setPen(kind_ == Kind::empty ? t.coralText : quiet && !title ? t.inkSoft : t.ink);
    painter.setFont(font());
    const int room = swatch_.isValid() ? swatchRoom : 0;
    const QString shown = painter.fontMetrics().elidedText(text(), Qt::ElideRight, width() - 6 - room);
    painter.drawText(QRectF{rect()}.adjusted(4 + room, 0, -2, -2), Qt::AlignVCenter | Qt::AlignLeft, shown);
    if (swatch_.isValid()) {
        painter.setPen(QPen{t.slate, 1});
        painter.setBrush(swatch_);
        painter.drawRect(QRectF{4.5, height() / 2.0 - 6, 10, 10});
    }
    if (kind_ == Kind::action)
        return;
    const double y = height() - 3.5;
    painter.setPen(
        QPen{kind_ == Kind::empty ? t.coral : t.mint, 1.3, kind_ == Kind::offer ? Qt::DotLine : Qt::SolidLine});
    painter.drawLine(QPointF{4, y}, QPointF{width() - 4.0, y});
}

void SlotButton::enterEvent(QEnterEvent*)
{
    hovered_ = true;
    update();
}

void SlotButton::leaveEvent(QEvent*)
{
    hovered_ = false;
    update();
}

void SlotButton::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Escape && drag_) {
        endDrag();
        return;
    }
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_Space) {
        click();
        return;
    }
    QAbstractButton::keyPressEvent(event);
}

void SlotButton::mousePressEvent(QMouseEvent* event)
{
    dragged_ = false;
    if (event->button() == Qt::LeftButton && kind_ != Kind::action)
        pressedAt_ = event->pos();
    QAbstractButton::mousePressEvent(event);
}

void SlotButton::mouseMoveEvent(QMouseEvent* event)
{
    if (pressedAt_ && !dragged_ && std::abs(event->pos().x() - pressedAt_->x()) >= dragPixels &&
        !NumberDrag::numbersIn(text()).empty()) {
        dragged_ = true;
        asksForDrag_ = true;
        const QPointer<SlotButton> there{this};
        emit clicked();
        if (!there)
            return;
        asksForDrag_ = false;
        if (drag_) {
            setCursor(Qt::SizeHorCursor);
            setFocus();
        }
    }
    if (!drag_)
        return QAbstractButton::mouseMoveEvent(event);
    drag_->follow(event->pos().x() - pressedAt_->x(), event->modifiers());
    drag_->move(event->globalPosition().toPoint() + QPoint{14, 12});
    drag_->show();
}

void SlotButton::mouseReleaseEvent(QMouseEvent* event)
{
    pressedAt_.reset();
    if (!dragged_)
        return QAbstractButton::mouseReleaseEvent(event);
    setDown(false);
    const QPointer<NumberDrag> drag = drag_;
    drag_ = nullptr;
    setCursor(Qt::PointingHandCursor);
    if (drag) {
        drag->deleteLater();
        drag->finish(); // this slot may be gone after it
    }
}

/// Gives up a number that is dragged.
void SlotButton::endDrag()
{
    delete drag_;
    setCursor(Qt::PointingHandCursor);
}

bool SlotButton::takeOver(const Question& question, const std::function<void(const QStringList&)>& answer)
{
    if (!asksForDrag_)
        return false;
    auto* drag = new NumberDrag{this, question, numberAt(pressedAt_->x()), answer};
    if (drag->hasNumber())
        drag_ = drag;
    else
        delete drag;
    return true;
}

/// Which of its numbers is the nearest to a place, in pixels.
int SlotButton::numberAt(int x) const
{
    const QFontMetrics metrics{font()};
    int nearest = 0;
    int least = INT_MAX;
    const auto numbers = NumberDrag::numbersIn(text());
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        const auto& [at, length] = numbers[i];
        const int from = 4 + metrics.horizontalAdvance(text().left(at));
        const int to = from + metrics.horizontalAdvance(text().mid(at, length));
        const int away = x < from ? from - x : x > to ? x - to : 0;
        if (away < least) {
            least = away;
            nearest = static_cast<int>(i);
        }
    }
    return nearest;
}

} // namespace snare::app
