// SPDX-License-Identifier: Apache-2.0
/// Offering an event: who hears it, at which stage it slips, and what springs (S1 to S7, S12, M11, P11).
#include "rules/engine.h"

#include "detect/pick.h"
#include "rules/filter.h"

#include <fmt/format.h>

#include <cmath>
#include <tuple>

namespace snare::rules {

using scene::Snare;
using world::LivePiece;

namespace {

/// The meeting that a catch at a shape of this name means, or at the piece as a whole if it names none (M9); nothing if
/// the visitor is in no such shape.
std::optional<MeetingId> meetingMeant(const Presence::Stay& stay, std::string_view shape, const world::World& world)
{
    if (shape.empty())
        return stay.meeting;
    for (const Presence::InShape& in : stay.shapes)
        if (in.shape >= 0 && world.shapeName(in.shape) == shape)
            return in.meeting;
    return std::nullopt;
}

} // namespace

bool Engine::catchesContact(int snare, const Event& event, bool whole, const world::World& world) const
{
    const scene::Catch& catches = snareAt(snare).catches;
    const Where& where = book_.where(snare);
    if (isPointer(event.visitor)) {
        // P1: only if the filter names it. What reaches all has meetings of its own (P2).
        const bool through = event.visitor == pointerThrough;
        if (!book_.namesPointer(snare) || (catches.reach == scene::Reach::all) != through)
            return false;
    }
    if (where.kind == Where::Kind::scene || !hearsAt(where, event.self, world))
        return false;
    if (event.kind == EventKind::stay && catches.every && !isTimeToStay(snare, event))
        return false;
    if (where.kind == Where::Kind::selector) {
        if (catches.shape.empty() || event.shape < 0)
            return whole;
        return world.shapeName(event.shape) == catches.shape;
    }
    if (where.shapeNumber < 0 || event.shape < 0)
        return whole;
    return world.shapes[static_cast<std::size_t>(event.shape)].number == where.shapeNumber;
}

bool Engine::catchesAct(int snare, const Event& event, const world::World& world) const
{
    const scene::Catch& catches = snareAt(snare).catches;
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
        const int index = static_cast<int>(&shape - world.shapes.data());
        if (world.shapeName(index) == catches.shape)
            return shape.isOn() && detect::isAtPointer(world, index);
    }
    return false;
}

bool Engine::catches(int snare, const Event& event, bool whole, const world::World& world) const
{
    if (isContact(event.kind))
        return catchesContact(snare, event, whole, world);
    const scene::Catch& catches = snareAt(snare).catches;
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
        return event.watch >= 0 && watches_.of(snare) == event.watch && hearsAt(where, event.self, world);
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
        return catchesAct(snare, event, world);
    case scene::EventFamily::contact:
        break;
    }
    return false;
}

/// `every` of a stay: whether a multiple of it has elapsed since the last tick (T6).
bool Engine::isTimeToStay(int snare, const Event& event) const
{
    const double every = *snareAt(snare).catches.every;
    const Presence::Stay& stay = *presence_.find(event.self, event.visitor);
    const std::int64_t since = snareAt(snare).catches.shape.empty() ? stay.since : stay.in(event.shape)->since;
    const double passed = static_cast<double>(tick_ - since);
    const double most = std::floor((passed + tickSlack) / (every * scene_->rate));
    return most >= 1 && tickAfter(since, most * every, scene_->rate) > tick_ - 1;
}

