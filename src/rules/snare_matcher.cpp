// SPDX-License-Identifier: Apache-2.0
/// Offering an event: who hears it, at which stage it slips, and what springs (S1 to S7, S12, M11,
/// P11).
#include "rules/snare_matcher.h"

#include "detect/order.h"
#include "rules/clock.h"
#include "rules/event_queue.h"
#include "rules/filter.h"
#include "rules/response_runs.h"
#include "rules/values.h"

#include <fmt/format.h>

#include <tuple>

namespace snare::rules {

using scene::Snare;
using world::LivePiece;

void SnareMatcher::reset(const scene::Scene& scene)
{
    dwells_.clear();
    presence_.clear();
    occupancy_.clear();
    forgetful_.clear();
    armed_.clear();
    for (std::size_t i = 0; i < scene.snares.size(); ++i) {
        armed_.push_back(scene.snares[i].armed ? 1 : 0);
        if (scene.snares[i].gate.reset != scene::GateReset::never) // S5
            gates_[i].forget();
        else // T5: spawned pieces are gone
            gates_[i].forgetFrom(static_cast<PieceIndex>(scene.pieces.size()));
    }
}

void SnareMatcher::offerContact(Event& event, bool gone, const TickContext& tick)
{
    const int before = presence_.piecesIn(event.self);
    const auto tell = [&] {
        if (event.onlySnare < 0)
            tick.journal.addEvent(event, gone);
        tick.because(event);
    };
    bool whole = true; // whether those who listen to the piece as a whole hear it (M9)
    Presence::Ended ended;
    if (event.kind == EventKind::exit) {
        ended = presence_.leave(event.self, event.shape, event.visitor);
        if (ended.shape == noMeeting && event.afterEnd)
            return; // its enter was never offered (K5)
        tell();
        if (event.afterEnd && event.manner == Manner::stop) // what rested on it moves now
            for (const PieceIndex piece : {event.self, event.visitor})
                if (piece >= 0 && (tick.world.piece(piece).loose || tick.world.piece(piece).walks))
                    tick.world.movedBy(piece, event.line);
        whole = !presence_.has(event.self, event.visitor);
    } else if (event.kind == EventKind::stay) {
        const Presence::Stay* stay = presence_.find(event.self, event.visitor);
        const Presence::InShape* in = stay ? stay->in(event.shape) : nullptr;
        if (!in || in->since == tick.number)
            return; // a restart has let it enter in this tick (M5)
        event.because = in->line;
        tell();
        whole = presence_.speaksForWhole(event.self, event.shape, event.visitor, tick.number);
    } else {
        tell();
        if (event.onlySnare < 0)
            whole = gone ? !presence_.has(event.self, event.visitor)
                         : presence_.enter(event.self, event.shape, event.visitor, event.part, tick.number, event.line);
    }
    tick.values.judge(event.self, "count", before, presence_.piecesIn(event.self), tick);
    if (event.kind == EventKind::exit)
        cancelDwells(ended, tick);
    offer(event, gone, whole, tick);
    tick.because(event);
    if (event.kind == EventKind::enter && event.onlySnare < 0 && !gone)
        countIn(event, whole, tick);
    if (event.kind != EventKind::exit)
        return;
    countOut(event, ended, tick);
    forgetVacated(event.self, tick);
    tick.values.release(ended, tick);
}

namespace {

/// Keys, calls, signals and timers of the scene happen at the scene; a snare with `at` hears them
/// at each of its pieces. Everything else happens where it happens.
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
void SnareMatcher::offer(Event& event, bool gone, bool whole, const TickContext& tick)
{
    std::vector<int> room;
    const std::string_view word = event.signal ? event.signal->name : event.word;
    std::span<const int> hearers = book_.hearersOf(event.kind, event.self, word, tick.world, room);
    std::uint32_t tagChanges = tick.world.tagChanges();
    for (auto at = hearers.begin(); at != hearers.end();) {
        const int snare = *at++;
        if ((event.onlySnare >= 0 && event.onlySnare != snare) || !catches(snare, event, whole, tick))
            continue;
        if (happensEverywhere(event))
            offerEverywhere(snare, event, gone, tick);
        else
            offerAt(snare, event.self, event, gone, tick);
        if (tick.world.tagChanges() == tagChanges)
            continue;
        tagChanges = tick.world.tagChanges();
        hearers = book_.hearersOf(event.kind, event.self, word, tick.world, room);
        at = std::ranges::upper_bound(hearers, snare);
    }
}

void SnareMatcher::offerEverywhere(int snare, Event& event, bool gone, const TickContext& tick)
{
    const auto mayHear = [&](PieceIndex self) {
        return !event.signal || !event.signal->to || std::ranges::binary_search(*event.signal->to, self);
    };
    const Where& where = book_.where(snare);
    switch (where.kind) {
    case Where::Kind::scene:
        if (mayHear(theScene))
            offerAt(snare, theScene, event, gone, tick);
        break;
    case Where::Kind::piece:
        if (tick.world.piece(where.piece).present && mayHear(where.piece))
            offerAt(snare, where.piece, event, gone, tick);
        break;
    case Where::Kind::selector:
        for (const PieceIndex self : piecesOf(where.selector, tick.world))
            if (mayHear(self))
                offerAt(snare, self, event, gone, tick);
        break;
    case Where::Kind::nowhere:
        break;
    }
}

/// P11: with `inside`, once for each visitor that is inside self, in order of arrival.
void SnareMatcher::offerAt(int snare, PieceIndex self, Event& event, bool gone, const TickContext& tick)
{
    const scene::Catch& catches = tick.snareAt(snare).catches;
    if (catches.inside == scene::Inside::no || self < 0 || isContact(event.kind) ||
        scene::familyOf(event.kind) == scene::EventFamily::pointer)
        return consider(snare, self, event, gone, false, tick);
    for (const auto& [visitor, in] : insidersFor(snare, self, tick)) {
        if (isPointer(visitor) && (visitor == pointerThrough || !book_.namesPointer(snare)))
            continue;
        if (catches.inside == scene::Inside::nearest && !isNearest(snare, self, visitor, tick))
            continue;
        Event offered = event;
        offered.visitor = visitor;
        consider(snare, self, offered, gone, false, tick);
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

void slip(int snare, PieceIndex self, const Event& event, SlipStage stage, std::string_view reason, Journal& journal)
{
    Line& line = tellOutcome(snare, self, event, journal);
    line.outcome = Outcome::slipped;
    line.stage = stage;
    line.text = journal.texts.keep(reason);
}

/// S2: why the phases turn an event away, or nothing.
std::optional<std::string> turnedAwayByPhase(const Snare& snare, PieceIndex self, const world::World& world)
{
    const std::string sceneNow =
        world.phase() < 0 ? std::string() : world.phases()[static_cast<std::size_t>(world.phase())];
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

} // namespace

inline std::optional<std::string> SnareMatcher::turnedAwayByGate(int snare, PieceIndex self, const Event& event,
                                                                 bool afterDwell, const TickContext& tick)
{
    const scene::Gate& gate = tick.snareAt(snare).gate;
    const GateMemory& memory = gates_[static_cast<std::size_t>(snare)];
    if (auto reason = memory.turnedAway(gate, self, event.visitor, tick.number, tick.scene.rate))
        return reason;
    // Chance is asked once for an event: not again when a dwell is over.
    if (gate.chance && !afterDwell && tick.evaluator.random.next() >= *gate.chance)
        return fmt::format("chance {:.9g}", *gate.chance);
    return std::nullopt;
}

inline void SnareMatcher::spring(int snare, PieceIndex self, const Event& event, const TickContext& tick)
{
    const auto index = static_cast<std::size_t>(snare);
    const Snare& rule = tick.snareAt(snare);
    tellOutcome(snare, self, event, tick.journal);
    gates_[index].sprang(rule.gate, self, event.visitor, tick.number);
    if (rule.gate.reset == scene::GateReset::vacated && self >= 0)
        if (std::vector<int>& here = forgetful_[self]; std::ranges::find(here, snare) == here.end())
            here.push_back(snare);
    if (rule.responses.empty())
        return;
    if (rule.again == scene::Again::restart && !tick.runs.empty()) // S8
        tick.runs.end(snare, self, tick);
    RunState run;
    run.snare = snare;
    run.sprang = static_cast<std::int32_t>(tick.journal.lines.size()) - 1;
    run.self = self;
    run.visitor = event.visitor;
    if (book_.asksForMeeting(snare))
        run.cause = causeOf(snare, self, event, tick);
    run.lent = &event;
    run.list = &rule.responses;
    if (event.signal && event.signal->waited != 0) {
        run.startedBy = event.signal->waited;
        tick.runs.addToSignal(run.startedBy);
    }
    tick.runs.start(std::move(run), tick);
}

void SnareMatcher::consider(int snare, PieceIndex self, Event& event, bool gone, bool afterDwell,
                            const TickContext& tick)
{
    const auto index = static_cast<std::size_t>(snare);
    const Snare& rule = tick.snareAt(snare);
    tick.because(event);
    if (gone)
        return slip(snare, self, event, SlipStage::gone, "gone", tick.journal);
    // S1: armed, phase, filter, gate.
    if (event.keptBy >= 0 && event.keptBy < snare) // S12: from those after it; at its other pieces it springs too
        return slip(snare, self, event, SlipStage::armed, fmt::format("kept by {}", tick.snareAt(event.keptBy).id),
                    tick.journal);
    if (!armed_[index])
        return slip(snare, self, event, SlipStage::armed, "disarmed", tick.journal);
    if (self >= 0 && !event.afterEnd) {
        const LivePiece& piece = tick.world.piece(self);
        if (!piece.enabled || !piece.here)
            return slip(snare, self, event, SlipStage::armed, piece.here ? "disabled" : "absent", tick.journal);
    }
    if (auto reason = rule.during.items.empty() ? std::nullopt : turnedAwayByPhase(rule, self, tick.world))
        return slip(snare, self, event, SlipStage::phase, *reason, tick.journal);
    // The filter of `occupied` and `vacated` was asked when the visitor entered (M11).
    const bool counted = event.kind == EventKind::occupied || event.kind == EventKind::vacated;
    auto reason = counted ? std::nullopt : turnedAway(rule.filter, tick.around(event, self));
    tick.checkOverrun(snare);
    if (reason)
        return slip(snare, self, event, SlipStage::filter, *reason, tick.journal);
    if (auto why = turnedAwayByGate(snare, self, event, afterDwell, tick))
        return slip(snare, self, event, SlipStage::gate, *why, tick.journal);
    if (rule.gate.dwell && canDwell(event.kind) && !afterDwell)
        return startDwell(snare, self, event, tick);
    if (rule.again == scene::Again::ignore && tick.runs.isRunning(snare, self))
        return slip(snare, self, event, SlipStage::gate, "running", tick.journal);
    if (rule.claims)
        event.keptBy = snare; // S12
    spring(snare, self, event, tick);
}

/// S4: nothing is logged until it is decided whether the visitor stays.
void SnareMatcher::startDwell(int snare, PieceIndex self, const Event& event, const TickContext& tick)
{
    const Snare& rule = tick.snareAt(snare);
    const Presence::Stay* stay = presence_.find(self, event.visitor);
    const auto meeting = stay ? meetingMeant(*stay, rule.catches.shape, tick.world) : std::nullopt;
    if (!meeting) // it has left before it was offered
        return slip(snare, self, event, SlipStage::gate,
                    fmt::format("stayed 0.000 s, needs {:.9g} s", *rule.gate.dwell), tick.journal);
    if (dwells_.has(snare, *meeting))
        return;
    dwells_.add({tick.runs.nextSequence(), snare, self, *meeting, event,
                 tickAfter(tick.number, *rule.gate.dwell, tick.scene.rate)});
}

namespace {

/// M11: what comes of counting stands behind the events of its kind and moment (M12).
void queueCounted(const Event& event, EventKind kind, int snare, EventQueue& queue)
{
    Event counted = event;
    counted.kind = kind;
    counted.onlySnare = snare;
    const auto key = [](const Event& one) { return std::tuple(one.self, one.shape, one.visitor, one.onlySnare); };
    queue.insertBehind(counted, [&](const Item& item) {
        if (item.kind != Item::Kind::event || detect::momentOf(item.event.frac) != detect::momentOf(counted.frac))
            return false;
        if (item.event.kind == kind)
            return key(item.event) < key(counted);
        return detect::rankOf(item.event.kind) + 1 == detect::rankOf(kind);
    });
}

} // namespace

void SnareMatcher::countIn(const Event& enter, bool whole, const TickContext& tick)
{
    std::vector<int> room;
    std::vector<int> moreRoom;
    const auto hearOccupied = book_.hearersOf(EventKind::occupied, enter.self, {}, tick.world, room);
    const auto hearVacated = book_.hearersOf(EventKind::vacated, enter.self, {}, tick.world, moreRoom);
    if (hearOccupied.empty() && hearVacated.empty())
        return;
    const Presence::Stay& stay = *presence_.find(enter.self, enter.visitor);
    const auto count = [&](int snare, bool hears) {
        if (!catches(snare, enter, whole, tick) ||
            turnedAway(tick.snareAt(snare).filter, tick.around(enter, enter.self)))
            return;
        tick.checkOverrun(snare);
        const auto meeting = meetingMeant(stay, tick.snareAt(snare).catches.shape, tick.world);
        if (meeting && occupancy_.enter(snare, enter.self, *meeting) && hears)
            queueCounted(enter, EventKind::occupied, snare, tick.queue);
    };
    // Each snare that hears one of the two, or both, counts once.
    for (const int snare : hearOccupied)
        count(snare, true);
    for (const int snare : hearVacated)
        if (std::ranges::find(hearOccupied, snare) == hearOccupied.end())
            count(snare, false);
}

void SnareMatcher::countOut(const Event& exit, const Presence::Ended& ended, const TickContext& tick)
{
    for (const MeetingId meeting : {ended.shape, ended.whole})
        occupancy_.leave(exit.self, meeting, [&](int snare) {
            const auto& kinds = tick.snareAt(snare).catches.event.items;
            if (std::ranges::find(kinds, EventKind::vacated) != kinds.end())
                queueCounted(exit, EventKind::vacated, snare, tick.queue);
        });
}

void SnareMatcher::cancelDwells(const Presence::Ended& ended, const TickContext& tick)
{
    for (const Dwell& dwell : dwells_.takeOf(ended))
        slip(dwell.snare, dwell.self, dwell.event, SlipStage::gate,
             fmt::format("stayed {:.3f} s, needs {:.9g} s",
                         static_cast<double>(tick.number - dwell.event.tick) / tick.scene.rate,
                         tick.snareAt(dwell.snare).gate.dwell.value_or(0)),
             tick.journal);
}

void SnareMatcher::finishDwell(std::uint32_t sequence, const TickContext& tick)
{
    auto dwell = dwells_.take(sequence);
    if (!dwell)
        return;
    dwell->event.keptBy = -1;
    consider(dwell->snare, dwell->self, dwell->event, false, true, tick);
}

/// S5: gates that forget when the place is empty.
void SnareMatcher::forgetVacated(PieceIndex self, const TickContext& tick)
{
    std::vector<int>* snares = forgetful_.find(self);
    if (!snares)
        return;
    std::erase_if(*snares, [&](int snare) {
        const std::string& shape = tick.snareAt(snare).catches.shape;
        int inside = shape.empty() ? presence_.allIn(self) : 0;
        for (const world::LiveShape& one : tick.world.shapesOf(self))
            if (const auto index = static_cast<int>(&one - tick.world.shapes().data());
                !shape.empty() && tick.world.shapeName(index) == shape)
                inside += presence_.allInShape(index);
        if (inside == 0)
            gates_[static_cast<std::size_t>(snare)].forget(self);
        return inside == 0;
    });
    if (snares->empty())
        forgetful_.erase(self);
}

void SnareMatcher::catchUpWithPhase(PieceIndex owner, const std::string& from, const std::string& to,
                                    const TickContext& tick)
{
    const std::string prefix = owner == theScene ? "scene:" : "";
    for (std::size_t i = 0; i < tick.scene.snares.size(); ++i) {
        const auto& during = tick.scene.snares[i].during.items;
        const auto listens = [&](const std::string& phase) {
            return std::ranges::find(during, prefix + phase) != during.end();
        };
        if (tick.scene.snares[i].gate.catchUp && listens(to) && !listens(from) && armed_[i])
            catchUp(static_cast<int>(i), owner == theScene ? nobody : owner, tick);
    }
}

void SnareMatcher::catchUp(int snare, PieceIndex only, const TickContext& tick)
{
    const scene::Snare& rule = tick.snareAt(snare);
    const auto& listening = book_.listeningTo(EventKind::enter);
    if (!rule.gate.catchUp || std::ranges::find(listening, snare) == listening.end())
        return;
    const Where& where = book_.where(snare);
    std::vector<PieceIndex> selves;
    if (where.kind == Where::Kind::piece)
        selves = {where.piece};
    else if (where.kind == Where::Kind::selector)
        selves = piecesOf(where.selector, tick.world);
    if (only != nobody)
        std::erase_if(selves, [&](PieceIndex self) { return self != only; });
    for (const PieceIndex self : selves) {
        for (const auto& [visitor, in] : insidersFor(snare, self, tick)) {
            Event event;
            event.kind = EventKind::enter;
            event.self = self;
            event.visitor = visitor;
            event.shape = in.shape;
            event.part = in.part;
            event.cause = Cause::armed;
            event.frac = 0;
            event.onlySnare = snare;
            tick.queue.add(std::move(event));
        }
    }
}

} // namespace snare::rules
