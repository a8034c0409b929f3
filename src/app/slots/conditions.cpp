// SPDX-License-Identifier: Apache-2.0
#include "app/slots/conditions.h"

#include "app/slots/slot_fill.h"
#include "app/ui/words.h"

#include <QObject>

#include <array>

namespace snare::app {

namespace {

#define N(text) QT_TRANSLATE_NOOP("QObject", text)

constexpr std::array rows{
    ConditionRow{"during", SnarePart::snare, "during", N("during %1"), N("only in certain phases"),
                 "phase state mode while"},
    ConditionRow{"inside", SnarePart::catches, "inside", N("%1"), N("once for each visitor inside"),
                 "zone stands near key prompt"},
    ConditionRow{"button", SnarePart::catches, "button", N("with %1"), N("with one button of the pointer"),
                 "mouse left right middle click"},
    ConditionRow{"modifiers", SnarePart::catches, "modifiers", N("%1"), N("while modifier keys are held"),
                 "shift ctrl alt key"},
    ConditionRow{"reach", SnarePart::catches, "reach", N("%1"), N("also where others cover it"),
                 "through below under topmost all pointer"},
    ConditionRow{"every", SnarePart::catches, "every", N("every %1"), N("only every so often while it stays"),
                 "stay interval repeat"},
    ConditionRow{"band", SnarePart::catches, "band", N("steady by %1"), N("steady: how far back it must go first"),
                 "hysteresis edge flicker level"},
    ConditionRow{"groups", SnarePart::filter, "groups", N("of group %1"), N("the visitor is of certain groups"),
                 "filter kind who"},
    ConditionRow{"tags.any", SnarePart::tags, "any", N("has tag %1"), N("the visitor has a tag"), "filter kind who"},
    ConditionRow{"tags.all", SnarePart::tags, "all", N("has tags %1"), N("the visitor has all of some tags"),
                 "filter kind who"},
    ConditionRow{"tags.none", SnarePart::tags, "none", N("is not tagged %1"), N("the visitor has none of some tags"),
                 "filter not except who"},
    ConditionRow{"pieces", SnarePart::filter, "pieces", N("it is %1"), N("the visitor is a certain piece"),
                 "filter who name"},
    ConditionRow{"templates", SnarePart::filter, "templates", N("it is made from %1"),
                 N("the visitor is made from a template"), "filter who kind spawned"},
    ConditionRow{"side", SnarePart::filter, "side", N("%1"), N("the visitor comes from a side"),
                 "left right above below direction where from"},
    ConditionRow{"manner", SnarePart::filter, "manner", N("if %1"), N("it stops the visitor, or only senses"),
                 "solid touch collide"},
    ConditionRow{"speed.min", SnarePart::speed, "min", N("faster than %1"), N("the visitor is fast enough"),
                 "speed velocity hard at least"},
    ConditionRow{"speed.max", SnarePart::speed, "max", N("slower than %1"), N("the visitor is slow enough"),
                 "speed velocity soft at most"},
    ConditionRow{"script", SnarePart::filter, "script", N("if %1"), N("a Lua expression is true"),
                 "script code condition"},
    ConditionRow{"limit", SnarePart::gate, "limit", N("%1 times"), N("once, or a number of times"),
                 "limit only count shot"},
    ConditionRow{"each", SnarePart::gate, "each", N("%1"), N("counted for each visitor"), "per"},
    ConditionRow{"dwell", SnarePart::gate, "dwell", N("after %1"), N("after staying for a while"),
                 "dwell wait delay linger"},
    ConditionRow{"cooldown", SnarePart::gate, "cooldown", N("not again for %1"), N("not again for a while"),
                 "cooldown pause repeat often"},
    ConditionRow{"chance", SnarePart::gate, "chance", N("with a chance of %1"), N("only some of the times, by chance"),
                 "random probability percent dice"},
    ConditionRow{"reset", SnarePart::gate, "reset", N("forgotten %1"), N("when it forgets how often it sprang"),
                 "reset again rearm"},
    ConditionRow{"catchUp", SnarePart::gate, "catchUp", N("also those inside when armed"),
                 N("when armed, also for those inside"), "catch up already"},
    ConditionRow{"again", SnarePart::snare, "again", N("while it runs: %1"),
                 N("what it does when it springs while it still runs"), "again stack ignore running"},
    ConditionRow{"claims", SnarePart::snare, "claims", N("keeping it from the snares after"),
                 N("keeps the event from the snares after it"), "claim first only consume block"},
};

#undef N

template <class Function> auto withPart(SnarePart part, auto& snare, Function&& function)
{
    switch (part) {
    case SnarePart::catches:
        return function(snare.catches);
    case SnarePart::filter:
        return function(snare.filter);
    case SnarePart::tags:
        return function(snare.filter.tags);
    case SnarePart::speed:
        return function(snare.filter.speed);
    case SnarePart::gate:
        return function(snare.gate);
    case SnarePart::snare:
        break;
    }
    return function(snare);
}

/// Whether it makes sense for what the snare catches.
bool fits(const ConditionRow& row, const scene::Snare& snare)
{
    using scene::EventFamily;
    const scene::EventKind kind = snare.catches.event.items.front();
    const EventFamily family = scene::familyOf(kind);
    const std::string_view key = row.key;
    if (key == "every")
        return kind == scene::EventKind::stay;
    if (key == "inside")
        return family == EventFamily::key || family == EventFamily::timer || family == EventFamily::watch ||
               family == EventFamily::call || family == EventFamily::signal;
    if (key == "button" || key == "modifiers")
        return family == EventFamily::pointer;
    if (key == "reach")
        return family == EventFamily::pointer || family == EventFamily::contact;
    if (key == "band")
        return family == EventFamily::watch;
    if (key == "groups") // who comes in, leaves or is dropped stands at the front of the sentence
        return family != EventFamily::contact && kind != scene::EventKind::drop;
    if (key == "side" || key == "manner")
        return family == EventFamily::contact;
    if (key == "each")
        return snare.gate.limit || snare.gate.cooldown;
    return true;
}

} // namespace

std::string_view wordOf(SnarePart part)
{
    switch (part) {
    case SnarePart::snare:
        return "snare";
    case SnarePart::catches:
        return "catch";
    case SnarePart::filter:
        return "filter";
    case SnarePart::tags:
        return "tags";
    case SnarePart::speed:
        return "speed";
    case SnarePart::gate:
        return "gate";
    }
    return {};
}

const ConditionRow* conditionRow(const QString& key)
{
    const auto row = std::ranges::find_if(rows, [&](const ConditionRow& one) { return key == QLatin1String(one.key); });
    return row == rows.end() ? nullptr : &*row;
}

io::FieldView fieldOf(const scene::Snare& snare, const ConditionRow& row)
{
    return withPart(row.part, snare, [&](const auto& part) {
        const std::vector<io::FieldView> fields = io::fieldsOf(part);
        const auto field = std::ranges::find(fields, row.field, &io::FieldView::key);
        return field == fields.end() ? io::FieldView{} : *field;
    });
}

std::optional<std::string> setField(scene::Snare& snare, const ConditionRow& row, std::string_view json)
{
    return withPart(row.part, snare, [&](auto& part) { return io::setField(part, row.field, json); });
}

std::vector<Phrase> filterPhrases(const scene::Snare& snare)
{
    std::vector<Phrase> phrases;
    const auto addConditions = [&] {
        for (std::size_t i = 0; i < snare.filter.when.size(); ++i)
            phrases.push_back({QStringLiteral("when.%1").arg(i), conditionText(snare.filter.when[i])});
    };
    for (const ConditionRow& row : rows) {
        if (std::string_view(row.key) == "limit")
            addConditions(); // the filter ends here, the gate begins
        const io::FieldView field = fieldOf(snare, row);
        const bool isAtTheFront = std::string_view(row.key) == "groups" && !fits(row, snare);
        if (!field.set || isAtTheFront)
            continue;
        QString text = QObject::tr(row.phrase);
        if (std::string_view(row.key) == "limit" && snare.gate.limit == 1)
            text = QObject::tr("once");
        else if (std::string_view(row.key) == "each")
            text = QObject::tr("per visitor");
        else if (std::string_view(row.key) == "inside")
            text = snare.catches.inside == scene::Inside::nearest
                       ? QObject::tr("with whoever is inside, at the nearest")
                       : QObject::tr("with each that is inside");
        else if (text.contains(QStringLiteral("%1")))
            text = text.arg(field.kind == io::SlotKind::names
                                ? slotText(field).replace(QStringLiteral(", "), QObject::tr(" or "))
                                : slotText(field));
        phrases.push_back({QLatin1String(row.key), text});
    }
    return phrases;
}

std::vector<Offer> filterOffers(const scene::Snare& snare)
{
    std::vector<Offer> offers;
    for (const ConditionRow& row : rows) {
        if (std::string_view(row.key) == "limit")
            offers.push_back({QStringLiteral("when"), QObject::tr("a value compares"),
                              QObject::tr("condition property variable number equals")});
        if (fits(row, snare) && !fieldOf(snare, row).set)
            offers.push_back({QLatin1String(row.key), QObject::tr(row.offer), QObject::tr(row.words)});
    }
    return offers;
}

QString plainSentence(const scene::Snare& snare)
{
    QStringList words{toText(snare.id),
                      toText(snare.note),
                      visitorText(snare),
                      eventText(snare.catches),
                      whereText(snare.catches),
                      toText(snare.catches.key),
                      toText(snare.catches.source),
                      toText(snare.catches.signal)};
    for (const Phrase& phrase : filterPhrases(snare))
        words << phrase.text;
    for (const scene::Response& response : snare.responses) {
        words << toText(scene::wordOfResponse(response.kind).key);
        for (const io::FieldView& field : io::fieldsOf(response))
            if (field.set || field.required)
                words << slotText(field);
    }
    return words.join(QLatin1Char(' '));
}

} // namespace snare::app
