// SPDX-License-Identifier: Apache-2.0
#include "app/cards/look_editor.h"

#include "app/ground/picture_view.h"
#include "app/slots/choices.h"
#include "app/slots/files_beside.h"
#include "app/ui/flow_layout.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QPainter>
#include <QVBoxLayout>

#include <algorithm>

namespace snare::app {

namespace {

QString gaugeText(const scene::Gauge& gauge)
{
    return QObject::tr("%1 from %2 to %3").arg(toText(gauge.of)).arg(gauge.low).arg(gauge.high);
}

QStringList partsOfGauge(const QString& typed)
{
    return typed.simplified().split(QLatin1Char(' '));
}

/// A number that fills it as a level: "tide-height.value 0 3".
void askGauge(QWidget* anchor, Document& document, const LookAccess& access)
{
    if (!access.get())
        return;
    Question question;
    question.title = QObject::tr("A number, and where it is empty and full; leave empty for none");
    question.placeholder = QStringLiteral("tide-height.value 0 3");
    question.freeText = true;
    if (const auto& gauge = access.get()->gauge)
        question.typed = QStringLiteral("%1 %2 %3").arg(toText(gauge->of)).arg(gauge->low).arg(gauge->high);
    for (const scene::Source& source : document.scene().sources)
        if (const auto* dial = std::get_if<scene::DialSource>(&source.kind))
            question.choices.push_back(
                {QStringLiteral("%1.value %2 %3").arg(toText(source.id)).arg(dial->low).arg(dial->high),
                 toText(source.id),
                 QObject::tr("a dial"),
                 {}});
    question.check = [](const QStringList& answer) {
        if (answer.front().trimmed().isEmpty())
            return QString();
        const QStringList given = partsOfGauge(answer.front());
        bool low = false;
        bool high = false;
        if (given.size() == 3 && given[0].contains(QLatin1Char('.')))
            return given[1].toDouble(&low) != given[2].toDouble(&high) && low && high
                       ? QString()
                       : QObject::tr("Two different numbers: where it is empty and where it is full");
        return QObject::tr("A path and two numbers, such as tide-height.value 0 3");
    };
    SlotPopup::ask(anchor, question, [access](const QStringList& answer) {
        access.edit([&](scene::Look& look) {
            look.gauge.reset();
            if (const QStringList given = partsOfGauge(answer.front()); given.size() == 3)
                look.gauge = scene::Gauge{given[0].toStdString(), given[1].toDouble(), given[2].toDouble()};
        });
    });
}

void askPicture(QWidget* anchor, Document& document, const LookAccess& access)
{
    Question question;
    question.title = QObject::tr("Picture, PNG or SVG");
    question.choices.push_back({QStringLiteral("*"), QObject::tr("no picture"), {}, QObject::tr("none off")});
    question.choices.push_back({QStringLiteral("?"), QObject::tr("From elsewhere…"),
                                QObject::tr("it is copied beside the scene"), QObject::tr("file browse open import")});
    for (Choice& choice : pictureChoices(document, false))
        question.choices.push_back(std::move(choice));
    if (access.get())
        question.chosen << toText(access.get()->image);
    const auto set = [access](const QString& file) {
        access.edit([&](scene::Look& look) { look.image = file.toStdString(); });
    };
    SlotPopup::ask(anchor, question, [&document, set, window = anchor->window()](const QStringList& answer) {
        if (answer.front() == QLatin1String("?"))
            takeFileBeside(window, document, QObject::tr("A picture for the scene"),
                           QObject::tr("Pictures (*.png *.svg)"), set);
        else
            set(answer.front() == QLatin1String("*") ? QString() : answer.front());
    });
}

} // namespace

FieldSource lookFields(Document& document, const LookAccess& access)
{
    FieldSource source = fieldsFrom<scene::Look>(QStringLiteral("look "), access.get, access.edit);
    source.kind = "look";
    source.offerTitle = QObject::tr("More about how it looks");
    source.byHand["image"] = [&document, access](QWidget* anchor) { askPicture(anchor, document, access); };
    source.byHand["gauge"] = [&document, access](QWidget* anchor) { askGauge(anchor, document, access); };
    source.shownByHand["gauge"] = [access] {
        const scene::Look* look = access.get();
        return look && look->gauge ? gaugeText(*look->gauge) : QString();
    };
    return source;
}

LookChip::LookChip(const QString& name, const scene::Look& look, const QImage& picture, QWidget* parent)
    : QAbstractButton(parent), colour_(toText(look.colour.code)), words_(toText(look.label)), glow_(look.glow),
      picture_(picture)
{
    setText(name);
    setCheckable(true);
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setFont(textFont(-1));
    // Of several frames side by side the first one stands for all.
    if (const int* frames = std::get_if<int>(&look.frames.held); frames && *frames > 1 && !picture_.isNull())
        picture_ = picture_.copy(0, 0, std::max(1, picture_.width() / *frames), picture_.height());
}

QSize LookChip::sizeHint() const
{
    return {std::clamp(fontMetrics().horizontalAdvance(text()) + 10, 44, 110), 46};
}

void LookChip::paintEvent(QPaintEvent*)
{
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const QRectF whole = QRectF{rect()}.adjusted(1, 1, -1, -1);
    painter.setPen(QPen{isChecked() || hasFocus() ? theme().ink : theme().hairline, isChecked() ? 1.5 : 1});
    painter.setBrush(theme().ground);
    painter.drawRoundedRect(whole, 3, 3);
    const QRectF stage{whole.center().x() - 15, whole.top() + 4, 30, 22};
    if (glow_ > 0) {
        QColor halo = theme().ochre;
        halo.setAlphaF(static_cast<float>(0.25 + 0.5 * glow_));
        painter.setPen(Qt::NoPen);
        painter.setBrush(halo);
        painter.drawEllipse(stage.center(), 17, 13);
    }
    if (!picture_.isNull()) {
        const QSizeF size = QSizeF{picture_.size()}.scaled(stage.size(), Qt::KeepAspectRatio);
        painter.drawImage(QRectF{stage.center() - QPointF{size.width() / 2, size.height() / 2}, size}, picture_);
    } else {
        painter.setPen(QPen{theme().slate, 1});
        painter.setBrush(QColor::isValidColor(colour_) ? QColor{colour_} : theme().solid);
        painter.drawRoundedRect(stage.adjusted(3, 2, -3, -2), 2, 2);
    }
    if (!words_.isEmpty()) {
        painter.setFont(textFont(-2.5));
        painter.setPen(theme().ink);
        painter.drawText(stage, Qt::AlignCenter, painter.fontMetrics().elidedText(words_, Qt::ElideRight, 28));
    }
    painter.setFont(font());
    painter.setPen(isChecked() ? theme().ink : theme().inkSoft);
    painter.drawText(QRectF{whole.left() + 3, whole.bottom() - 16, whole.width() - 6, 14}, Qt::AlignCenter,
                     fontMetrics().elidedText(text(), Qt::ElideRight, static_cast<int>(whole.width()) - 6));
}

LookPanel* LookPanel::open(QWidget* anchor, Document& document, const QString& title, LookAccess access)
{
    auto* panel = new LookPanel{anchor, document, title, std::move(access)};
    panel->openAt(anchor);
    return panel;
}

LookPanel::LookPanel(QWidget* anchor, Document& document, QString title, LookAccess access)
    : FieldPanel(anchor, document), title_(std::move(title)), access_(std::move(access))
{
}

void LookPanel::fill(QVBoxLayout* column)
{
    auto* line = new FlowLayout{nullptr, 6};
    fieldSlots(line, lookFields(document_, access_));
    column->addLayout(line);
}

} // namespace snare::app
