// SPDX-License-Identifier: Apache-2.0
/// Offering an event: who hears it, at which stage it slips, and what springs (S1 to S7, S12, M11, P11).
#include "rules/engine.h"

#include "rules/filter.h"

#include <fmt/format.h>

#include <cmath>
#include <tuple>

namespace snare::rules {

using scene::Snare;
using world::LivePiece;

/// Whether a snare that catches there hears what happens at `self`.
bool Engine::hearsAt(const Where& where, PieceIndex self, const world::World& world)
{
    switch (where.kind) {
    case Where::Kind::scene:
        return self == theScene;
    case Where::Kind::piece:
        return where.piece == self;
    case Where::Kind::selector:
        return isSelected(where.selector, world, self);
    case Where::Kind::nowhere:
        break;
    }
    return false;
}

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
        return catches.source == event.word &&
               (event.self < 0 || catches.at.empty() || hearsAt(where, event.self, world));
    case scene::EventFamily::watch:
        return event.watch >= 0 && watches_.of(snare) == event.watch;
    case scene::EventFamily::call:
        return catches.name == event.word;
    case scene::EventFamily::signal:
        return catches.signal == event.signal->name;
    case scene::EventFamily::scene:
        return true;
    case scene::EventFamily::phase:
        return (catches.phase.empty() || catches.phase == event.word) && hearsAt(where, event.self, world);
    case scene::EventFamily::value:
        return catches.value == event.word && hearsAt(where, event.self, world);
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
    std::int64_t since = tick_;
    for (const Insiders::Entry& entry : insiders_.of(event.self))
        if (entry.visitor == event.visitor && (snareAt(snare).catches.shape.empty() || entry.shape == event.shape))
            since = std::min(since, entry.since);
    const double passed = static_cast<double>(tick_ - since);
    const double most = std::floor((passed + tickSlack) / (every * scene_->rate));
    return most >= 1 && tickAfter(since, most * every, scene_->rate) > tick_ - 1;
}

