// SPDX-License-Identifier: Apache-2.0
#include "app/slots/field_panel.h"

#include "app/ui/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QScreen>
#include <QVBoxLayout>

#include <algorithm>

namespace snare::app {

FieldPanel::FieldPanel(QWidget* anchor, Document& document) : FieldCard(document, anchor->window())
{
    setWindowFlags(Qt::Tool | Qt::FramelessWindowHint);
    setObjectName(QStringLiteral("fieldPanel"));
    setAttribute(Qt::WA_DeleteOnClose);
    setFixedWidth(380);
    setFocusPolicy(Qt::StrongFocus);
    dress(this, [] {
        return QStringLiteral("#fieldPanel { background: %1; border: 1px solid %2; }")
            .arg(theme().panel.name(), theme().hairline.name());
    });
    layout()->setContentsMargins(14, 10, 14, 12);
    connect(&document_, &Document::changed, this, &FieldPanel::follow);
    connect(&document_, &Document::replaced, this, &QWidget::close);
}

void FieldPanel::openAt(QWidget* anchor)
{
    for (auto* other : anchor->window()->findChildren<FieldPanel*>())
        if (other != this)
            other->close();
    rebuild();
    fit();
    QPoint at = anchor->mapToGlobal(QPoint{0, anchor->height() + 2});
    const QRect screen = anchor->screen()->availableGeometry();
    at.setX(std::clamp(at.x(), screen.left(), std::max(screen.left(), screen.right() - width())));
    at.setY(std::clamp(at.y(), screen.top(), std::max(screen.top(), screen.bottom() - height())));
    move(at);
    show();
    activateWindow();
    setFocus(Qt::PopupFocusReason);
}

void FieldPanel::follow()
{
    if (title().isEmpty()) { // perhaps it only got another name, which is told a moment later
        QMetaObject::invokeMethod(
            this,
            [this] {
                if (title().isEmpty())
                    close();
            },
            Qt::QueuedConnection);
        return;
    }
    rebuild();
    fit();
}

/// As high as its rows are at its width.
void FieldPanel::fit()
{
    layout()->activate();
    resize(width(), layout()->hasHeightForWidth() ? layout()->totalHeightForWidth(width()) : sizeHint().height());
}

void FieldPanel::build(QVBoxLayout* column)
{
    auto* top = new QHBoxLayout;
    auto* name = new QLabel{title(), body()};
    name->setFont(textFont(0.5, true));
    top->addWidget(name, 1);
    auto* done = new SlotButton{tr("done"), SlotButton::Kind::offer, body()};
    done->setObjectName(QStringLiteral("done"));
    connect(done, &SlotButton::clicked, this, &QWidget::close);
    top->addWidget(done);
    column->addLayout(top);
    if (!title().isEmpty())
        fill(column);
}

void FieldPanel::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Escape)
        close();
    else
        FieldCard::keyPressEvent(event);
}

} // namespace snare::app
