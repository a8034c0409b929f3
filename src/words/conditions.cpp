// SPDX-License-Identifier: Apache-2.0
#include "words/conditions.h"

#include "words/slots.h"

#include <fmt/format.h>

#include <array>

namespace snare::words {

namespace {

constexpr std::array rows{
    ConditionRow{"during", SnarePart::snare, "during", "during {}", "only in certain phases",
                 "phase state mode while"},
    ConditionRow{"inside", SnarePart::catches, "inside", "{}", "once for each visitor inside",
                 "zone stands near key prompt"},
    ConditionRow{"button", SnarePart::catches, "button", "with {}", "with one button of the pointer",
                 "mouse left right middle click"},
    ConditionRow{"modifiers", SnarePart::catches, "modifiers", "{}", "while modifier keys are held",
                 "shift ctrl alt key"},
    ConditionRow{"reach", SnarePart::catches, "reach", "{}", "also where others cover it",
                 "through below under topmost all pointer"},
    ConditionRow{"every", SnarePart::catches, "every", "every {}", "only every so often while it stays",
                 "stay interval repeat"},
    ConditionRow{"band", SnarePart::catches, "band", "steady by {}", "steady: how far back it must go first",
                 "hysteresis edge flicker level"},
    ConditionRow{"groups", SnarePart::filter, "groups", "of group {}", "the visitor is of certain groups",
                 "filter kind who"},
    ConditionRow{"tags.any", SnarePart::tags, "any", "has tag {}", "the visitor has a tag", "filter kind who"},
    ConditionRow{"tags.all", SnarePart::tags, "all", "has tags {}", "the visitor has all of some tags",
                 "filter kind who"},
    ConditionRow{"tags.none", SnarePart::tags, "none", "is not tagged {}", "the visitor has none of some tags",
                 "filter not except who"},
    ConditionRow{"pieces", SnarePart::filter, "pieces", "it is {}", "the visitor is a certain piece",
                 "filter who name"},
    ConditionRow{"templates", SnarePart::filter, "templates", "it is made from {}",
                 "the visitor is made from a template", "filter who kind spawned"},
    ConditionRow{"side", SnarePart::filter, "side", "{}", "the visitor comes from a side",
                 "left right above below direction where from"},
    ConditionRow{"manner", SnarePart::filter, "manner", "if {}", "it stops the visitor, or only senses",
                 "solid touch collide"},
    ConditionRow{"speed.min", SnarePart::speed, "min", "faster than {}", "the visitor is fast enough",
                 "speed velocity hard at least"},
    ConditionRow{"speed.max", SnarePart::speed, "max", "slower than {}", "the visitor is slow enough",
                 "speed velocity soft at most"},
    ConditionRow{"script", SnarePart::filter, "script", "if {}", "a Lua expression is true",
                 "script code condition"},
    ConditionRow{"limit", SnarePart::gate, "limit", "{} times", "once, or a number of times",
                 "limit only count shot"},
    ConditionRow{"each", SnarePart::gate, "each", "{}", "counted for each visitor", "per"},
    ConditionRow{"dwell", SnarePart::gate, "dwell", "after {}", "after staying for a while",
                 "dwell wait delay linger"},
    ConditionRow{"cooldown", SnarePart::gate, "cooldown", "not again for {}", "not again for a while",
                 "cooldown pause repeat often"},
    ConditionRow{"chance", SnarePart::gate, "chance", "with a chance of {}", "only some of the times, by chance",
                 "random probability percent dice"},
    ConditionRow{"reset", SnarePart::gate, "reset", "forgotten {}", "when it forgets how often it sprang",
                 "reset again rearm"},
    ConditionRow{"catchUp", SnarePart::gate, "catchUp", "also those inside when armed",
                 "when armed, also for those inside", "catch up already"},
    ConditionRow{"again", SnarePart::snare, "again", "while it runs: {}",
                 "what it does when it springs while it still runs", "again stack ignore running"},
    ConditionRow{"claims", SnarePart::snare, "claims", "keeping it from the snares after",
                 "keeps the event from the snares after it", "claim first only consume block"},
};

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
    if (row.key == "every")
        return kind == scene::EventKind::stay;
    if (row.key == "inside")
        return family == EventFamily::key || family == EventFamily::timer || family == EventFamily::watch ||
               family == EventFamily::call || family == EventFamily::signal;
    if (row.key == "button" || row.key == "modifiers")
        return family == EventFamily::pointer;
    if (row.key == "reach")
        return family == EventFamily::pointer || family == EventFamily::contact;
    if (row.key == "band")
        return family == EventFamily::watch;
    if (row.key == "groups") // who comes in, leaves or is dropped stands at the front of the sentence
        return family != EventFamily::contact && kind != scene::EventKind::drop;
    if (row.key == "side" || row.key == "manner")
        return family == EventFamily::contact;
    if (row.key == "each")
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

const ConditionRow* conditionRow(std::string_view key)
{
    const auto row = std::ranges::find(rows, key, &ConditionRow::key);
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

namespace {

/// How a row reads that is given.
std::string phraseOf(const scene::Snare& snare, const ConditionRow& row, const io::FieldView& field)
{
    if (row.key == "limit" && snare.gate.limit == 1)
        return "once";
    if (row.key == "each")
        return "per visitor";
    if (row.key == "inside")
        return snare.catches.inside == scene::Inside::nearest ? "with whoever is inside, at the nearest"
                                                              : "with each that is inside";
    std::string text = slotText(field);
    if (field.kind == io::SlotKind::names)
        for (std::size_t at = 0; (at = text.find(", ", at)) != std::string::npos; at += 4)
            text.replace(at, 2, " or ");
    return fmt::format(fmt::runtime(row.phrase), text);
}

} // namespace

std::vector<Phrase> filterPhrases(const scene::Snare& snare)
{
    std::vector<Phrase> phrases;
    for (const ConditionRow& row : rows) {
        if (row.key == "limit") // the filter ends here, the gate begins
            for (std::size_t i = 0; i < snare.filter.when.size(); ++i)
                phrases.push_back({fmt::format("when.{}", i), conditionText(snare.filter.when[i])});
        const io::FieldView field = fieldOf(snare, row);
        const bool isAtTheFront = row.key == "groups" && !fits(row, snare);
        if (field.set && !isAtTheFront)
            phrases.push_back({std::string(row.key), phraseOf(snare, row, field)});
    }
    return phrases;
}

std::vector<const ConditionRow*> offeredRows(const scene::Snare& snare)
{
    std::vector<const ConditionRow*> offered;
    for (const ConditionRow& row : rows)
        if (fits(row, snare) && !fieldOf(snare, row).set)
            offered.push_back(&row);
    return offered;
}

} // namespace snare::words
