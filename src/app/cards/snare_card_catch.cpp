// SPDX-License-Identifier: Apache-2.0
/// The first sentence of a snare card: what is caught, and where.
#include "app/cards/level_curve.h"
#include "app/cards/snare_card.h"
#include "app/slots/naming.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/formula_text.h"
#include "app/ui/key_names.h"
#include "app/ui/slot_popup.h"
#include "app/ui/words.h"
#include "words/sentences.h"

#include <QVBoxLayout>

namespace snare::app {

using scene::EventFamily;
using scene::EventKind;

void SnareCard::buildCatch(FlowLayout* line)
{
    word(line, tr("When"));
    const QStringList parts = toText(words::catchSentence(shown_.catches)).split(QLatin1Char('{'));
    if (const QString text = parts.front().trimmed(); !text.isEmpty())
        word(line, text);
    for (qsizetype i = 1; i < parts.size(); ++i) {
        const QString key = parts[i].section(QLatin1Char('}'), 0, 0);
        if (key == QLatin1String("who")) {
            SlotButton* who = slot(line, QStringLiteral("groups"), visitorText(shown_));
            mark(who, "filter", "groups");
            connect(who, &SlotButton::clicked, this, [this, who] { editGroups(who); });
        } else if (key == QLatin1String("event")) {
            buildEvent(line);
        } else if (key == QLatin1String("at")) {
            buildWhere(line);
        } else if (key == QLatin1String("key")) {
            buildKey(line);
        } else if (key == QLatin1String("number")) {
            buildWatch(line);
        } else {
            buildCatchField(line, key.toStdString());
        }
        if (const QString after = parts[i].section(QLatin1Char('}'), 1).trimmed(); !after.isEmpty())
            word(line, after);
    }
    for (const std::string_view key : words::besidesSentence(shown_.catches)) {
        word(line, toText(key));
        buildCatchField(line, std::string(key));
    }
}

/// A slot of the catch that is nothing but its field.
void SnareCard::buildCatchField(FlowLayout* line, const std::string& key)
{
    const std::vector<io::FieldView> fields = io::fieldsOf(shown_.catches);
    const auto found = std::ranges::find(fields, key, &io::FieldView::key);
    if (found == fields.end())
        return;
    const io::FieldView& field = *found;
    const QString text = slotText(field);
    const bool any = key == "phase";
    SlotButton* button = slot(line, toText(key),
                              !text.isEmpty() ? text
                              : any           ? tr("any")
                                              : tr("choose…"),
                              text.isEmpty() && !any ? SlotButton::Kind::empty : SlotButton::Kind::filled);
    button->setToolTip(toText(field.about));
    mark(button, "catch", field.key);
    connect(button, &SlotButton::clicked, this, [this, field, button] {
        const auto check = [catches = shown_.catches, key = field.key](const std::string& json) {
            scene::Catch trial = catches;
            return io::setField(trial, key, json);
        };
        Question question = questionFor(field, document_.scene(), check);
        offerRename(question, button, document_, field);
        SlotPopup::ask(button, std::move(question), [this, field](const QStringList& answer) {
            edit(tr("Change what %1 catches"),
                 [&](scene::Snare& snare) { io::setField(snare.catches, field.key, jsonFrom(field, answer)); });
        });
    });
}

/// Which number is watched: a dial, or a path.
void SnareCard::buildWatch(FlowLayout* line)
{
    const scene::Catch& catches = shown_.catches;
    const std::string& now = catches.source.empty() ? catches.watch : catches.source;
    SlotButton* button = slot(line, QStringLiteral("number"), now.empty() ? tr("choose a number") : toText(now),
                              now.empty() ? SlotButton::Kind::empty : SlotButton::Kind::filled);
    mark(button, "catch", catches.source.empty() ? "watch" : "source");
    connect(button, &SlotButton::clicked, this, [this, button] {
        Question question;
        question.title = tr("Which number");
        question.placeholder = tr("a dial, or a path such as scene.parcels");
        question.freeText = true;
        for (const scene::Source& source : document_.scene().sources)
            if (std::holds_alternative<scene::DialSource>(source.kind))
                question.choices.push_back({toText(source.id), {}, tr("a dial"), {}});
        for (const PathChoice& path : pathChoices(document_.scene()))
            question.choices.push_back({path.path, {}, path.about, {}});
        SlotPopup::ask(button, question, [this](const QStringList& answer) {
            edit(tr("Change what %1 watches"), [&](scene::Snare& snare) {
                const std::string chosen = answer.front().trimmed().toStdString();
                const bool path = chosen.find('.') != std::string::npos;
                snare.catches.watch = path ? chosen : std::string();
                snare.catches.source = path ? std::string() : chosen;
            });
        });
    });
}

void SnareCard::buildWhere(FlowLayout* line)
{
    const scene::Catch& catches = shown_.catches;
    const EventFamily family = scene::familyOf(catches.event.items.front());
    SlotButton* button =
        slot(line, QStringLiteral("where"), whereText(catches),
             catches.at.empty() && family == EventFamily::contact ? SlotButton::Kind::empty : SlotButton::Kind::filled);
    mark(button, "catch", "at");
    mark(button, "catch", "shape");
    connect(button, &SlotButton::clicked, this, [this, button] {
        Question question;
        question.title = tr("Where it happens");
        question.choices = placeChoices(document_.scene());
        question.typed.clear();
        question.chosen << toText(shown_.catches.shape.empty() ? shown_.catches.at
                                                               : shown_.catches.at + "/" + shown_.catches.shape);
        question.point = [this](auto done) { selection_.askOnGround(GroundPick::piece, std::move(done)); };
        SlotPopup::ask(button, question, [this](const QStringList& answer) {
            edit(tr("Change where %1 catches"), [&](scene::Snare& snare) {
                const std::string chosen = answer.front().toStdString();
                const auto [piece, shape] = scene::splitShape(chosen);
                snare.catches.at = chosen == "scene" ? std::string() : std::string(piece);
                snare.catches.shape = std::string(shape);
            });
        });
    });
}

void SnareCard::buildEvent(FlowLayout* line)
{
    SlotButton* button = slot(line, QStringLiteral("event"), eventText(shown_.catches));
    mark(button, "catch", "event");
    connect(button, &SlotButton::clicked, this, [this, button] { editEvents(button); });
}

void SnareCard::editEvents(QWidget* anchor)
{
    Question question;
    question.title = tr("What happens");
    for (const auto& entry : scene::wordsOf<EventKind>)
        question.choices.push_back({toText(entry.word), toText(entry.verb), toText(entry.about), toText(entry.word)});
    question.choices.push_back({QStringLiteral("several"), tr("any of several…"), {}, tr("or list")});
    question.chosen << toText(scene::wordOf(shown_.catches.event.items.front()));
    SlotPopup::ask(anchor, question, [this, anchor](const QStringList& answer) {
        if (answer.front() == QLatin1String("several"))
            return editSeveralEvents(anchor);
        edit(tr("Change the event of %1"), [&](scene::Snare& snare) {
            for (const auto& entry : scene::wordsOf<EventKind>)
                if (toText(entry.word) == answer.front())
                    snare.catches.event.items = {entry.value};
        });
    });
}

/// Several events of one family: "enters or leaves".
void SnareCard::editSeveralEvents(QWidget* anchor)
{
    const EventFamily family = scene::familyOf(shown_.catches.event.items.front());
    Question question;
    question.title = tr("Any of these");
    question.many = true;
    for (const auto& entry : scene::wordsOf<EventKind>)
        if (entry.family == family)
            question.choices.push_back({toText(entry.word), toText(entry.verb), toText(entry.about), {}});
    for (const EventKind kind : shown_.catches.event.items)
        question.chosen << toText(scene::wordOf(kind));
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        if (answer.isEmpty())
            return;
        edit(tr("Change the events of %1"), [&](scene::Snare& snare) {
            snare.catches.event.items.clear();
            for (const auto& entry : scene::wordsOf<EventKind>)
                if (answer.contains(toText(entry.word)))
                    snare.catches.event.items.push_back(entry.value);
        });
    });
}