/// P11: of all selves of the snare that the visitor is inside as the catch means, whether this one is the nearest; of
/// two as near, the first in the scene.
bool Engine::isNearest(int snare, PieceIndex self, PieceIndex visitor, const world::World& world) const
{
    const std::string& shape = snareAt(snare).catches.shape;
    const auto distance = [&](PieceIndex piece) {
        const Vec from =
            isPointer(visitor) ? world.pointerFor(piece) : world.pose[static_cast<std::size_t>(visitor)].at;
        return glm::length(world.pose[static_cast<std::size_t>(piece)].at - from);
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

/// Who is inside a piece as the catch means, in order of arrival there (P11), with the first shape that it came into.
std::vector<std::pair<PieceIndex, Presence::InShape>> Engine::insidersFor(int snare, PieceIndex self,
                                                                          const world::World& world) const
{
    std::vector<std::tuple<MeetingId, PieceIndex, Presence::InShape>> found;
    presence_.forEachIn(self, [&](const Presence::Stay& stay) {
        if (const auto meeting = meetingMeant(stay, snareAt(snare).catches.shape, world)) {
            const auto in = std::ranges::find(stay.shapes, *meeting, &Presence::InShape::meeting);
            found.emplace_back(*meeting, stay.visitor, in == stay.shapes.end() ? stay.shapes.front() : *in);
        }
    });
    std::ranges::sort(found, {}, [](const auto& one) { return std::get<MeetingId>(one); });
    std::vector<std::pair<PieceIndex, Presence::InShape>> result;
    for (const auto& [meeting, visitor, in] : found)
        result.emplace_back(visitor, in);
    return result;
}

namespace {

/// Keys, calls, signals and timers of the scene happen at the scene; a snare with `at` hears them at each of its
/// pieces. Everything else happens where it happens.
bool happensEverywhere(const Event& event)
{
    switch (scene::familyOf(event.kind)) {
    case scene::EventFamily::key:
    case scene::EventFamily::call:
    case scene::EventFamily::signal:
    case scene::EventFamily::scene:
        return true;
    case scene::EventFamily::timer:
        return event.self == theScene;
    default:
        return false;
    }
}

} // namespace

/// What matches is asked anew for each snare: a tag that an earlier one has just given counts (S1).
void Engine::offer(Event& event, bool gone, bool whole, const TickContext& hand)
{
    std::vector<int> room;
    const std::string_view word = event.signal ? event.signal->name : event.word;
    std::span<const int> hearers = book_.hearersOf(event.kind, event.self, word, hand.world, room);
    std::uint32_t tagChanges = hand.world.tagChanges;
    for (auto at = hearers.begin(); at != hearers.end();) {
        const int snare = *at++;
        if ((event.onlySnare >= 0 && event.onlySnare != snare) || !catches(snare, event, whole, hand.world))
            continue;
        if (happensEverywhere(event))
            offerEverywhere(snare, event, gone, hand);
        else
            offerAt(snare, event.self, event, gone, hand);
        if (hand.world.tagChanges == tagChanges)
            continue;
        tagChanges = hand.world.tagChanges;
        hearers = book_.hearersOf(event.kind, event.self, word, hand.world, room);
        at = std::ranges::upper_bound(hearers, snare);
    }
}

void Engine::offerEverywhere(int snare, Event& event, bool gone, const TickContext& hand)
{
    const auto mayHear = [&](PieceIndex self) {
        return !event.signal || !event.signal->to || std::ranges::binary_search(*event.signal->to, self);
    };
    const Where& where = book_.where(snare);
    switch (where.kind) {
    case Where::Kind::scene:
        if (mayHear(theScene))
            offerAt(snare, theScene, event, gone, hand);
        break;
    case Where::Kind::piece:
        if (hand.world.piece(where.piece).present && mayHear(where.piece))
            offerAt(snare, where.piece, event, gone, hand);
        break;
    case Where::Kind::selector:
        for (const PieceIndex self : piecesOf(where.selector, hand.world))
            if (mayHear(self))
                offerAt(snare, self, event, gone, hand);
        break;
    case Where::Kind::nowhere:
        break;
    }
}

/// P11: with `inside`, once for each visitor that is inside self, in order of arrival.
void Engine::offerAt(int snare, PieceIndex self, Event& event, bool gone, const TickContext& hand)
{
    const scene::Catch& catches = snareAt(snare).catches;
    if (catches.inside == scene::Inside::no || self < 0 || isContact(event.kind) ||
        scene::familyOf(event.kind) == scene::EventFamily::pointer)
        return consider(snare, self, event, gone, false, hand);
    for (const auto& [visitor, in] : insidersFor(snare, self, hand.world)) {
        if (isPointer(visitor) && (visitor == pointerThrough || !book_.namesPointer(snare)))
            continue;
        if (catches.inside == scene::Inside::nearest && !isNearest(snare, self, visitor, hand.world))
            continue;
        Event offered = event;
        offered.visitor = visitor;
        consider(snare, self, offered, gone, false, hand);
        event.keptBy = offered.keptBy;
    }
}

namespace {

/// Writes what became of an event at a snare; it sprang if nothing else is said.
Line& tellOutcome(int snare, PieceIndex self, const Event& event, Journal& journal)
{
    Line& line = journal.add(LineKind::snare);
    line.event = event.kind;
    line.snare = snare;
    line.self = self;
    line.visitor = event.visitor;
    line.shape = event.shape;
    line.about = event.line;
    return line;
}

} // namespace

void Engine::slip(int snare, PieceIndex self, const Event& event, SlipStage stage, std::string_view reason,
                  const TickContext& hand)
{
    Line& line = tellOutcome(snare, self, event, hand.journal);
    line.outcome = Outcome::slipped;
    line.stage = stage;
    line.text = hand.journal.texts.keep(reason);
}

std::optional<std::string> Engine::turnedAwayByPhase(const Snare& snare, PieceIndex self,
                                                     const world::World& world) const
{
    const std::string sceneNow = world.phase < 0 ? std::string() : world.phases[static_cast<std::size_t>(world.phase)];
    std::string selfNow;
    if (self >= 0)
        if (const LivePiece& piece = world.piece(self); piece.phase >= 0)
            selfNow = piece.model->phases[static_cast<std::size_t>(piece.phase)].id;
    bool asksScene = false;
    for (const std::string& phase : snare.during.items) {
        const bool ofScene = phase.starts_with("scene:");
        asksScene = asksScene || ofScene;
        const std::string_view name = ofScene ? std::string_view(phase).substr(6) : std::string_view(phase);
        const std::string& now = ofScene ? sceneNow : selfNow;
        if (!now.empty() && now == name)
            return std::nullopt;
    }
    const std::string& now = asksScene ? sceneNow : selfNow;
    return fmt::format("phase is {}, needs {}", now.empty() ? "none" : now, fmt::join(snare.during.items, " or "));
}

inline std::optional<std::string> Engine::turnedAwayByGate(int snare, PieceIndex self, const Event& event,
                                                           bool afterDwell)
{
    const scene::Gate& gate = snareAt(snare).gate;
    const GateMemory& memory = gates_[static_cast<std::size_t>(snare)];
    if (auto reason = memory.turnedAway(gate, self, event.visitor, tick_, scene_->rate))
        return reason;
    // Chance is asked once for an event: not again when a dwell is over.
    if (gate.chance && !afterDwell && random_.next() >= *gate.chance)
        return fmt::format("chance {:.9g}", *gate.chance);
    return std::nullopt;
}

inline void Engine::spring(int snare, PieceIndex self, const Event& event, const TickContext& hand)
{
    const auto index = static_cast<std::size_t>(snare);
    const Snare& rule = snareAt(snare);
    tellOutcome(snare, self, event, hand.journal);
    gates_[index].sprang(rule.gate, self, event.visitor, tick_);
    if (rule.gate.reset == scene::GateReset::vacated && self >= 0)
        if (std::vector<int>& here = forgetful_[self]; std::ranges::find(here, snare) == here.end())
            here.push_back(snare);
    if (rule.responses.empty())
        return;
    if (rule.again == scene::Again::restart && !runs_.empty()) // S8
        endRuns(runs_.takeOf(snare, self));
    RunState run;
    run.id = ++lastRun_;
    run.snare = snare;
    run.self = self;
    run.visitor = event.visitor;
    if (book_.asksForMeeting(snare))
        run.cause = causeOf(snare, self, event, hand.world);
    run.lent = &event;
    run.list = &rule.responses;
    if (event.signal && event.signal->waited != 0) {
        run.startedBy = event.signal->waited;
        ++signalWait(run.startedBy)->open;
    }
    carryOut(std::move(run), hand);
}

void Engine::consider(int snare, PieceIndex self, Event& event, bool gone, bool afterDwell, const TickContext& hand)
{
    const auto index = static_cast<std::size_t>(snare);
    const Snare& rule = snareAt(snare);
    if (gone)
        return slip(snare, self, event, SlipStage::gone, "gone", hand);
    // S1: armed, phase, filter, gate.
    if (event.keptBy >= 0 && event.keptBy < snare) // S12: from those after it; at its other pieces it springs too
        return slip(snare, self, event, SlipStage::armed, fmt::format("kept by {}", snareAt(event.keptBy).id), hand);
    if (!armed_[index])
        return slip(snare, self, event, SlipStage::armed, "disarmed", hand);
    if (self >= 0 && !event.afterEnd) {
        const LivePiece& piece = hand.world.piece(self);
        if (!piece.enabled || !piece.here)
            return slip(snare, self, event, SlipStage::armed, piece.here ? "disabled" : "absent", hand);
    }
    if (auto reason = rule.during.items.empty() ? std::nullopt : turnedAwayByPhase(rule, self, hand.world))
        return slip(snare, self, event, SlipStage::phase, *reason, hand);
    // The filter of `occupied` and `vacated` was asked when the visitor entered (M11).
    const bool counted = event.kind == EventKind::occupied || event.kind == EventKind::vacated;
    auto reason = counted ? std::nullopt : turnedAway(rule.filter, around(hand, event, self));
    checkOverrun(snare);
    if (reason)
        return slip(snare, self, event, SlipStage::filter, *reason, hand);
    if (auto why = turnedAwayByGate(snare, self, event, afterDwell))
        return slip(snare, self, event, SlipStage::gate, *why, hand);
    if (rule.gate.dwell && canDwell(event.kind) && !afterDwell) {
        const Presence::Stay* stay = presence_.find(self, event.visitor);
        const auto meeting = stay ? meetingMeant(*stay, rule.catches.shape, hand.world) : std::nullopt;
        if (!meeting) // it has left before it was offered
            return slip(snare, self, event, SlipStage::gate,
                        fmt::format("stayed 0.000 s, needs {:.9g} s", *rule.gate.dwell), hand);
        if (!dwells_.has(snare, *meeting))
            dwells_.add(
                {++lastSequence_, snare, self, *meeting, event, tickAfter(tick_, *rule.gate.dwell, scene_->rate)});
        return; // nothing is logged until it is decided (S4)
    }
    if (rule.again == scene::Again::ignore && runs_.isRunning(snare, self))
        return slip(snare, self, event, SlipStage::gate, "running", hand);
    if (rule.claims)
        event.keptBy = snare; // S12
    spring(snare, self, event, hand);
}

void Engine::stopForOverrun(int snare)
{
    stop(fmt::format("tick {}: the script of the snare {} took too much, line {}: {}", tick_, snareAt(snare).id,
                     overrun_.line, overrun_.text));
}

void Engine::countIn(const Event& enter, bool whole, const TickContext& hand)
{
    std::vector<int> room;
    std::vector<int> moreRoom;
    const auto hearOccupied = book_.hearersOf(EventKind::occupied, enter.self, {}, hand.world, room);
    const auto hearVacated = book_.hearersOf(EventKind::vacated, enter.self, {}, hand.world, moreRoom);
    if (hearOccupied.empty() && hearVacated.empty())
        return;
    const Presence::Stay& stay = *presence_.find(enter.self, enter.visitor);
    const auto count = [&](int snare, bool hears) {
        if (!catches(snare, enter, whole, hand.world) ||
            turnedAway(snareAt(snare).filter, around(hand, enter, enter.self)))
            return;
        checkOverrun(snare);
        const auto meeting = meetingMeant(stay, snareAt(snare).catches.shape, hand.world);
        if (meeting && occupancy_.enter(snare, enter.self, *meeting) && hears)
            queueCounted(enter, EventKind::occupied, snare);
    };
    // Each snare that hears one of the two, or both, counts once.
    for (const int snare : hearOccupied)
        count(snare, true);
    for (const int snare : hearVacated)
        if (std::ranges::find(hearOccupied, snare) == hearOccupied.end())
            count(snare, false);
}

void Engine::countOut(const Event& exit, const Presence::Ended& ended)
{
    for (const MeetingId meeting : {ended.shape, ended.whole})
        occupancy_.leave(exit.self, meeting, [&](int snare) {
            const auto& kinds = snareAt(snare).catches.event.items;
            if (std::ranges::find(kinds, EventKind::vacated) != kinds.end())
                queueCounted(exit, EventKind::vacated, snare);
        });
}

/// M11: what comes of counting stands behind the events of its kind and moment (M12).
void Engine::queueCounted(const Event& event, EventKind kind, int snare)
{
    Event counted = event;
    counted.kind = kind;
    counted.onlySnare = snare;
    queueInOrder(counted);
}

void Engine::queueInOrder(const Event& event)
{
    const EventKind before = event.kind == EventKind::occupied ? EventKind::enter : EventKind::exit;
    const auto moment = [](const Event& one) { return std::round(one.frac * 1e6); };
    const auto isAhead = [&](const Item& item) {
        if (item.kind != Item::Kind::event || moment(item.event) != moment(event))
            return false;
        if (item.event.kind == before)
            return true;
        const auto key = [](const Event& one) { return std::tuple(one.self, one.shape, one.visitor, one.onlySnare); };
        return item.event.kind == event.kind && key(item.event) < key(event);
    };
    agenda_.insertBehind(event, isAhead);
}

void Engine::cancelDwells(const Presence::Ended& ended, const TickContext& hand)
{
    for (const Dwell& dwell : dwells_.takeOf(ended))
        slip(dwell.snare, dwell.self, dwell.event, SlipStage::gate,
             fmt::format("stayed {:.3f} s, needs {:.9g} s",
                         static_cast<double>(tick_ - dwell.event.tick) / scene_->rate,
                         snareAt(dwell.snare).gate.dwell.value_or(0)),
             hand);
}

void Engine::finishDwell(std::uint32_t sequence, const TickContext& hand)
{
    auto dwell = dwells_.take(sequence);
    if (!dwell)
        return;
    dwell->event.keptBy = -1;
    consider(dwell->snare, dwell->self, dwell->event, false, true, hand);
}

void Engine::afterExit(const Event& exit, const Presence::Ended& ended, const TickContext& hand)
{
    // S5: gates that forget when the place is empty.
    if (std::vector<int>* snares = forgetful_.find(exit.self)) {
        std::erase_if(*snares, [&](int snare) {
            const std::string& shape = snareAt(snare).catches.shape;
            int inside = shape.empty() ? presence_.allIn(exit.self) : 0;
            for (const world::LiveShape& one : hand.world.shapesOf(exit.self))
                if (const auto index = static_cast<int>(&one - hand.world.shapes.data());
                    !shape.empty() && hand.world.shapeName(index) == shape)
                    inside += presence_.allInShape(index);
            if (inside == 0)
                gates_[static_cast<std::size_t>(snare)].forget(exit.self);
            return inside == 0;
        });
        if (snares->empty())
            forgetful_.erase(exit.self);
    }
    if (!holds_.empty())
        giveBack(holds_.releaseOf(ended), hand);
}

CausingMeeting Engine::causeOf(int snare, PieceIndex self, const Event& event, const world::World& world) const
{
    using State = CausingMeeting::State;
    if (event.kind == EventKind::exit || event.kind == EventKind::vacated)
        return {State::over};
    const Presence::Stay* stay = self < 0 ? nullptr : presence_.find(self, event.visitor);
    const std::string& shape = snareAt(snare).catches.shape;
    const auto meeting = stay ? meetingMeant(*stay, shape, world) : std::nullopt;
    if (!meeting)
        return {isContact(event.kind) || event.kind == EventKind::occupied ? State::over : State::none};
    for (const Presence::InShape& in : stay->shapes)
        if (in.meeting == *meeting)
            return {State::on, *meeting, in.shape};
    return {State::on, *meeting, -1};
}

bool Engine::isOn(const CausingMeeting& cause, PieceIndex self, PieceIndex visitor) const
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
