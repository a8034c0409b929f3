// SPDX-License-Identifier: Apache-2.0
#include "app/ui/sentence_card.h"

#include "app/ui/flow_layout.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"

#include <QLabel>
#include <QVBoxLayout>

namespace snare::app {

SentenceCard::SentenceCard(QWidget* parent) : QFrame(parent)
{
    setFrameShape(QFrame::NoFrame);
    new QVBoxLayout{this};
}

void SentenceCard::rebuild()
{
    const QWidget* focused = window()->focusWidget();
    const QString focusedName = body_ && focused && isAncestorOf(focused) ? focused->objectName() : QString();
    if (body_) { // a slot of it may be the one that was clicked: it must live until its click is over
        body_->hide();
        layout()->removeWidget(body_);
        body_->setParent(nullptr);
        body_->deleteLater();
    }
    body_ = new QWidget{this};
    layout()->addWidget(body_);
    auto* column = new QVBoxLayout{body_};
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    build(column);
    body_->show(); // at once, so that it can be laid out at once
    if (!focusedName.isEmpty())
        if (auto* again = findChild<QWidget*>(focusedName))
            again->setFocus();
}

FlowLayout* SentenceCard::row(QVBoxLayout* column, const QString& label)
{
    const QFontMetrics metrics{textFont()};
    auto* across = new QHBoxLayout;
    across->setSpacing(6);
    auto* name = new QLabel{label, body_};
    name->setFont(textFont());
    name->setFixedSize(metrics.horizontalAdvance(tr("template")) + 4, metrics.height() + 6);
    colourText(name, &Theme::inkSoft);
    across->addWidget(name, 0, Qt::AlignTop);
    auto* line = new FlowLayout{nullptr, 6};
    across->addLayout(line, 1);
    column->addLayout(across);
    return line;
}

void SentenceCard::word(FlowLayout* line, const QString& text, bool quiet)
{
    auto* label = new QLabel{text, body_};
    label->setFont(textFont());
    if (quiet) {
        colourText(label, &Theme::inkSoft);
        label->setProperty(FlowLayout::keepsNext, true);
    }
    label->setFixedHeight(QFontMetrics{textFont()}.height() + 6);
    line->addWidget(label);
}

void SentenceCard::mark(QWidget* slot, std::string_view kind, std::string_view key)
{
    QStringList fields = slot->property("field").toString().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    fields << toText(kind) + QLatin1Char('.') + toText(key);
    slot->setProperty("field", fields.join(QLatin1Char(' ')));
}

SlotButton* SentenceCard::slot(FlowLayout* line, const QString& name, const QString& text, SlotButton::Kind kind)
{
    auto* button = new SlotButton{text, kind, body_};
    button->setObjectName(name);
    button->setAccessibleName(tr("%1: %2").arg(name, text));
    line->addWidget(button);
    return button;
}

} // namespace snare::app
