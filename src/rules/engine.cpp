// SPDX-License-Identifier: Apache-2.0
#include "rules/engine.h"

#include <fmt/format.h>

#include <cmath>
#include <set>

namespace snare::rules {

using scene::Snare;
using world::LivePiece;

Engine::Engine(std::shared_ptr<const scene::Scene> scene, std::uint64_t seed)
    : scene_(std::move(scene)), book_(*scene_), watches_(*scene_, book_), random_(seed)
{
    gates_.resize(scene_->snares.size());
}

void Engine::reset(std::int64_t tick, const world::World& world)
{
    tick_ = tick;
    agenda_.clear();
    pending_.clear();
    runs_.clear();
    dwells_.clear();
    signalWaits_.clear();
    holds_.clear();
    presence_.clear();
    occupancy_.clear();
    pointer_.forget();
    strays_.clear();
    spawned_.clear();
    spawnedAtOnce_ = 0;
    restartAsked_ = false;
    armed_.clear();
    for (std::size_t i = 0; i < scene_->snares.size(); ++i) {
        armed_.push_back(scene_->snares[i].armed ? 1 : 0);
        if (scene_->snares[i].gate.reset != scene::GateReset::never) // S5
            gates_[i].forget();
        else // T5: spawned pieces are gone
            gates_[i].forgetFrom(static_cast<PieceIndex>(scene_->pieces.size()));
    }
    forgetful_.clear();
    watches_.reset();
    clocks_.reset(*scene_, world, tick);
}

void Engine::beginTick(std::int64_t tick)
{
    tick_ = tick;
    signalsInTick_ = 0;
    causedInTick_ = 0;
    routinesInTick_ = 0;
}

// --- what happens --------------------------------------------------------------------------------------------------

/// K9: the phases begin, then `start`.
void Engine::queueStart(const world::World& world)
{
    const auto begin = [&](PieceIndex self, const std::string& phase) {
        queueNew(EventKind::phaseBegin, self).word = phase;
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

void Engine::noteIgnored(Journal& journal) const
{
    for (std::size_t i = 0; i < scene_->snares.size(); ++i) {
        const Snare& snare = scene_->snares[i];
        if (!snare.gate.dwell || std::ranges::any_of(snare.catches.event.items, canDwell))
            continue;
        Line& line = journal.add(LineKind::note);
        line.snare = static_cast<std::int32_t>(i);
        line.text = journal.texts.keep(
            fmt::format("the dwell of {} is ignored: only enter and stay can be waited for", snare.id));
    }
}

void Engine::queueInput(const scene::Input& input)
{
    if (input.kind() == "dial") {
        const auto& sources = scene_->sources;
        const auto source = std::ranges::find(sources, input.dial, &scene::Source::id);
        if (source == sources.end() || !std::holds_alternative<scene::DialSource>(source->kind))
            return;
        agenda_.addInput(Item::Kind::dial, static_cast<std::uint32_t>(source - sources.begin())).event.value =
            input.value;
        return;
    }
    if (input.pointer || input.glass) {
        agenda_.addInput(Item::Kind::pointer, input.glass ? 1u : 0u).event.point =
            input.pointer ? *input.pointer : *input.glass;
        return;
    }
    if (input.button) {
        PointerAct act;
        act.button = *input.button;
        agenda_.addInput(Item::Kind::dragTold);
        agenda_.addInput(Item::Kind::button, input.down ? 1u : 0u).event.act =
            std::make_shared<const PointerAct>(std::move(act));
        return;
    }
    if (input.kind() == "call") {
        Event& event = agenda_.addInput(Item::Kind::event).event;
        event.kind = EventKind::called;
        event.word = input.call;
        event.with = std::make_shared<const scene::Named<scene::Scalar>>(input.with);
        return;
    }
    agenda_.addInput(Item::Kind::key, input.down ? 1u : 0u).event.word = input.key;
}

void Engine::queueInputsEnd()
{
    if (pointer_.isPressing() || !agenda_.empty())
        agenda_.addInput(Item::Kind::dragTold);
}

/// What is dragged follows when this delivery is settled.
void Engine::addDragged(const world::World& world)
{
    if (std::optional<PendingChange> put = pointer_.putOfDragged(world))
        pending_.push_back(std::move(*put));
}

void Engine::queueLaterInputs()
{
    agenda_.insertNext(std::exchange(laterInputs_, {}));
}

/// P7: auto-repeat is ignored.
void Engine::deliverKey(const Item& item)
{
    const bool down = item.id != 0;
    const auto held = std::ranges::find(keysDown_, item.event.word);
    if (down == (held != keysDown_.end()))
        return;
    if (down)
        keysDown_.push_back(item.event.word);
    else
        keysDown_.erase(held);
    Event event;
    event.kind = down ? EventKind::keyDown : EventKind::keyUp;
    event.word = item.event.word;
    agenda_.insertNext({{Item::Kind::event, 0, std::move(event)}});
}

void Engine::queueHeldKeys(bool evenIfUnheard)
{
    if (evenIfUnheard || !book_.listeningTo(EventKind::keyHeld).empty())
        agenda_.add(Item::Kind::heldKeys);
}

void Engine::queueClocks(const world::World& world)
{
    if (watches_.isWatched("age"))
        agenda_.add(Item::Kind::age);
    for (Event& event : clocks_.due(world, tick_, scene_->rate)) {
        const bool over = event.kind == EventKind::removed;
        agenda_.add(over ? Item::Kind::lifetime : Item::Kind::event).event = std::move(event);
    }
    // Waits and dwells that are over, in the order they were started (K2).
    std::vector<std::tuple<std::uint32_t, Item::Kind, std::uint32_t>> due;
    runs_.forEachDue(
        tick_, [&](std::uint32_t sequence, std::uint32_t id) { due.emplace_back(sequence, Item::Kind::resume, id); });
    dwells_.forEachDue(tick_,
                       [&](std::uint32_t sequence) { due.emplace_back(sequence, Item::Kind::dwellDone, sequence); });
    std::ranges::sort(due);
    for (const auto& [sequence, kind, id] : due)
        agenda_.add(kind, id);
}

void Engine::queueArrivals(std::span<const motion::Arrival> arrivals)
{
    for (const motion::Arrival& arrival : arrivals) {
        Event& event = queueNew(EventKind::arrived, arrival.piece);
        event.order = arrival.order;
        event.silent = arrival.turned;
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
    for (const PieceIndex piece : strays_)
        queueNew(EventKind::strays, piece);
}

// --- delivery ------------------------------------------------------------------------------------------------------

void Engine::deliverAll(const TickContext& hand)
{
    while (!agenda_.empty() && stopReason_.empty() && !restartAsked_ && !hand.isCancelled()) {
        Item& item = agenda_.take();
        const bool isEvent = item.kind == Item::Kind::event;
        if (isEvent)
            deliver(item.event, hand);
        else if (item.kind == Item::Kind::unheard)
            tellUnheard(item, hand.journal);
        else
            carryOut(item, hand);
        if (!pending_.empty())
            commit(isEvent ? std::max(0.0, item.event.frac) : 0, hand);
    }
    if (restartAsked_) // T5: what is still to come of the inputs is dealt with after the new start
        agenda_.moveInputsTo(laterInputs_);
    agenda_.clear();
}

void Engine::tellUnheard(const Item& item, Journal& journal)
{
    if (isStorm(EventKind::changed))
        return;
    Line& line = journal.add(LineKind::event);
    line.event = EventKind::changed;
    line.self = item.owner;
    line.text = item.id;
    line.number = item.number;
}

void Engine::carryOut(Item& item, const TickContext& hand)
{
    switch (item.kind) {
    case Item::Kind::event:
    case Item::Kind::unheard:
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
        judge(theScene, "age", static_cast<double>(tick_ - 1) / scene_->rate, static_cast<double>(tick_) / scene_->rate,
              hand.world);
        break;
    case Item::Kind::key:
        deliverKey(item);
        break;
    case Item::Kind::heldKeys: {
        std::vector<Item> held;
        for (const std::string& key : keysDown_) {
            Event event;
            event.kind = EventKind::keyHeld;
            event.word = key;
            held.push_back({Item::Kind::event, 0, std::move(event)});
        }
        agenda_.insertNext(std::move(held));
        break;
    }
    case Item::Kind::pointer:
        agenda_.insertNext(pointer_.move(item.event.point, item.id != 0, hand.world, pointerContext(hand.world)));
        break;
    case Item::Kind::button:
        agenda_.insertNext(item.id != 0 ? pointer_.press(item.event.act->button, pointerContext(hand.world))
                                        : pointer_.release(item.event.act->button, pointerContext(hand.world)));
        break;
    case Item::Kind::dragTold:
        if (std::optional<Event> drag = pointer_.tellDrag(pointerContext(hand.world))) {
            addDragged(hand.world);
            agenda_.insertNext({{Item::Kind::event, 0, std::move(*drag)}});
        }
        break;
    case Item::Kind::dragPut:
        addDragged(hand.world);
        break;
    case Item::Kind::findUnder: {
        std::vector<Item> found;
        for (const detect::Change& change : pointer_.meetAnew(pointerContext(hand.world)))
            found.push_back({Item::Kind::event, 0, eventOf(change)});
        agenda_.insertNext(std::move(found));
        break;
    }
    case Item::Kind::sweepClosed:
        hand.world.pointer.sweptFrom.reset();
        pointer_.closeBox();
        agenda_.insertNext({{Item::Kind::findUnder, 0, {}}});
        break;
    case Item::Kind::lifetime:
        pending_.push_back({.kind = PendingChange::Kind::remove, .piece = item.event.self});
        break;
    }
}

std::string Engine::raisers() const
{
    std::set<std::string> names; // of this tick, or of those before if nothing was set off in it
    for (std::size_t i = 0; i < std::min(raised_, raisers_.size()); ++i)
        names.insert(snareAt(raisers_[i]).id);
    return fmt::format("{}", fmt::join(names, ", "));
}

void Engine::stopForCrowd()
{
    stop(fmt::format("tick {}: more than {} meetings begin or end in one tick{}", tick_, detect::mostChangesInATick,
                     raised_ == 0 ? "" : fmt::format("; the snares that set something off last: {}", raisers())));
}

/// K8: what responses cause can go round in a ring. True, and the run stops, if this event is one too many.
bool Engine::isStorm(EventKind kind)
{
    switch (kind) {
    case EventKind::heard:
    case EventKind::phaseBegin:
    case EventKind::phaseEnd:
        if (++signalsInTick_ <= mostSignalsInATick)
            return false;
        stop(fmt::format("tick {}: the snares {} set each other off without end (more than {} signals and phases in "
                         "one tick)",
                         tick_, raisers(), mostSignalsInATick));
        return true;
    case EventKind::spawned:
    case EventKind::removed:
    case EventKind::changed:
    case EventKind::rises:
    case EventKind::falls:
        if (++causedInTick_ <= mostCausedInATick)
            return false;
        stop(fmt::format("tick {}: the snares {} set each other off without end (more than {} changes in one tick)",
                         tick_, raisers(), mostCausedInATick));
        return true;
    default:
        return false;
    }
}

void Engine::deliver(Event& event, const TickContext& hand)
{
    event.tick = static_cast<int>(tick_);
    if (event.silent) {
        orderEnded(event.order, {}, hand);
        return;
    }
    if (isStorm(event.kind))
        return;
    const auto isGone = [&](PieceIndex piece) { return piece >= 0 && !hand.world.piece(piece).present; };
    const bool gone =
        !event.afterEnd && (isGone(event.self) || (event.kind != EventKind::heard && isGone(event.visitor))); // K6
    if (event.kind == EventKind::enter || event.kind == EventKind::exit || event.kind == EventKind::stay) {
        deliverInside(event, gone, hand);
    } else {
        if (event.onlySnare < 0)
            writeEvent(event, gone, hand);
        offer(event, gone, true, hand);
    }
    if (event.kind == EventKind::arrived && !gone)
        orderEnded(event.order, {}, hand);
    if (event.kind == EventKind::strays && !gone)
        applyOutside(event.self, hand.world);
    if (event.signal && event.signal->waited != 0) {
        SignalWait& wait = *signalWait(event.signal->waited);
        wait.delivered = true;
        if (wait.open == 0)
            signalDone(event.signal->waited);
    }
}

/// Enter, stay and exit: who is inside is told as they are delivered. An exit ends what its meeting held, whoever is
/// gone by then (K6).
void Engine::deliverInside(Event& event, bool gone, const TickContext& hand)
{
    const int before = presence_.piecesIn(event.self);
    bool whole = true; // whether those who listen to the piece as a whole hear it (M9)
    Presence::Ended ended;
    if (event.kind == EventKind::exit) {
        ended = presence_.leave(event.self, event.shape, event.visitor);
        if (ended.shape == noMeeting && event.afterEnd)
            return; // its enter was never offered (K5)
        whole = !presence_.has(event.self, event.visitor);
    } else if (event.kind == EventKind::stay) {
        const Presence::Stay* stay = presence_.find(event.self, event.visitor);
        const Presence::InShape* in = stay ? stay->in(event.shape) : nullptr;
        if (!in || in->since == tick_)
            return; // a restart has let it enter in this tick (M5)
        whole = presence_.speaksForWhole(event.self, event.shape, event.visitor, tick_);
    } else if (event.onlySnare < 0) {
        whole = gone ? !presence_.has(event.self, event.visitor)
                     : presence_.enter(event.self, event.shape, event.visitor, event.part, tick_);
    }
    if (event.onlySnare < 0)
        writeEvent(event, gone, hand);
    judge(event.self, "count", before, presence_.piecesIn(event.self), hand.world);
    if (event.kind == EventKind::exit)
        cancelDwells(ended, hand);
    offer(event, gone, whole, hand);
    if (event.kind == EventKind::enter && event.onlySnare < 0 && !gone)
        countIn(event, whole, hand);
    if (event.kind != EventKind::exit)
        return;
    countOut(event, ended);
    afterExit(event, ended, hand);
}

/// V9: what becomes of a piece outside, noted with the rest.
void Engine::applyOutside(PieceIndex index, const world::World& world)
{
    const LivePiece& piece = world.piece(index);
    if (piece.model->outside == scene::Outside::remove)
        pending_.push_back({.kind = PendingChange::Kind::remove, .piece = index});
    if (piece.model->outside != scene::Outside::wrap)
        return;
    const auto& [left, bottom, right, top] = *scene_->bounds;
    const Vec& at = world.pose[static_cast<std::size_t>(index)].at;
    const auto wrapped = [](double value, double low, double high) {
        return value < low || value > high
                   ? low + std::fmod(std::fmod(value - low, high - low) + (high - low), high - low)
                   : value;
    };
    pending_.push_back({.kind = PendingChange::Kind::put,
                        .piece = index,
                        .at = {wrapped(at.x, left, right), wrapped(at.y, bottom, top)}});
}

void Engine::writeEvent(Event& event, bool gone, const TickContext& hand)
{
    const bool often = event.kind == EventKind::stay || event.kind == EventKind::keyHeld;
    if (often && !hand.journal.withStays)
        return;
    Line& line = hand.journal.add(LineKind::event);
    event.line = static_cast<std::int32_t>(hand.journal.lines.size()) - 1;
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
    line.text = hand.journal.texts.keep(event.signal ? event.signal->name : event.word);
    if (event.kind == EventKind::hit || event.act) {
        line.spot = static_cast<std::int32_t>(hand.journal.spots.size());
        hand.journal.spots.push_back({event.point, event.normal});
    }
    if (event.signal && !event.signal->with.empty())
        hand.journal.signalValues.push_back({event.line, event.signal->with});
}

} // namespace snare::rules
