// SPDX-License-Identifier: Apache-2.0
#include "rules/engine.h"

#include "rules/doing.h"
#include "rules/filter.h"

#include <fmt/format.h>

#include <cmath>
#include <set>
#include <tuple>

namespace snare::rules {

using scene::Snare;
using world::LivePiece;

Engine::Engine(std::shared_ptr<const scene::Scene> scene, std::uint64_t seed)
    : scene_(std::move(scene)), book_(*scene_), watches_(*scene_, book_), dice_(seed)
{
    gates_.resize(scene_->snares.size());
}

void Engine::reset(std::int64_t tick, const world::World& world)
{
    tick_ = tick;
    queue_.clear();
    head_ = 0;
    noted_.clear();
    runs_.clear();
    dwells_.clear();
    signalWaits_.clear();
    holds_.clear();
    insiders_.clear();
    occupancy_.clear();
    strays_.clear();
    spawned_.clear();
    restartAsked_ = false;
    armed_.clear();
    for (std::size_t i = 0; i < scene_->snares.size(); ++i) {
        armed_.push_back(scene_->snares[i].armed ? 1 : 0);
        if (scene_->snares[i].gate.reset != scene::GateReset::never) // S5
            gates_[i].forget();
    }
    watches_.reset();
    clocks_.reset(*scene_, world, tick);
}

void Engine::beginTick(std::int64_t tick)
{
    tick_ = tick;
    signalsInTick_ = 0;
    routinesInTick_ = 0;
    raised_ = 0;
}

Surroundings Engine::around(const world::World& world, const Event& event, PieceIndex self,
                            const scene::Named<scene::Scalar>* with)
{
    return {world, event, self, event.visitor, tick_, {*scene_, insiders_, dice_, scripts_, overrun_}, with};
}

// --- what happens --------------------------------------------------------------------------------------------------

void Engine::queue(Event event)
{
    queue_.push_back({Item::Kind::event, std::move(event), 0});
}

/// K9: the phases begin, then `start`.
void Engine::queueStart(const world::World& world)
{
    const auto begin = [&](PieceIndex self, const std::string& phase) {
        Event event;
        event.kind = EventKind::phaseBegin;
        event.self = self;
        event.word = phase;
        queue(std::move(event));
    };
    if (world.phase >= 0)
        begin(theScene, world.phases[static_cast<std::size_t>(world.phase)]);
    for (std::size_t i = 0; i < world.pieces.size(); ++i) {
        const LivePiece& piece = world.pieces[i];
        if (piece.present && piece.phase >= 0)
            begin(static_cast<PieceIndex>(i), piece.model->phases[static_cast<std::size_t>(piece.phase)].id);
    }
    queue(Event{});
}

void Engine::queueInput(const scene::Input& input)
{
    Event event;
    if (input.kind() == "dial") {
        const auto& sources = scene_->sources;
        const auto source = std::ranges::find(sources, input.dial, &scene::Source::id);
        if (source == sources.end() || !std::holds_alternative<scene::DialSource>(source->kind))
            return;
        event.value = input.value;
        queue_.push_back({Item::Kind::dial, std::move(event), static_cast<std::uint32_t>(source - sources.begin())});
        return;
    }
    if (input.kind() == "call") {
        event.kind = EventKind::called;
        event.word = input.call;
        event.with = std::make_shared<const scene::Named<scene::Scalar>>(input.with);
        queue(std::move(event));
        return;
    }
    const auto held = std::ranges::find(keysDown_, input.key);
    if (input.down == (held != keysDown_.end()))
        return; // auto-repeat (P7)
    if (input.down)
        keysDown_.push_back(input.key);
    else
        keysDown_.erase(held);
    event.kind = input.down ? EventKind::keyDown : EventKind::keyUp;
    event.word = input.key;
    queue(std::move(event));
}

void Engine::queueHeldKeys(bool evenIfUnheard)
{
    if (!evenIfUnheard && book_.listeningTo(EventKind::keyHeld).empty())
        return;
    for (const std::string& key : keysDown_) {
        Event event;
        event.kind = EventKind::keyHeld;
        event.word = key;
        queue(std::move(event));
    }
}

void Engine::queueClocks(const world::World& world)
{
    if (watches_.isWatched("age"))
        queue_.push_back({Item::Kind::age, {}, 0});
    for (Event& event : clocks_.due(world, tick_, scene_->rate)) {
        const bool over = event.kind == EventKind::removed;
        queue_.push_back({over ? Item::Kind::lifetime : Item::Kind::event, std::move(event), 0});
    }
    // Waits and dwells that are over, in the order they were started (K2).
    std::vector<std::pair<std::uint32_t, Item>> due;
    for (const RunState& run : runs_)
        if (run.waiting.untilTick >= 0 && run.waiting.untilTick <= tick_)
            due.push_back({run.sequence, {Item::Kind::resume, {}, run.id}});
    for (const DwellState& dwell : dwells_)
        if (dwell.untilTick <= tick_)
            due.push_back({dwell.sequence, {Item::Kind::dwellDone, {}, dwell.sequence}});
    std::ranges::sort(due, {}, [](const auto& entry) { return entry.first; });
    for (auto& entry : due)
        queue_.push_back(std::move(entry.second));
}

void Engine::queueArrivals(std::span<const motion::Arrival> arrivals)
{
    for (const motion::Arrival& arrival : arrivals) {
        Event event;
        event.kind = EventKind::arrived;
        event.self = arrival.piece;
        event.order = arrival.order;
        event.silent = arrival.turned;
        queue(std::move(event));
    }
}

void Engine::findStrays(world::World& world)
{
    strays_.clear();
    if (!scene_->bounds)
        return;
    const auto& [left, bottom, right, top] = *scene_->bounds;
    std::vector<PieceIndex> moved = world.moved; // a copy: bringing them back moves them again
    for (const int shape : world.changed)
        moved.push_back(world.shapes[static_cast<std::size_t>(shape)].piece); // and what was put somewhere
    for (const PieceIndex index : moved) {
        LivePiece& piece = world.piece(index);
        if (!piece.present || !piece.here)
            continue;
        world::Pose pose = world.pose[static_cast<std::size_t>(index)];
        const Vec inside{std::clamp(pose.at.x, left, right), std::clamp(pose.at.y, bottom, top)};
        const bool out = inside != pose.at;
        if (out && !piece.strayed)
            strays_.push_back(index);
        if (out && piece.model->outside == scene::Outside::stop && piece.carrier == nobody) {
            pose.at = inside;
            world.moveTo(index, pose);
            piece.velocity = {0, 0};
        }
        piece.strayed = out;
    }
    std::ranges::sort(strays_);
}

void Engine::queueStrays()
{
    for (const PieceIndex piece : strays_) {
        Event event;
        event.kind = EventKind::strays;
        event.self = piece;
        queue(std::move(event));
    }
}

// --- delivery ------------------------------------------------------------------------------------------------------

void Engine::deliverAll(Stagehand hand)
{
    while (head_ < queue_.size() && stopReason_.empty() && !restartAsked_) {
        Item item = std::move(queue_[head_++]);
        double frac = 0;
        switch (item.kind) {
        case Item::Kind::event:
            deliver(item.event, hand);
            frac = std::max(0.0, item.event.frac);
            break;
        case Item::Kind::resume:
            resume(item.id, hand);
            break;
        case Item::Kind::dwellDone:
            finishDwell(item.id, hand);
            break;
        case Item::Kind::dial:
            setDial(item.id, std::get<double>(*item.event.value), hand);
            break;
        case Item::Kind::age:
            judge(theScene, "age", static_cast<double>(tick_ - 1) / scene_->rate,
                  static_cast<double>(tick_) / scene_->rate, hand.world);
            break;
        case Item::Kind::lifetime:
            noted_.push_back({.kind = Noted::Kind::remove, .piece = item.event.self});
            break;
        }
        settle(frac, hand);
    }
    queue_.clear();
    head_ = 0;
}

/// K8: what responses cause can go round in a ring; true if the event is one too many.
bool Engine::countsAgainstStorms(const Event& event)
{
    switch (event.kind) {
    case EventKind::heard:
    case EventKind::phaseBegin:
    case EventKind::phaseEnd:
    case EventKind::spawned:
    case EventKind::removed:
    case EventKind::changed:
    case EventKind::rises:
    case EventKind::falls:
        break;
    default:
        return false;
    }
    if (++signalsInTick_ <= mostSignalsInATick)
        return false;
    std::set<std::string> names;
    for (std::size_t i = 0; i < std::min(raised_, raisers_.size()); ++i)
        names.insert(snareAt(raisers_[i]).id);
    stop(fmt::format("tick {}: the snares {} set each other off without end (more than {} signals, phases and changes "
                     "in one tick)",
                     tick_, fmt::join(names, ", "), mostSignalsInATick));
    return true;
}

void Engine::deliver(Event& event, Stagehand hand)
{
    event.tick = static_cast<int>(tick_);
    if (event.silent) {
        orderEnded(event.order, {}, hand);
        return;
    }
    if (countsAgainstStorms(event))
        return;
    const auto isGone = [&](PieceIndex piece) { return piece >= 0 && !hand.world.piece(piece).present; };
    const bool gone =
        !event.afterEnd && (isGone(event.self) || (event.kind != EventKind::heard && isGone(event.visitor))); // K6

    const bool counted = event.kind == EventKind::enter || event.kind == EventKind::exit;
    const bool watched = counted && watches_.isWatched("count");
    const double before = watched ? visitorsIn(event.self, insiders_) : 0;
    bool whole = true; // whether those who listen to the piece as a whole hear it (M9)
    if (event.kind == EventKind::exit) {
        if (!insiders_.has(event.self, event.shape, event.visitor) && event.afterEnd)
            return; // its enter was never offered (K5)
        if (!gone)
            insiders_.leave(event.self, event.shape, event.visitor);
        whole = !insiders_.has(event.self, event.visitor);
    } else if (event.kind == EventKind::enter && event.onlySnare < 0) {
        whole = !insiders_.has(event.self, event.visitor);
        if (!gone)
            insiders_.enter(event.self, {event.shape, event.visitor, event.part, tick_});
    } else if (event.kind == EventKind::stay) {
        whole = insiders_.speaksForWhole(event.self, event.shape, event.visitor, tick_);
    }
    if (event.onlySnare < 0)
        writeEvent(event, hand);
    if (watched)
        judge(event.self, "count", before, visitorsIn(event.self, insiders_), hand.world);
    if (event.kind == EventKind::exit)
        cancelDwells(event, hand);
    offer(event, gone, whole, hand);
    if (event.onlySnare < 0 && (event.kind == EventKind::exit || (event.kind == EventKind::enter && !gone)))
        countVisitor(event, whole, hand);
    if (event.kind == EventKind::exit && !gone)
        afterExit(event, hand);

    if (event.kind == EventKind::arrived && !gone)
        orderEnded(event.order, {}, hand);
    if (event.kind == EventKind::strays && !gone)
        applyOutside(event.self, hand.world);
    if (event.signal && event.signal->waited != 0) {
        const auto wait = std::ranges::find(signalWaits_, event.signal->waited, &SignalWait::number);
        wait->delivered = true;
        if (wait->open == 0)
            signalDone(wait->number);
    }
}

/// V9: what becomes of a piece outside, noted with the rest.
void Engine::applyOutside(PieceIndex index, const world::World& world)
{
    const LivePiece& piece = world.piece(index);
    if (piece.model->outside == scene::Outside::remove)
        noted_.push_back({.kind = Noted::Kind::remove, .piece = index});
    if (piece.model->outside != scene::Outside::wrap)
        return;
    const auto& [left, bottom, right, top] = *scene_->bounds;
    const Vec& at = world.pose[static_cast<std::size_t>(index)].at;
    const auto wrapped = [](double value, double low, double high) {
        return value < low || value > high ? low + std::fmod(std::fmod(value - low, high - low) + (high - low), high - low)
                                           : value;
    };
    noted_.push_back({.kind = Noted::Kind::put,
                      .piece = index,
                      .at = {wrapped(at.x, left, right), wrapped(at.y, bottom, top)}});
}

void Engine::writeEvent(Event& event, Stagehand hand)
{
    const bool often = event.kind == EventKind::stay || event.kind == EventKind::keyHeld;
    if (often && !hand.journal.withStays)
        return;
    Line line;
    line.kind = LineKind::event;
    line.event = event.kind;
    line.self = event.self;
    line.visitor = event.visitor;
    line.shape = event.shape;
    line.part = event.part;
    line.manner = event.manner;
    line.cause = event.cause;
    line.frac = event.frac;
    line.point = event.point;
    line.normal = event.normal;
    line.speed = event.speed;
    line.text = event.signal ? event.signal->name : event.word;
    if (event.value)
        line.speed = std::holds_alternative<double>(*event.value) ? std::get<double>(*event.value) : 0;
    event.line = hand.journal.add(std::move(line));
}

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

bool Engine::catches(int snare, const Event& event, bool whole, const world::World& world) const
{
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
    case scene::EventFamily::contact:
        break;
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

/// `every` of a stay: whether a multiple of it has elapsed since the last tick (T6).
bool Engine::isTimeToStay(int snare, const Event& event) const
{
    const double every = *snareAt(snare).catches.every;
    std::int64_t since = tick_;
    for (const Insiders::Entry& entry : insiders_.of(event.self))
        if (entry.visitor == event.visitor &&
            (snareAt(snare).catches.shape.empty() || entry.shape == event.shape))
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
        return glm::length(world.pose[static_cast<std::size_t>(piece)].at -
                           world.pose[static_cast<std::size_t>(visitor)].at);
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

void Engine::offer(Event& event, bool gone, bool whole, Stagehand hand)
{
    const auto mayHear = [&](PieceIndex self) {
        return !event.signal || !event.signal->to ||
               std::ranges::find(*event.signal->to, self) != event.signal->to->end();
    };
    // Keys, calls, signals and timers of the scene happen at the scene; a snare with `at` hears them at each of its
    // pieces. Everything else happens where it happens.
    const bool everywhere = [&] {
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
    }();
    for (const int snare : book_.listeningTo(event.kind)) {
        if ((event.onlySnare >= 0 && event.onlySnare != snare) || !catches(snare, event, whole, hand.world))
            continue;
        if (!everywhere) {
            offerAt(snare, event.self, event, gone, hand);
            continue;
        }
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
}

/// P11: with `inside`, once for each visitor that is inside self, in order of arrival.
void Engine::offerAt(int snare, PieceIndex self, Event& event, bool gone, Stagehand hand)
{
    const scene::Catch& catches = snareAt(snare).catches;
    if (catches.inside == scene::Inside::no || self < 0 || isContact(event.kind))
        return consider(snare, self, event, gone, false, hand);
    std::vector<PieceIndex> visitors;
    for (const Insiders::Entry& entry : insiders_.of(self)) {
        const bool here = catches.shape.empty() || hand.world.shapeName(entry.shape) == catches.shape;
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

void Engine::slip(int snare, PieceIndex self, const Event& event, Stage stage, std::string reason, Stagehand hand)
{
    Line line;
    line.kind = LineKind::snare;
    line.event = event.kind;
    line.snare = snare;
    line.self = self;
    line.visitor = event.visitor;
    line.shape = event.shape;
    line.outcome = Outcome::slipped;
    line.stage = stage;
    line.text = std::move(reason);
    line.about = event.line;
    hand.journal.add(std::move(line));
}

std::optional<std::string> Engine::turnedAwayByPhase(const Snare& snare, PieceIndex self,
                                                     const world::World& world) const
{
    if (snare.during.items.empty())
        return std::nullopt;
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

std::optional<std::string> Engine::turnedAwayByGate(int snare, PieceIndex self, const Event& event, bool afterDwell)
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

void Engine::consider(int snare, PieceIndex self, Event& event, bool gone, bool afterDwell, Stagehand hand)
{
    const auto index = static_cast<std::size_t>(snare);
    const Snare& rule = snareAt(snare);
    if (gone)
        return slip(snare, self, event, Stage::gone, "gone", hand);
    // S1: armed, phase, filter, gate.
    if (event.keptBy >= 0)
        return slip(snare, self, event, Stage::armed, fmt::format("kept by {}", snareAt(event.keptBy).id), hand);
    if (!armed_[index])
        return slip(snare, self, event, Stage::armed, "disarmed", hand);
    if (self >= 0 && !event.afterEnd) {
        const LivePiece& piece = hand.world.piece(self);
        if (!piece.enabled || !piece.here)
            return slip(snare, self, event, Stage::armed, piece.here ? "disabled" : "absent", hand);
    }
    if (auto reason = turnedAwayByPhase(rule, self, hand.world))
        return slip(snare, self, event, Stage::phase, std::move(*reason), hand);
    // The filter of `occupied` and `vacated` was asked when the visitor entered (M11).
    const bool counted = event.kind == EventKind::occupied || event.kind == EventKind::vacated;
    auto reason = counted ? std::nullopt : turnedAway(rule.filter, around(hand.world, event, self));
    checkOverrun(snare);
    if (reason)
        return slip(snare, self, event, Stage::filter, std::move(*reason), hand);
    if (auto why = turnedAwayByGate(snare, self, event, afterDwell))
        return slip(snare, self, event, Stage::gate, std::move(*why), hand);
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

void Engine::checkOverrun(int snare)
{
    if (overrun_.line == 0)
        return;
    stop(fmt::format("tick {}: the script of the snare {} took too much, line {}: {}", tick_, snareAt(snare).id,
                     overrun_.line, overrun_.text));
}

void Engine::spring(int snare, PieceIndex self, const Event& event, Stagehand hand)
{
    const auto index = static_cast<std::size_t>(snare);
    const Snare& rule = snareAt(snare);
    Line line;
    line.kind = LineKind::snare;
    line.event = event.kind;
    line.snare = snare;
    line.self = self;
    line.visitor = event.visitor;
    line.shape = event.shape;
    line.about = event.line;
    hand.journal.add(std::move(line));
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
    run.event = event;
    run.list = &rule.responses;
    if (event.signal && event.signal->waited != 0) {
        run.startedBy = event.signal->waited;
        ++std::ranges::find(signalWaits_, run.startedBy, &SignalWait::number)->open;
    }
    carryOut(std::move(run), hand);
}

void Engine::countVisitor(const Event& event, bool whole, Stagehand hand)
{
    const bool enters = event.kind == EventKind::enter;
    const auto& hearOccupied = book_.listeningTo(EventKind::occupied);
    const auto& hearVacated = book_.listeningTo(EventKind::vacated);
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
        queueInOrder(std::move(counted));
    };
    // Each snare that hears one of the two, or both, counts once.
    for (const int snare : enters ? hearOccupied : hearVacated)
        count(snare, enters ? EventKind::occupied : EventKind::vacated);
    for (const int snare : enters ? hearVacated : hearOccupied)
        if (const auto& done = enters ? hearOccupied : hearVacated; std::ranges::find(done, snare) == done.end())
            count(snare, enters ? EventKind::vacated : EventKind::occupied);
}

void Engine::queueInOrder(Event event)
{
    const EventKind before = event.kind == EventKind::occupied ? EventKind::enter : EventKind::exit;
    const auto moment = [](const Event& one) { return std::round(one.frac * 1e6); };
    auto at = queue_.begin() + static_cast<std::ptrdiff_t>(head_);
    const auto isAhead = [&](const Item& item) {
        if (item.kind != Item::Kind::event || moment(item.event) != moment(event))
            return false;
        if (item.event.kind == before)
            return true;
        const auto key = [](const Event& one) { return std::tuple(one.self, one.shape, one.visitor, one.onlySnare); };
        return item.event.kind == event.kind && key(item.event) < key(event);
    };
    while (at != queue_.end() && isAhead(*at))
        ++at;
    queue_.insert(at, Item{Item::Kind::event, std::move(event), 0});
}

void Engine::cancelDwells(const Event& exit, Stagehand hand)
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

void Engine::finishDwell(std::uint32_t sequence, Stagehand hand)
{
    const auto found = std::ranges::find(dwells_, sequence, &DwellState::sequence);
    if (found == dwells_.end())
        return;
    DwellState dwell = std::move(*found);
    dwells_.erase(found);
    dwell.event.keptBy = -1;
    consider(dwell.snare, dwell.self, dwell.event, false, true, hand);
}

void Engine::afterExit(const Event& exit, Stagehand hand)
{
    // S5: gates that forget when the place is empty.
    for (std::size_t i = 0; i < gates_.size(); ++i) {
        const Snare& rule = scene_->snares[i];
        if (rule.gate.reset != scene::GateReset::vacated || !hearsAt(book_.where(static_cast<int>(i)), exit.self, hand.world))
            continue;
        const bool empty = std::ranges::none_of(insiders_.of(exit.self), [&](const Insiders::Entry& entry) {
            return rule.catches.shape.empty() || hand.world.shapeName(entry.shape) == rule.catches.shape;
        });
        if (empty)
            gates_[i].forget(exit.self);
    }
    if (holds_.empty())
        return;
    const bool left = !insiders_.has(exit.self, exit.visitor);
    giveBack(holds_.release([&](const Hold& hold) {
        return hold.self == exit.self && hold.visitor == exit.visitor && (hold.shape < 0 ? left : hold.shape == exit.shape);
    }),
             hand);
}

// --- values --------------------------------------------------------------------------------------------------------

void Engine::setDial(std::size_t source, double value, Stagehand hand)
{
    const auto& dial = std::get<scene::DialSource>(scene_->sources[source].kind);
    const double next = std::clamp(value, std::min(dial.low, dial.high), std::max(dial.low, dial.high));
    const double old = std::exchange(hand.world.dials[source], next);
    if (old == next)
        return;
    hand.journal.values.push_back({hand.journal.tick, world::sourceIndex(source), "value", next});
    judge(world::sourceIndex(source), "value", old, next, hand.world);
}

void Engine::setValue(PieceIndex owner, const std::string& name, std::optional<scene::Scalar> value, Stagehand hand)
{
    auto& values = owner == theScene ? hand.world.variables : hand.world.piece(owner).properties;
    const scene::Scalar* found = values.find(name);
    const std::optional<scene::Scalar> old = found ? std::optional(*found) : std::nullopt;
    if (old == value)
        return;
    hand.journal.values.push_back({hand.journal.tick, owner, name, value});
    if (value)
        values.set(name, *value);
    else
        std::erase_if(values.entries, [&](const auto& entry) { return entry.first == name; });
    Event event;
    event.kind = EventKind::changed;
    event.self = owner;
    event.word = name;
    event.value = value;
    queue(std::move(event));
    const double* before = old ? std::get_if<double>(&*old) : nullptr;
    const double* now = value ? std::get_if<double>(&*value) : nullptr;
    if (before && now)
        judge(owner, name, *before, *now, hand.world);
}

void Engine::judge(PieceIndex owner, std::string_view name, double old, double now, const world::World& world)
{
    if (watches_.empty() || old == now)
        return;
    watches_.judge(owner, name, old, now, world, [&](int watch, PieceIndex self, EventKind kind) {
        Event event;
        event.kind = kind;
        event.self = self;
        event.watch = watch;
        event.word = watches_.wordOf(watch);
        event.value = now;
        queue(std::move(event));
    });
}

/// S13: what a meeting held is as it was before.
void Engine::giveBack(std::vector<Hold> holds, Stagehand hand)
{
    for (const Hold& hold : holds) {
        if (hold.what == Hold::What::caption) {
            hand.journal.lines[static_cast<std::size_t>(hold.line)].until = hand.journal.tick;
            continue;
        }
        if (hold.piece >= 0 && !hand.world.piece(hold.piece).present)
            continue;
        const auto note = [&](Noted noted) {
            noted.piece = hold.piece;
            noted.shape = hold.held;
            noted_.push_back(std::move(noted));
        };
        switch (hold.what) {
        case Hold::What::shown:
            note({.kind = hold.flag ? Noted::Kind::show : Noted::Kind::hide});
            break;
        case Hold::What::enabled:
            note({.kind = hold.flag ? Noted::Kind::enable : Noted::Kind::disable});
            break;
        case Hold::What::group:
            note({.kind = Noted::Kind::regroup, .group = static_cast<int>(hold.number)});
            break;
        case Hold::What::scale:
            note({.kind = Noted::Kind::resize, .scale = hold.number});
            break;
        case Hold::What::factor:
            note({.kind = Noted::Kind::resize, .relative = true, .scale = 1 / hold.number});
            break;
        case Hold::What::look:
            putOn(hold.piece, static_cast<int>(hold.number), hand);
            break;
        case Hold::What::value:
            setAny(hold.piece, hold.name, hold.before, hand);
            break;
        case Hold::What::added: {
            const Event nothing;
            const auto now = valueOf(hold.piece, hold.name, around(hand.world, nothing, hold.piece));
            if (const double* number = now ? std::get_if<double>(&*now) : nullptr)
                setAny(hold.piece, hold.name, *number - hold.number, hand);
            break;
        }
        case Hold::What::tag:
            std::erase(hand.world.piece(hold.piece).tags, hold.name);
            if (hold.flag)
                hand.world.piece(hold.piece).tags.push_back(hold.name);
            break;
        case Hold::What::caption:
            break;
        }
    }
}

/// Sets a value of any owner: a property or variable, a dial, or a built-in number that can be set.
void Engine::setAny(PieceIndex owner, const std::string& name, const std::optional<scene::Scalar>& value,
                    Stagehand hand)
{
    const double* number = value ? std::get_if<double>(&*value) : nullptr;
    if (world::isSource(owner)) {
        if (number && std::holds_alternative<scene::DialSource>(scene_->sources[world::sourceNumber(owner)].kind))
            setDial(world::sourceNumber(owner), *number, hand);
        return;
    }
    if (owner < 0 || hand.world.piece(owner).properties.find(name))
        return setValue(owner, name, value, hand);
    LivePiece& piece = hand.world.piece(owner);
    const world::Pose& pose = hand.world.pose[static_cast<std::size_t>(owner)];
    if (!number)
        return setValue(owner, name, value, hand);
    if (name == "vx" || name == "vy")
        (name == "vx" ? piece.velocity.x : piece.velocity.y) = *number;
    else if (name == "vz")
        piece.rise = *number;
    else if (name == "spin")
        piece.spin = *number;
    else if (name == "layer")
        piece.layer = static_cast<int>(std::clamp(*number, -1e6, 1e6));
    else if (name == "x" || name == "y")
        noted_.push_back({.kind = Noted::Kind::put,
                          .piece = owner,
                          .at = name == "x" ? Vec{*number, pose.at.y} : Vec{pose.at.x, *number}});
    else if (name == "z")
        noted_.push_back({.kind = Noted::Kind::put, .piece = owner, .at = pose.at, .height = *number});
    else if (name == "turn")
        noted_.push_back({.kind = Noted::Kind::put, .piece = owner, .at = pose.at, .turn = *number, .turns = true});
    else
        setValue(owner, name, value, hand);
}

std::string Engine::freeName(const std::string& form, const world::World& world)
{
    auto found = std::ranges::find(spawned_, form, &std::pair<std::string, int>::first);
    if (found == spawned_.end())
        found = spawned_.insert(spawned_.end(), {form, 0});
    std::string name;
    const auto taken = [&] {
        const PieceIndex piece = world.find(name);
        return piece != nobody && (world.piece(piece).present || piece < static_cast<PieceIndex>(scene_->pieces.size()));
    };
    do
        name = fmt::format("{}-{}", form, ++found->second);
    while (taken() || world.findSource(name) != nobody);
    return name;
}

/// Puts a look on a piece; shapes traced from it follow with what settles (N2, K7).
void Engine::putOn(PieceIndex index, int look, Stagehand hand)
{
    LivePiece& piece = hand.world.piece(index);
    piece.look = look;
    piece.dressed = tick_;
    clocks_.play(hand.world, index, tick_, scene_->rate);
    if (!hand.world.traced.empty())
        noted_.push_back({.kind = Noted::Kind::retrace, .piece = index});
}

// --- runs ----------------------------------------------------------------------------------------------------------

void Engine::resume(std::uint32_t id, Stagehand hand)
{
    const auto found = std::ranges::find(runs_, id, &RunState::id);
    if (found == runs_.end())
        return;
    RunState run = std::move(*found);
    runs_.erase(found);
    run.waiting = {};
    carryOut(std::move(run), hand);
}

std::uint32_t Engine::carryOut(RunState run, Stagehand hand)
{
    while (run.step < run.list->size() && stopReason_.empty()) {
        const scene::Response& response = (*run.list)[run.step++];
        Doing doing{*this, hand, run};
        doing.carryOut(response);
        checkOverrun(run.snare);
        if (!run.waiting.anything())
            continue;
        if (run.self >= 0 && !hand.world.piece(run.self).present)
            break; // S9: up to the first wait
        run.sequence = ++lastSequence_;
        runs_.push_back(std::move(run));
        return runs_.back().id;
    }
    ended(run);
    return 0;
}

void Engine::ended(const RunState& run)
{
    for (const RunState& other : runs_) // whoever waits for this routine goes on
        if (other.waiting.run == run.id)
            queue_.push_back({Item::Kind::resume, {}, other.id});
    if (run.startedBy == 0)
        return;
    const auto wait = std::ranges::find(signalWaits_, run.startedBy, &SignalWait::number);
    if (wait != signalWaits_.end() && --wait->open == 0 && wait->delivered)
        signalDone(wait->number);
}

void Engine::endRuns(const std::function<bool(const RunState&)>& which)
{
    for (std::size_t i = 0; i < runs_.size();) {
        if (!which(runs_[i])) {
            ++i;
            continue;
        }
        const RunState run = std::move(runs_[i]);
        runs_.erase(runs_.begin() + static_cast<std::ptrdiff_t>(i));
        ended(run);
    }
}

void Engine::signalDone(std::uint32_t number)
{
    std::erase_if(signalWaits_, [&](const SignalWait& wait) { return wait.number == number; });
    for (const RunState& run : runs_)
        if (run.waiting.signal == number)
            queue_.push_back({Item::Kind::resume, {}, run.id});
}

void Engine::orderEnded(std::uint32_t order, std::string_view overtaken, Stagehand hand)
{
    for (RunState& run : runs_) {
        if (std::erase(run.waiting.orders, order) == 0)
            continue;
        if (!overtaken.empty()) {
            Line line;
            line.kind = LineKind::note;
            line.snare = run.snare;
            line.about = run.event.line;
            line.text = fmt::format("{} goes on: its move was overtaken by {}",
                                    scene_->snares[static_cast<std::size_t>(run.snare)].id, overtaken);
            hand.journal.add(std::move(line));
        }
        if (run.waiting.orders.empty())
            queue_.push_back({Item::Kind::resume, {}, run.id});
    }
}

} // namespace snare::rules
