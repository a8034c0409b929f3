// SPDX-License-Identifier: Apache-2.0
#include "words/moment.h"

#include "words/text.h"

#include <fmt/format.h>

namespace snare::words {

using rules::EventKind;
using rules::Line;
using rules::LineKind;

namespace {

std::string pointerText(const Line& event, const std::string& visitor, const std::string& where)
{
    const bool sweeps = event.event == EventKind::sweepBegin || event.event == EventKind::sweepEnd;
    const std::string place = event.self == world::theScene ? "the ground" : where;
    return fmt::format("{} {}{}", event.event == EventKind::drop ? visitor : "the pointer",
                       scene::wordFor(event.event).verb, sweeps ? "" : " " + place);
}

} // namespace

EventSaid eventSaid(const sim::Record& record, const Line& event)
{
    const std::string self{record.nameOf(event.self)};
    const std::string visitor{record.nameOf(event.visitor)};
    const std::string_view shape = record.shapeNameOf(event.shape);
    const bool named = event.shape >= 0 && !shape.empty() && (shape.front() < '0' || shape.front() > '9');
    const std::string where = named ? fmt::format("{} of {}", shape, self) : self;
    const std::string word = record.journal.textOf(event);
    switch (event.event) {
    case EventKind::enter:
        return {visitor + " entered " + where, {}};
    case EventKind::exit:
        return {visitor + " left " + where, {}};
    case EventKind::stay:
        return {visitor + " stayed in " + where, {}};
    case EventKind::hit:
        return {visitor + " hit " + where, fmt::format(" at {:.2f} m/s", event.number)};
    case EventKind::occupied:
        return {where + " is occupied", {}};
    case EventKind::vacated:
        return {where + " is vacated", {}};
    case EventKind::down:
    case EventKind::up:
    case EventKind::click:
    case EventKind::doubled:
    case EventKind::dragBegin:
    case EventKind::drag:
    case EventKind::dragEnd:
    case EventKind::drop:
    case EventKind::sweepBegin:
    case EventKind::sweepEnd:
        return {pointerText(event, visitor, where), fmt::format(" with the {} button", word)};
    case EventKind::keyDown:
        return {keyLabel(word) + " was pressed", {}};
    case EventKind::keyHeld:
        return {keyLabel(word) + " was held", {}};
    case EventKind::keyUp:
        return {keyLabel(word) + " was let go", {}};
    case EventKind::elapsed:
        return {"timer " + word + " elapsed", {}};
    case EventKind::rises:
        return {fmt::format("{} rose to {:.6g}", word, event.number), {}};
    case EventKind::falls:
        return {fmt::format("{} fell to {:.6g}", word, event.number), {}};
    case EventKind::called:
        return {"call " + word + " came", {}};
    case EventKind::spawned:
        return {self + " was spawned", {}};
    case EventKind::strays:
        return {self + " left the bounds", {}};
    case EventKind::phaseBegin:
        return {fmt::format("phase {} of {} began", word, self), {}};
    case EventKind::phaseEnd:
        return {fmt::format("phase {} of {} ended", word, self), {}};
    case EventKind::changed:
        return {fmt::format("{} of {} changed", word, self), {}};
    case EventKind::lookEnded:
        return {self + " has played its look", {}};
    case EventKind::heard:
        return {"signal " + word + " was raised", visitor.empty() ? std::string() : " by " + visitor};
    case EventKind::arrived:
        return {self + " arrived", {}};
    case EventKind::removed:
        return {self + " was removed", {}};
    case EventKind::start:
        return {"the scene started", {}};
    }
    return {};
}

std::string doneText(const sim::Record& record, const Line& response)
{
    std::string text{rules::responseOf(response)};
    if (response.self != world::nobody)
        text += " " + std::string(record.nameOf(response.self));
    if (const std::string about = record.journal.textOf(response); !about.empty())
        text += " " + about;
    return text;
}

std::string stepText(const sim::Record& record, const Line& line)
{
    switch (line.kind) {
    case LineKind::event:
        return eventSaid(record, line).what;
    case LineKind::snare:
        return record.snareNameOf(line.snare) + (line.outcome == rules::Outcome::sprung ? "" : " slipped");
    case LineKind::response:
        return doneText(record, line);
    case LineKind::note:
        return "note: " + record.journal.textOf(line);
    }
    return {};
}

} // namespace snare::words
