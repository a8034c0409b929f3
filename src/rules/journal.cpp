// SPDX-License-Identifier: Apache-2.0
#include "rules/journal.h"

namespace snare::rules {

std::string_view wordOf(LineKind kind)
{
    constexpr std::string_view words[] = {"event", "snare", "response", "note"};
    return words[static_cast<std::size_t>(kind)];
}

std::string_view wordOf(Outcome outcome)
{
    return outcome == Outcome::sprung ? "sprung" : "slipped";
}

std::string_view wordOf(SlipStage stage)
{
    constexpr std::string_view words[] = {"armed", "phase", "filter", "gate", "gone"};
    return words[static_cast<std::size_t>(stage)];
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

} // namespace snare::rules