/// P11: of all selves of the snare that the visitor is inside, whether this one is the nearest; of two as near, the
/// first in the scene.
bool Engine::isNearest(int snare, PieceIndex self, PieceIndex visitor, const world::World& world) const
{
    const auto distance = [&](PieceIndex piece) {
        const Vec from =
            isPointer(visitor) ? world.pointerFor(piece) : world.pose[static_cast<std::size_t>(visitor)].at;
        return glm::length(world.pose[static_cast<std::size_t>(piece)].at - from);
    };
    const double own = distance(self);
    for (const PieceIndex other : piecesOf(snareAt(snare).catches.at, world)) {
        if (other == self || !insiders_.has(other, visitor))
            continue;
        const double theirs = distance(other);
        if (theirs < own || (theirs == own && other < self))
            return false;
    }
    return true;
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

void Engine::offer(Event& event, bool gone, bool whole, const Stagehand& hand)
{
    std::vector<int> room;
    const std::span<const int> hearers =
        book_.hearersOf(event.kind, event.self, event.signal ? event.signal->name : event.word, hand.world, room);
    for (const int snare : hearers) {
        if ((event.onlySnare >= 0 && event.onlySnare != snare) || !catches(snare, event, whole, hand.world))
            continue;
        if (happensEverywhere(event))
            offerEverywhere(snare, event, gone, hand);
        else
            offerAt(snare, event.self, event, gone, hand);
    }
}

void Engine::offerEverywhere(int snare, Event& event, bool gone, const Stagehand& hand)
{
    const auto mayHear = [&](PieceIndex self) {
        return !event.signal || !event.signal->to ||
               std::ranges::find(*event.signal->to, self) != event.signal->to->end();
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
void Engine::offerAt(int snare, PieceIndex self, Event& event, bool gone, const Stagehand& hand)
{
    const scene::Catch& catches = snareAt(snare).catches;
    if (catches.inside == scene::Inside::no || self < 0 || isContact(event.kind) ||
        scene::familyOf(event.kind) == scene::EventFamily::pointer)
        return consider(snare, self, event, gone, false, hand);
    std::vector<PieceIndex> visitors;
    for (const Insiders::Entry& entry : insiders_.of(self)) {
        const bool here = catches.shape.empty() || hand.world.shapeName(entry.shape) == catches.shape;
        if (isPointer(entry.visitor) && (entry.visitor == pointerThrough || !book_.namesPointer(snare)))
            continue;
        if (here && std::ranges::find(visitors, entry.visitor) == visitors.end())
            visitors.push_back(entry.visitor);
    }
    for (const PieceIndex visitor : visitors) {
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

void Engine::slip(int snare, PieceIndex self, const Event& event, Stage stage, std::string_view reason,
                  const Stagehand& hand)
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
    if (gate.chance && !afterDwell && dice_.next() >= *gate.chance)
        return fmt::format("chance {:.9g}", *gate.chance);
    return std::nullopt;
}

inline void Engine::spring(int snare, PieceIndex self, const Event& event, const Stagehand& hand)
{
    const auto index = static_cast<std::size_t>(snare);
    const Snare& rule = snareAt(snare);
    tellOutcome(snare, self, event, hand.journal);
    gates_[index].sprang(rule.gate, self, event.visitor, tick_);
    if (rule.responses.empty())
        return;
    if (rule.again == scene::Again::restart && !runs_.empty()) // S8
        endRuns([&](const RunState& run) { return run.snare == snare && run.self == self; });
    RunState run;
    run.id = ++lastRun_;
    run.snare = snare;
    run.self = self;
    run.visitor = event.visitor;
    run.lent = &event;
    run.list = &rule.responses;
    if (event.signal && event.signal->waited != 0) {
        run.startedBy = event.signal->waited;
        ++std::ranges::find(signalWaits_, run.startedBy, &SignalWait::number)->open;
    }
    carryOut(std::move(run), hand);
}

void Engine::consider(int snare, PieceIndex self, Event& event, bool gone, bool afterDwell, const Stagehand& hand)
{
    const auto index = static_cast<std::size_t>(snare);
    const Snare& rule = snareAt(snare);
    if (gone)
        return slip(snare, self, event, Stage::gone, "gone", hand);
    // S1: armed, phase, filter, gate.
    if (event.keptBy >= 0 && event.keptBy != snare) // at its other pieces it springs too
        return slip(snare, self, event, Stage::armed, fmt::format("kept by {}", snareAt(event.keptBy).id), hand);
    if (!armed_[index])
        return slip(snare, self, event, Stage::armed, "disarmed", hand);
    if (self >= 0 && !event.afterEnd) {
        const LivePiece& piece = hand.world.piece(self);
        if (!piece.enabled || !piece.here)
            return slip(snare, self, event, Stage::armed, piece.here ? "disabled" : "absent", hand);
    }
    if (auto reason = rule.during.items.empty() ? std::nullopt : turnedAwayByPhase(rule, self, hand.world))
        return slip(snare, self, event, Stage::phase, *reason, hand);
    // The filter of `occupied` and `vacated` was asked when the visitor entered (M11).
    const bool counted = event.kind == EventKind::occupied || event.kind == EventKind::vacated;
    auto reason = counted ? std::nullopt : turnedAway(rule.filter, around(hand.world, event, self));
    checkOverrun(snare);
    if (reason)
        return slip(snare, self, event, Stage::filter, *reason, hand);
    if (auto why = turnedAwayByGate(snare, self, event, afterDwell))
        return slip(snare, self, event, Stage::gate, *why, hand);
    const bool canDwell = event.kind == EventKind::enter || event.kind == EventKind::stay;
    if (rule.gate.dwell && canDwell && !afterDwell) {
        const bool dwells = std::ranges::any_of(dwells_, [&](const DwellState& dwell) {
            return dwell.snare == snare && dwell.self == self && dwell.event.visitor == event.visitor;
        });
        if (!dwells)
            dwells_.push_back({++lastSequence_, snare, self, event, tickAfter(tick_, *rule.gate.dwell, scene_->rate)});
        return; // nothing is logged until it is decided (S4)
    }
    if (rule.again == scene::Again::ignore) {
        const auto isRunning = [&](const RunState& run) { return run.snare == snare && run.self == self; };
        if (std::ranges::any_of(runs_, isRunning))
            return slip(snare, self, event, Stage::gate, "running", hand);
    }
    if (rule.claims)
        event.keptBy = snare; // S12
    spring(snare, self, event, hand);
}

void Engine::stopForOverrun(int snare)
{
    stop(fmt::format("tick {}: the script of the snare {} took too much, line {}: {}", tick_, snareAt(snare).id,
                     overrun_.line, overrun_.text));
}

void Engine::countVisitor(const Event& event, bool whole, const Stagehand& hand)
{
    const bool enters = event.kind == EventKind::enter;
    if (book_.listeningTo(EventKind::occupied).empty() && book_.listeningTo(EventKind::vacated).empty())
        return;
    std::vector<int> room;
    std::vector<int> moreRoom;
    const auto hearOccupied = book_.hearersOf(EventKind::occupied, event.self, {}, hand.world, room);
    const auto hearVacated = book_.hearersOf(EventKind::vacated, event.self, {}, hand.world, moreRoom);
    const auto count = [&](int snare, EventKind kind) {
        if (!catches(snare, event, whole, hand.world))
            return;
        if (enters) {
            if (turnedAway(snareAt(snare).filter, around(hand.world, event, event.self)) ||
                !occupancy_.enter(snare, event.self, event.visitor))
                return;
        } else if (!occupancy_.leave(snare, event.self, event.visitor)) {
            return;
        }
        if (kind != (enters ? EventKind::occupied : EventKind::vacated))
            return;
        Event counted = event;
        counted.kind = kind;
        counted.onlySnare = snare;
        queueInOrder(counted);
    };
    // Each snare that hears one of the two, or both, counts once.
    for (const int snare : enters ? hearOccupied : hearVacated)
        count(snare, enters ? EventKind::occupied : EventKind::vacated);
    for (const int snare : enters ? hearVacated : hearOccupied)
        if (const auto& done = enters ? hearOccupied : hearVacated; std::ranges::find(done, snare) == done.end())
            count(snare, enters ? EventKind::vacated : EventKind::occupied);
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

void Engine::cancelDwells(const Event& exit, const Stagehand& hand)
{
    const auto left = [&](const DwellState& dwell) {
        if (dwell.self != exit.self || dwell.event.visitor != exit.visitor)
            return false;
        const bool oneShape = book_.where(dwell.snare).shapeNumber >= 0;
        return oneShape ? dwell.event.shape == exit.shape : !insiders_.has(exit.self, exit.visitor);
    };
    for (std::size_t i = 0; i < dwells_.size();) {
        if (!left(dwells_[i])) {
            ++i;
            continue;
        }
        const DwellState dwell = std::move(dwells_[i]);
        dwells_.erase(dwells_.begin() + static_cast<std::ptrdiff_t>(i));
        const double wanted = scene_->snares[static_cast<std::size_t>(dwell.snare)].gate.dwell.value_or(0);
        slip(dwell.snare, dwell.self, dwell.event, Stage::gate,
             fmt::format("stayed {:.3f} s, needs {:.9g} s",
                         static_cast<double>(tick_ - dwell.event.tick) / scene_->rate, wanted),
             hand);
    }
}

void Engine::finishDwell(std::uint32_t sequence, const Stagehand& hand)
{
    const auto found = std::ranges::find(dwells_, sequence, &DwellState::sequence);
    if (found == dwells_.end())
        return;
    DwellState dwell = std::move(*found);
    dwells_.erase(found);
    dwell.event.keptBy = -1;
    consider(dwell.snare, dwell.self, dwell.event, false, true, hand);
}

void Engine::afterExit(const Event& exit, const Stagehand& hand)
{
    // S5: gates that forget when the place is empty.
    for (const int snare : book_.forgetful()) {
        const Snare& rule = snareAt(snare);
        if (!hearsAt(book_.where(snare), exit.self, hand.world))
            continue;
        const bool empty = std::ranges::none_of(insiders_.of(exit.self), [&](const Insiders::Entry& entry) {
            return rule.catches.shape.empty() || hand.world.shapeName(entry.shape) == rule.catches.shape;
        });
        if (empty)
            gates_[static_cast<std::size_t>(snare)].forget(exit.self);
    }
    if (holds_.empty())
        return;
    const bool left = !insiders_.has(exit.self, exit.visitor);
    giveBack(holds_.release([&](const Hold& hold) {
        return hold.self == exit.self && hold.visitor == exit.visitor &&
               (hold.shape < 0 ? left : hold.shape == exit.shape);
    }),
             hand);
}

} // namespace snare::rules