void SnareCard::buildKey(FlowLayout* line)
{
    const scene::Catch& catches = shown_.catches;
    const QString shown = !catches.key.empty()      ? keyLabel(toText(catches.key))
                          : !catches.source.empty() ? toText(catches.source)
                                                    : tr("any key");
    SlotButton* key = slot(line, QStringLiteral("key"), shown);
    mark(key, "catch", "key");
    mark(key, "catch", "source");
    connect(key, &SlotButton::clicked, this, [this, key] {
        Question question;
        question.title = tr("Which key");
        question.choices = keyChoices(document_.scene());
        question.takesKey = true;
        SlotPopup::ask(key, question, [this](const QStringList& answer) {
            edit(tr("Change the key of %1"), [&](scene::Snare& snare) {
                const bool source = answer.front().startsWith(QLatin1String("source:"));
                snare.catches.source = source ? answer.front().mid(7).toStdString() : std::string();
                snare.catches.key = source ? std::string() : answer.front().toStdString();
            });
        });
    });
}

/// The curve of what is watched, with the level and the band to drag.
void SnareCard::buildCurve(QVBoxLayout* column)
{
    const scene::Catch& catches = shown_.catches;
    const bool watches = scene::familyOf(catches.event.items.front()) == EventFamily::watch;
    if (!watches || !catches.level || (catches.source.empty() && catches.watch.empty()))
        return;
    auto* curve = new LevelCurve{stage_, catches, body()};
    column->addWidget(curve);
    connect(curve, &LevelCurve::levelWanted, this, [this](double level) {
        edit(tr("Change the level of %1"), [level](scene::Snare& snare) { snare.catches.level = level; });
    });
    connect(curve, &LevelCurve::bandWanted, this, [this](double band) {
        edit(tr("Change the band of %1"), [band](scene::Snare& snare) { snare.catches.band = band; });
    });
}

} // namespace snare::app
