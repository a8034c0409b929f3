// SPDX-License-Identifier: Apache-2.0
#include "rules/journal.h"

namespace snare::rules {

std::string_view wordOf(LineKind kind)
{
    constexpr std::string_view words[] = {"event", "snare", "response", "note"};
    return words[static_cast<std::size_t>(kind)];
}

std::string_view responseOf(const Line& line)
{
    return scene::wordOfResponse(line.response).key;
}

std::string Journal::textOf(const Line& line) const
{
    std::string text{texts.at(line.text)};
    if (line.showsNumber)
        text += " = " + scene::textOf(line.number);
    return text;
}

Texts::Id Journal::addValue(PieceIndex owner, std::string_view name, const scene::Scalar* value)
{
    ValueChange& change = values.emplace_back();
    change.tick = tick;
    change.owner = owner;
    change.name = texts.keep(name);
    if (!value) {
        change.kind = ValueChange::Kind::none;
    } else if (const double* number = std::get_if<double>(value)) {
        change.number = *number;
    } else if (const bool* flag = std::get_if<bool>(value)) {
        change.kind = ValueChange::Kind::flag;
        change.number = *flag ? 1 : 0;
    } else {
        change.kind = ValueChange::Kind::text;
        change.text = texts.keep(std::get<std::string>(*value));
    }
    return change.name;
}

std::optional<scene::Scalar> Journal::valueOf(const ValueChange& change) const
{
    switch (change.kind) {
    case ValueChange::Kind::number:
        return scene::Scalar{change.number};
    case ValueChange::Kind::flag:
        return scene::Scalar{change.number != 0};
    case ValueChange::Kind::text:
        return scene::Scalar{std::string(texts.at(change.text))};
    case ValueChange::Kind::none:
        break;
    }
    return std::nullopt;
}

void fillIn(Event& event, const detect::Change& change)
{
    event.kind = change.kind;
    event.self = change.self;
    event.visitor = change.visitor;
    event.shape = change.shape;
    event.part = change.part;
    event.manner = change.manner;
    event.cause = change.cause;
    event.frac = change.frac;
    event.point = change.point;
    event.normal = change.normal;
    event.speed = change.speed;
}

Event eventOf(const detect::Change& change)
{
    Event event;
    fillIn(event, change);
    return event;
}

void Journal::addEvent(Event& event, bool gone)
{
    const bool often = event.kind == EventKind::stay || event.kind == EventKind::keyHeld;
    if (often && !withStays)
        return;
    Line& line = add(LineKind::event);
    event.line = static_cast<std::int32_t>(lines.size()) - 1;
    line.event = event.kind;
    line.stage = gone ? SlipStage::gone : SlipStage::armed;
    line.self = event.self;
    line.visitor = event.visitor;
    line.shape = event.shape;
    line.part = event.part;
    line.manner = event.manner;
    line.cause = event.cause;
    line.frac = event.frac;
    line.number = event.speed;
    if (const double* number = event.value ? std::get_if<double>(&*event.value) : nullptr)
        line.number = *number;
    line.text = texts.keep(event.signal ? event.signal->name : event.word);
    if (event.kind == EventKind::hit || event.act) {
        line.spot = static_cast<std::int32_t>(spots.size());
        spots.push_back({event.point, event.normal});
    }
    if (event.signal && !event.signal->with.empty())
        signalValues.push_back({event.line, event.signal->with});
}

} // namespace snare::rules
