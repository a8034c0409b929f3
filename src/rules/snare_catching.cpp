// SPDX-License-Identifier: Apache-2.0
/// What a snare catches: which events, at which pieces, of which meetings.
#include "rules/snare_matcher.h"

#include "detect/pick.h"
#include "rules/clock.h"
#include "rules/values.h"

#include <cmath>

namespace snare::rules {

bool SnareMatcher::catchesContact(int snare, const Event& event, bool whole, const TickContext& tick) const
{
    const world::World& world = tick.world;
    const scene::Catch& catches = tick.snareAt(snare).catches;
    const Where& where = book_.where(snare);
    if (isPointer(event.visitor)) {
        // P1: only if the filter names it. What reaches all has meetings of its own (P2).
        const bool through = event.visitor == pointerThrough;
        if (!book_.namesPointer(snare) || (catches.reach == scene::Reach::all) != through)
            return false;
    }
    if (where.kind == Where::Kind::scene || !hearsAt(where, event.self, world))
        return false;
    if (event.kind == EventKind::stay && catches.every && !isTimeToStay(snare, event, tick))
        return false;
    if (where.kind == Where::Kind::selector) {
        if (catches.shape.empty() || event.shape < 0)
            return whole;
        return world.shapeName(event.shape) == catches.shape;
    }
    if (where.shapeNumber < 0 || event.shape < 0)
        return whole;
    return world.shapes()[static_cast<std::size_t>(event.shape)].number == where.shapeNumber;
}

bool SnareMatcher::catchesAct(int snare, const Event& event, const TickContext& tick) const
{
    const world::World& world = tick.world;
    const scene::Catch& catches = tick.snareAt(snare).catches;
    const Where& where = book_.where(snare);
    if (!hearsAt(where, event.self, world) || (event.through && catches.reach != scene::Reach::all))
        return false;
    if (catches.button && *catches.button != event.act->button)
        return false;
    const auto isHeld = [&](scene::Modifier modifier) {
        return std::ranges::find(event.act->modifiers, modifier) != event.act->modifiers.end();
    };
    if (!std::ranges::all_of(catches.modifiers.items, isHeld))
        return false;
    if (catches.shape.empty() || event.self < 0)
        return true;
    // What is dragged is told by where it was pressed, the rest by what the pointer is over.
    const bool dragged =
        event.kind == EventKind::dragBegin || event.kind == EventKind::drag || event.kind == EventKind::dragEnd;
    if (dragged)
        return event.shape >= 0 && world.shapeName(event.shape) == catches.shape;
    for (const world::LiveShape& shape : world.shapesOf(event.self)) {
        const int index = static_cast<int>(&shape - world.shapes().data());
        if (world.shapeName(index) == catches.shape)
            return shape.isOn() && detect::isAtPointer(world, index);
    }
    return false;
}

bool SnareMatcher::catches(int snare, const Event& event, bool whole, const TickContext& tick) const
{
    const world::World& world = tick.world;
    if (isContact(event.kind))
        return catchesContact(snare, event, whole, tick);
    const scene::Catch& catches = tick.snareAt(snare).catches;
    const Where& where = book_.where(snare);
    switch (scene::familyOf(event.kind)) {
    case scene::EventFamily::key: {
        const std::vector<std::string>& keys = book_.keysOf(snare);
        return std::ranges::find(keys, event.word) != keys.end() || std::ranges::find(keys, "any") != keys.end();
    }
    case scene::EventFamily::timer:
        // A timer of a piece belongs to it, with or without `at` (P8).
        return !catches.source.empty() && catches.source == event.word &&
               (event.self < 0 || catches.at.empty() || hearsAt(where, event.self, world));
    case scene::EventFamily::watch: // it is heard where the piece is by now (S1)
        return event.watch >= 0 && tick.values.watchOf(snare) == event.watch && hearsAt(where, event.self, world);
    case scene::EventFamily::call:
        return !catches.name.empty() && catches.name == event.word;
    case scene::EventFamily::signal:
        return !catches.signal.empty() && catches.signal == event.signal->name;
    case scene::EventFamily::scene:
        return true;
    case scene::EventFamily::phase:
        return (catches.phase.empty() || catches.phase == event.word) && hearsAt(where, event.self, world);
    case scene::EventFamily::value:
        return !catches.value.empty() && catches.value == event.word && hearsAt(where, event.self, world);
    case scene::EventFamily::piece:
        return hearsAt(where, event.self, world);
    case scene::EventFamily::pointer:
        return catchesAct(snare, event, tick);
    case scene::EventFamily::contact:
        break;
    }
    return false;
}

/// `every` of a stay: whether a multiple of it has elapsed since the last tick (T6).
bool SnareMatcher::isTimeToStay(int snare, const Event& event, const TickContext& tick) const
{
    const double every = *tick.snareAt(snare).catches.every;
    const Presence::Stay& stay = *presence_.find(event.self, event.visitor);
    const std::int64_t since = tick.snareAt(snare).catches.shape.empty() ? stay.since : stay.in(event.shape)->since;
    const double passed = static_cast<double>(tick.number - since);
    const double most = std::floor((passed + tickSlack) / (every * tick.scene.rate));
    return most >= 1 && tickAfter(since, most * every, tick.scene.rate) > tick.number - 1;
}

/// P11: of all selves of the snare that the visitor is inside as the catch means, whether this one
/// is the nearest; of two as near, the first in the scene.
bool SnareMatcher::isNearest(int snare, PieceIndex self, PieceIndex visitor, const TickContext& tick) const
{
    const world::World& world = tick.world;
    const std::string& shape = tick.snareAt(snare).catches.shape;
    const auto distance = [&](PieceIndex piece) {
        const Vec from =
            isPointer(visitor) ? world.pointerFor(piece) : world.pose()[static_cast<std::size_t>(visitor)].at;
        return glm::length(world.pose()[static_cast<std::size_t>(piece)].at - from);
    };
    const double own = distance(self);
    bool nearest = true;
    presence_.forEachOf(visitor, [&](const Presence::Stay& stay) {
        if (!nearest || stay.self == self || !world.piece(stay.self).present ||
            !hearsAt(book_.where(snare), stay.self, world) || !meetingMeant(stay, shape, world))
            return;
        const double theirs = distance(stay.self);
        nearest = !(theirs < own || (theirs == own && stay.self < self));
    });
    return nearest;
}

/// Who is inside a piece as the catch means, in order of arrival there (P11), with the first shape
/// that it came into.
std::vector<std::pair<PieceIndex, Presence::InShape>> SnareMatcher::insidersFor(int snare, PieceIndex self,
                                                                                const TickContext& tick) const
{
    const world::World& world = tick.world;
    std::vector<std::tuple<MeetingId, PieceIndex, Presence::InShape>> found;
    presence_.forEachIn(self, [&](const Presence::Stay& stay) {
        if (const auto meeting = meetingMeant(stay, tick.snareAt(snare).catches.shape, world)) {
            const auto in = std::ranges::find(stay.shapes, *meeting, &Presence::InShape::meeting);
            found.emplace_back(*meeting, stay.visitor, in == stay.shapes.end() ? stay.shapes.front() : *in);
        }
    });
    std::ranges::sort(found, {}, [](const auto& one) { return std::get<MeetingId>(one); });
    std::vector<std::pair<PieceIndex, Presence::InShape>> result;
    result.reserve(found.size());
    for (const auto& [meeting, visitor, in] : found)
        result.emplace_back(visitor, in);
    return result;
}

CausingMeeting SnareMatcher::causeOf(int snare, PieceIndex self, const Event& event, const TickContext& tick) const
{
    using State = CausingMeeting::State;
    if (event.kind == EventKind::exit || event.kind == EventKind::vacated)
        return {State::over};
    const Presence::Stay* stay = self < 0 ? nullptr : presence_.find(self, event.visitor);
    const std::string& shape = tick.snareAt(snare).catches.shape;
    const auto meeting = stay ? meetingMeant(*stay, shape, tick.world) : std::nullopt;
    if (!meeting)
        return {isContact(event.kind) || event.kind == EventKind::occupied ? State::over : State::none};
    for (const Presence::InShape& in : stay->shapes)
        if (in.meeting == *meeting)
            return {State::on, *meeting, in.shape};
    return {State::on, *meeting, -1};
}

bool SnareMatcher::isOn(const CausingMeeting& cause, PieceIndex self, PieceIndex visitor) const
{
    if (cause.state != CausingMeeting::State::on)
        return false;
    const Presence::Stay* stay = presence_.find(self, visitor);
    if (!stay || cause.shape < 0)
        return stay && stay->meeting == cause.meeting;
    const Presence::InShape* in = stay->in(cause.shape);
    return in && in->meeting == cause.meeting;
}

} // namespace snare::rules
