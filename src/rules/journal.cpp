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

std::string_view wordOf(Stage stage)
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

Event eventOf(const detect::Change& change)
{
    Event event;
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
    return event;
}

} // namespace snare::rules
