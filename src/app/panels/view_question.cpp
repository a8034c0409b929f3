// SPDX-License-Identifier: Apache-2.0
#include "app/panels/view_question.h"

#include "app/ui/slot_button.h"
#include "app/ui/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>

namespace snare::app {

ViewButton::ViewButton(scene::View view, const QString& text, const QString& about, QWidget* parent)
    : QAbstractButton(parent), view_(view), about_(about)
{
    setText(text);
    setAccessibleName(QString(text).remove(QLatin1Char('&')) + QStringLiteral(": ") + about);
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_Hover);
}

void ViewButton::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF{rect()}.adjusted(1, 1, -1, -1);
    painter.setPen(QPen{hasFocus() ? t.mint : t.hairline, hasFocus() ? 2.0 : 1.0});
    painter.setBrush(underMouse() ? t.panelDeep : t.paper);
    painter.drawRoundedRect(box, 8, 8);
    // The drawing: a quay with a walker and a zone.
    const QRectF picture = box.adjusted(14, 12, -14, -58);
    painter.setPen(Qt::NoPen);
    painter.setBrush(t.ground);
    painter.drawRoundedRect(picture, 5, 5);
    painter.setBrush(t.solid);
    painter.setPen(QPen{t.slate, 1.4});
    const QPointF centre = picture.center();
    QColor wash = t.mint;
    wash.setAlpha(40);
    if (view_ == scene::View::plan) {
        painter.drawRect(QRectF{picture.left() + 16, picture.top() + 12, 26, picture.height() - 24});
        painter.drawEllipse(centre + QPointF{2, 6}, 11, 11);
        painter.setBrush(wash);
        painter.setPen(QPen{t.mint, 1.4, Qt::DashLine});
        painter.drawEllipse(centre + QPointF{48, 0}, 20, 20);
    } else {
        painter.drawRect(QRectF{picture.left(), picture.bottom() - 14, picture.width(), 14});
        painter.drawRect(QRectF{centre.x() + 30, picture.bottom() - 34, 20, 20});
        painter.drawRoundedRect(QRectF{picture.left() + 28, picture.bottom() - 42, 12, 28}, 6, 6);
        painter.setBrush(wash);
        painter.setPen(QPen{t.mint, 1.4, Qt::DashLine});
        painter.drawRect(QRectF{centre.x() + 24, picture.bottom() - 52, 32, 18});
        painter.setPen(QPen{t.coral, 1.8, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin});
        const QPointF tip{centre.x() - 8, picture.bottom() - 20};
        painter.setBrush(Qt::NoBrush);
        painter.drawLine(tip, tip - QPointF{0, 24});
        painter.drawPolyline(QPolygonF{{tip + QPointF{-5, -6}, tip, tip + QPointF{5, -6}}});
    }
    painter.setPen(t.ink);
    painter.setFont(textFont(0.5, true));
    painter.drawText(QRectF{box.left(), picture.bottom() + 8, box.width(), 20}, Qt::AlignCenter | Qt::TextShowMnemonic,
                     text());
    painter.setPen(t.inkSoft);
    painter.setFont(textFont(-0.5));
    painter.drawText(QRectF{box.left(), picture.bottom() + 29, box.width(), 18}, Qt::AlignCenter, about_);
}

void ViewButton::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        click();
    else
        QAbstractButton::keyPressEvent(event);
}

ViewQuestion::ViewQuestion(Document& document, QWidget* ground) : QFrame(ground), document_(document)
{
    setObjectName(QStringLiteral("viewQuestion"));
    setAccessibleName(tr("How is the scene seen?"));
    dress(this, [] {
        return QStringLiteral("#viewQuestion { background: %1; border: 1px solid %2; border-radius: 10px; }")
            .arg(theme().panel.name(), theme().hairline.name());
    });
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(18, 14, 18, 16);
    layout->setSpacing(12);
    auto* title = new QLabel{tr("How is the scene seen?"), this};
    title->setFont(textFont(1.5, true));
    layout->addWidget(title, 0, Qt::AlignHCenter);
    auto* row = new QHBoxLayout;
    row->setSpacing(12);
    above_ = new ViewButton{scene::View::plan, tr("From &above"), tr("nothing falls"), this};
    above_->setObjectName(QStringLiteral("fromAbove"));
    side_ = new ViewButton{scene::View::side, tr("From the &side"), tr("things fall, walkers jump"), this};
    side_->setObjectName(QStringLiteral("fromTheSide"));
    row->addWidget(above_);
    row->addWidget(side_);
    layout->addLayout(row);
    auto* examples = new SlotButton{tr("or begin with one of the examples…"), SlotButton::Kind::offer, this};
    examples->setObjectName(QStringLiteral("fromExample"));
    connect(examples, &SlotButton::clicked, this, [this] {
        leave();
        emit examplesWanted();
    });
    layout->addWidget(examples, 0, Qt::AlignHCenter);
    auto* later = new QLabel{tr("It can be changed on the card of the scene, while nothing is selected."), this};
    later->setFont(textFont(-0.5));
    colourText(later, &Theme::inkSoft);
    layout->addWidget(later, 0, Qt::AlignHCenter);
    connect(above_, &ViewButton::clicked, this, [this] { choose(scene::View::plan); });
    connect(side_, &ViewButton::clicked, this, [this] { choose(scene::View::side); });
    connect(&document_, &Document::changed, this, [this] {
        if (document_.isDirty())
            leave();
    });
    connect(&document_, &Document::replaced, this, &ViewQuestion::leave);
    ground->installEventFilter(this);
    hide();
}

void ViewQuestion::ask()
{
    placeInMiddle();
    show();
    raise();
    above_->setFocus(Qt::OtherFocusReason);
}

void ViewQuestion::choose(scene::View view)
{
    leave();
    document_.edit(tr("Choose the view of the scene"), [view](scene::Scene& scene) { scene.view = view; });
}

void ViewQuestion::leave()
{
    if (isHidden())
        return;
    hide();
    parentWidget()->setFocus(Qt::OtherFocusReason);
}

void ViewQuestion::placeInMiddle()
{
    adjustSize();
    move((parentWidget()->width() - width()) / 2, std::max(0, (parentWidget()->height() - height()) / 2));
}

bool ViewQuestion::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == parentWidget() && event->type() == QEvent::Resize && isVisible())
        placeInMiddle();
    return QFrame::eventFilter(watched, event);
}

bool ViewQuestion::event(QEvent* event)
{
    // While it asks, the letters that it underlines are its own, not those of the tools.
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->modifiers() == Qt::NoModifier && (key->key() == Qt::Key_A || key->key() == Qt::Key_S)) {
            event->accept();
            return true;
        }
    }
    return QFrame::event(event);
}

void ViewQuestion::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_A:
        choose(scene::View::plan);
        break;
    case Qt::Key_S:
        choose(scene::View::side);
        break;
    case Qt::Key_Escape:
        leave();
        break;
    case Qt::Key_Left:
        above_->setFocus(Qt::TabFocusReason);
        break;
    case Qt::Key_Right:
        side_->setFocus(Qt::TabFocusReason);
        break;
    default:
        QFrame::keyPressEvent(event);
    }
}

} // namespace snare::app
