// SPDX-License-Identifier: Apache-2.0
#include "app/slots/field_card.h"

#include "app/slots/naming.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/slot_popup.h"
#include "app/ui/words.h"

#include <QVariant>

#include <algorithm>

namespace snare::app {

QString spoken(std::string_view key)
{
    // Files say it in the words of their format.
    if (key == "image")
        return QObject::tr("picture");
    if (key == "label")
        return QObject::tr("words");
    if (key == "frameRate")
        return QObject::tr("frames a second");
    QString text;
    for (const QChar letter : toText(key)) {
        if (letter.isUpper())
            text += QLatin1Char(' ');
        text += letter.toLower();
    }
    return text;
}

std::map<std::string, std::function<QString()>, std::less<>>
timerWords(const std::function<const scene::TimerSource*()>& get)
{
    return {
        {"repeat", [get] { return get() && get()->repeat ? QObject::tr("again and again") : QObject::tr("once"); }},
        {"runs", [get] { return get() && get()->runs ? QObject::tr("from the start") : QObject::tr("when started"); }}};
}

void FieldCard::fieldSlots(FlowLayout* line, const FieldSource& source, const QStringList& before,
                           const std::function<void(const QString&)>& chosenBefore)
{
    QStringList left = before;
    for (const io::FieldView& field : source.views()) {
        const std::string key{field.key};
        if (source.elsewhere.contains(key))
            continue;
        const auto reads = source.shownByHand.find(key);
        if (!field.set && !source.always.contains(key)) {
            left << spoken(key);
            continue;
        }
        if (field.kind != io::SlotKind::flag)
            word(line, spoken(key), true);
        const QString text = reads != source.shownByHand.end() ? reads->second() : slotText(field);
        SlotButton* button = slot(line, source.prefix + toText(key), text.isEmpty() ? QStringLiteral("+") : text,
                                  field.set ? SlotButton::Kind::filled : SlotButton::Kind::offer);
        button->setToolTip(toText(field.about));
        mark(button, source.kind, key);
        if (key == "gauge") // asked for in one
            for (const char* part : {"of", "low", "high"})
                mark(button, "gauge", part);
        if (field.kind == io::SlotKind::colour)
            button->setSwatch(QColor{text});
        connect(button, &SlotButton::clicked, this, [this, source, key, button] { askField(source, key, button); });
    }
    if (left.empty())
        return;
    const QString offer = !source.offerText.isEmpty() ? source.offerText
                          : left.size() > 2 ? tr("+ %1…").arg(left.mid(0, 2).join(QStringLiteral(", ")))
                                          : QStringLiteral("+ ") + left.join(QStringLiteral(", "));
    const QString name = QStringLiteral("add ") + source.prefix.trimmed();
    SlotButton* more = slot(line, name, offer, SlotButton::Kind::offer);
    connect(more, &SlotButton::clicked, this, [this, source, before, chosenBefore, more] {
        Question question;
        question.title = source.offerTitle;
        for (const QString& one : before)
            question.choices.push_back({one, {}, {}, {}});
        for (const io::FieldView& field : source.views())
            if (const std::string key{field.key};
                !field.set && !source.elsewhere.contains(key) && !source.always.contains(key))
                question.choices.push_back({toText(key), spoken(key), toText(field.about), {}});
        SlotPopup::ask(more, question, [this, source, before, chosenBefore, more](const QStringList& answer) {
            if (before.contains(answer.front()))
                chosenBefore(answer.front());
            else
                askField(source, answer.front().toStdString(), more);
        });
    });
}

void FieldCard::askField(const FieldSource& source, const std::string& key, QWidget* anchor)
{
    if (const auto ask = source.byHand.find(key); ask != source.byHand.end())
        return ask->second(anchor);
    const std::vector<io::FieldView> fields = source.views();
    const auto field = std::ranges::find(fields, key, &io::FieldView::key);
    if (field == fields.end())
        return;
    if (field->kind == io::SlotKind::flag) // there is nothing to ask
        return source.set(key, field->set ? "null" : field->json == "true" ? "false" : "true");
    Question question = questionFor(*field, document_.scene(),
                                    [source, key](const std::string& json) { return source.test(key, json); });
    offerRename(question, anchor, document_, *field);
    SlotPopup::ask(anchor, question, [source, key, view = *field](const QStringList& answer) {
        source.set(key, jsonFrom(view, answer));
    });
}

} // namespace snare::app
