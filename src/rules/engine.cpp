// SPDX-License-Identifier: Apache-2.0
#include "rules/engine.h"

#include "rules/responses.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::rules {

using scene::Snare;
using world::LivePiece;

Engine::Engine(std::shared_ptr<const scene::Scene> scene, std::uint64_t seed)
    : scene_(std::move(scene)), evaluator_(seed), matcher_(*scene_), values_(*scene_, matcher_.book())
{
}

void Engine::reset(std::int64_t tick, const world::World& world)
{
    tick_ = tick;
    queue_.clear();
    pending_.clear();
    names_.clear();
    commit_.clear();
    runs_.clear();
    matcher_.reset(*scene_);
    values_.reset(*scene_, world, tick);
    pointer_.forget();
    strays_.clear();
    startLine_ = -1;
}

void Engine::beginTick(std::int64_t tick)
{
    tick_ = tick;
    storms_.beginTick(tick);
}

TickContext Engine::contextFor(const RunParts& parts)
{
    return {tick_,           *scene_,
            parts.world,     parts.detection,
            parts.journal,   parts.cancelled,
            matcher_.book(), matcher_.presence(),
            queue_,          storms_,
            evaluator_,      matcher_,
            pointer_,        values_,
            runs_,           pending_,
            names_,          rules::carryOutSteps};
}

std::optional<scene::Scalar> Engine::valueAt(std::string_view path, const world::World& world,
                                             const detect::Detection& detection)
{
    const Event nothing;
    const Surroundings around{world,   detection, nothing,           theScene,   nobody,
                              tick_,   *scene_,   matcher_.presence(), evaluator_, nullptr};
    // The longest owner counts: the parts of a laid assembly have dots in their names.
    for (std::size_t dot = path.rfind('.'); dot != std::string_view::npos && dot > 0; dot = path.rfind('.', dot - 1))
        if (const PieceIndex piece = world.find(path.substr(0, dot)); piece != nobody)
            if (auto value = valueOf(piece, path.substr(dot + 1), around))
                return value;
    return rules::valueAt(path, around);
}

// --- what happens --------------------------------------------------------------------------------------------------

void Engine::queueStart(const world::World& world)
{
    const auto begin = [&](PieceIndex self, const std::string& phase) {
        Event& event = queue_.addEvent(EventKind::phaseBegin, self);
        event.word = phase;
        event.because = commit_.restartBecause();
    };
    if (world.phase() >= 0)
        begin(theScene, world.phases()[static_cast<std::size_t>(world.phase())]);
    for (std::size_t i = 0; i < world.pieces().size(); ++i) {
        const LivePiece& piece = world.pieces()[i];
        if (piece.present && piece.phase >= 0)
            begin(static_cast<PieceIndex>(i), piece.model->phases[static_cast<std::size_t>(piece.phase)].id);
    }
    queue_.addEvent(EventKind::start, theScene).because = commit_.restartBecause();
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
    std::visit([this](const auto& one) { queue(one); }, input.what);
}

void Engine::queue(const scene::KeyInput& key)
{
    queue_.addInput(Item::Kind::key, key.down ? 1u : 0u).event.word = key.key;
}

void Engine::queue(const scene::PointerMove& move)
{
    queue_.addInput(Item::Kind::pointer, 0).event.point = move.at;
}

void Engine::queue(const scene::GlassMove& move)
{
    queue_.addInput(Item::Kind::pointer, 1).event.point = move.at;
}

void Engine::queue(const scene::ButtonInput& button)
{
    PointerAct act;
    act.button = button.button;
    queue_.addInput(Item::Kind::dragTold);
    queue_.addInput(Item::Kind::button, button.down ? 1u : 0u).event.act =
        std::make_shared<const PointerAct>(std::move(act));
}

void Engine::queue(const scene::DialInput& dial)
{
    const auto& sources = scene_->sources;
    const auto source = std::ranges::find(sources, dial.dial, &scene::Source::id);
    if (source == sources.end() || !std::holds_alternative<scene::DialSource>(source->kind))
        return;
    queue_.addInput(Item::Kind::dial, static_cast<std::uint32_t>(source - sources.begin())).event.value = dial.value;
}

void Engine::queue(const scene::CallInput& call)
{
    Event& event = queue_.addInput(Item::Kind::event).event;
    event.kind = EventKind::called;
    event.word = call.call;
    event.with = std::make_shared<const scene::Named<scene::Scalar>>(call.with);
}

/// Nothing for the rules: the run leads it.
void Engine::queue(const scene::TrackPlace&) {}

void Engine::queueInputsEnd()
{
    if (pointer_.isPressing() || !queue_.empty())
        queue_.addInput(Item::Kind::dragTold);
}

/// What is dragged follows when this delivery is settled.
void Engine::addDragged(const world::World& world)
{
    if (std::optional<PendingChange> put = pointer_.putOfDragged(world)) {
        put->because = world.originOf(put->piece).moved; // its `drag` tells what moves it
        pending_.add(std::move(*put));
    }
}

void Engine::queueLaterInputs()
{
    queue_.insertNext(std::exchange(laterInputs_, {}));
}

void Engine::deliverKey(const Item& item)
{
    const bool down = item.id != 0;
    if (!pointer_.moveKey(item.event.word, down))
        return;
    Event event;
    event.kind = down ? EventKind::keyDown : EventKind::keyUp;
    event.word = item.event.word;
    queue_.insertNext({{Item::Kind::event, 0, std::move(event)}});
}

void Engine::queueHeldKeys(bool evenIfUnheard)
{
    if (evenIfUnheard || !matcher_.book().listeningTo(EventKind::keyHeld).empty())
        queue_.add(Item::Kind::heldKeys);
}

void Engine::queueClocks(const world::World& world)
{
    if (values_.isWatched("age"))
        queue_.add(Item::Kind::age);
    for (Event& event : values_.dueClocks(world, tick_, scene_->rate)) {
        event.because = orStart(event.because);
        const bool over = event.kind == EventKind::removed;
        queue_.add(over ? Item::Kind::lifetime : Item::Kind::event).event = std::move(event);
    }
    // Waits and dwells that are over, in the order they were started (K2).
    std::vector<std::tuple<std::uint32_t, Item::Kind, std::uint32_t>> due;
    runs_.forEachDue(
        tick_, [&](std::uint32_t sequence, std::uint32_t id) { due.emplace_back(sequence, Item::Kind::resume, id); });
    matcher_.forEachDueDwell(
        tick_, [&](std::uint32_t sequence) { due.emplace_back(sequence, Item::Kind::dwellDone, sequence); });
    std::ranges::sort(due);
    for (const auto& [sequence, kind, id] : due)
        queue_.add(kind, id);
}

void Engine::queue(const detect::Change& change, const world::World& world)
{
    Event& event = queue_.add(Item::Kind::event).event;
    fillIn(event, change);
    // The chain ends where the pointer or a track leads (C1).
    const bool byPointer = isPointer(change.visitor) && world.pointer().at != world.pointer().before;
    const auto byTrack = [&](PieceIndex piece) {
        return piece >= 0 && world.piece(piece).led && world.howMoved(piece) != world::World::Moved::no;
    };
    const bool isLed = byPointer || byTrack(change.self) || byTrack(change.visitor);
    event.because = isLed ? -1 : orStart(lineBehind(change, world));
}

void Engine::queueArrivals(std::span<const motion::Arrival> arrivals, const world::World& world)
{
    for (const motion::Arrival& arrival : arrivals) {
        Event& event = queue_.addEvent(EventKind::arrived, arrival.piece);
        event.order = arrival.order;
        event.because = orStart(arrival.because >= 0 ? arrival.because : world.lastMoved(arrival.piece));
        event.silent = arrival.turned;
    }
}

void Engine::findStrays(world::World& world)
{
    strays_.clear();
    if (!scene_->bounds)
        return;
    const auto& [left, bottom, right, top] = *scene_->bounds;
    std::vector<PieceIndex> moved = world.moved(); // a copy: bringing them back moves them again
    for (const int shape : world.changed())
        moved.push_back(world.shapes()[static_cast<std::size_t>(shape)].piece); // and what was put somewhere
    for (const PieceIndex index : moved) {
        const LivePiece& piece = world.piece(index);
        if (!piece.present || !piece.here)
            continue;
        world::Pose pose = world.pose()[static_cast<std::size_t>(index)];
        const Vec inside{std::clamp(pose.at.x, left, right), std::clamp(pose.at.y, bottom, top)};
        const bool out = inside != pose.at;
        if (out && !piece.strayed)
            strays_.push_back(index);
        if (out && piece.model->outside == scene::Outside::stop && piece.carrier == nobody && !piece.led) {
            pose.at = inside;
            world.moveTo(index, pose);
            world.stopShort(index);
        }
        world.setStrayed(index, out);
    }
    std::ranges::sort(strays_);
}

void Engine::queueStrays(const world::World& world)
{
    for (const PieceIndex piece : strays_)
        queue_.addEvent(EventKind::strays, piece).because =
            world.piece(piece).led ? -1 : orStart(world.lastMoved(piece));
}

// --- delivery ------------------------------------------------------------------------------------------------------

void Engine::deliverAll(const RunParts& parts)
{
    const TickContext tick = contextFor(parts);
    while (!queue_.empty() && !tick.isOver() && !restartAsked()) {
        Item& item = queue_.take();
        const bool isEvent = item.kind == Item::Kind::event;
        if (isEvent && item.event.because < 0)
            item.event.because = item.because;
        tick.because(isEvent ? item.event.because : item.because);
        if (isEvent)
            deliver(item.event, tick);
        else if (item.kind == Item::Kind::unheard)
            tellUnheard(item, tick.journal);
        else
            carryOut(item, tick);
        if (!pending_.empty())
            commit_.carryOut(isEvent ? std::max(0.0, item.event.frac) : 0, tick);
    }
    if (restartAsked()) // T5: what is still to come of the inputs is dealt with after the new start
        queue_.moveInputsTo(laterInputs_);
    queue_.clear();
    tick.because(-1);
}

void Engine::tellUnheard(const Item& item, Journal& journal)
{
    if (storms_.isStorm(EventKind::changed, *scene_))
        return;
    Line& line = journal.add(LineKind::event);
    line.event = EventKind::changed;
    line.self = item.owner;
    line.text = item.id;
    line.number = item.number;
}

void Engine::carryOut(Item& item, const TickContext& tick)
{
    switch (item.kind) {
    case Item::Kind::event:
    case Item::Kind::unheard:
        break;
    case Item::Kind::resume:
        return runs_.resume(item.id, tick);
    case Item::Kind::dwellDone:
        return matcher_.finishDwell(item.id, tick);
    case Item::Kind::dial:
        return values_.setDial(item.id, std::get<double>(*item.event.value), tick);
    case Item::Kind::age:
        tick.because(startLine_);
        return values_.judge(theScene, "age", static_cast<double>(tick_ - 1) / scene_->rate,
                             static_cast<double>(tick_) / scene_->rate, tick);
    case Item::Kind::key:
        return deliverKey(item);
    case Item::Kind::heldKeys: {
        std::vector<Item> held;
        for (const std::string& key : keysDown()) {
            Event event;
            event.kind = EventKind::keyHeld;
            event.word = key;
            const auto down = std::ranges::find(keyLines_, key, &std::pair<std::string, std::int32_t>::first);
            event.because = down == keyLines_.end() ? -1 : down->second;
            held.push_back({Item::Kind::event, 0, std::move(event)});
        }
        return queue_.insertNext(std::move(held));
    }
    case Item::Kind::lifetime:
        return pending_.add(
            {.kind = PendingChange::Kind::remove, .piece = item.event.self, .because = item.event.because});
    case Item::Kind::pointer:
    case Item::Kind::button:
    case Item::Kind::dragTold:
    case Item::Kind::dragPut:
    case Item::Kind::findUnder:
    case Item::Kind::sweepClosed:
        return carryOutPointer(item, tick);
    }
}

void Engine::carryOutPointer(Item& item, const TickContext& tick)
{
    const PointerContext context = pointerContext(tick.world);
    switch (item.kind) {
    case Item::Kind::pointer:
        queue_.insertNext(pointer_.move(item.event.point, item.id != 0, tick.world, context));
        break;
    case Item::Kind::button:
        queue_.insertNext(item.id != 0 ? pointer_.press(item.event.act->button, context)
                                       : pointer_.release(item.event.act->button, context));
        break;
    case Item::Kind::dragTold:
        if (std::optional<Event> drag = pointer_.tellDrag(context)) {
            addDragged(tick.world);
            queue_.insertNext({{Item::Kind::event, 0, std::move(*drag)}});
        }
        break;
    case Item::Kind::dragPut:
        addDragged(tick.world);
        break;
    case Item::Kind::findUnder: {
        std::vector<Item> found;
        for (const detect::Change& change : pointer_.meetAnew(context))
            found.push_back({Item::Kind::event, 0, eventOf(change)});
        queue_.insertNext(std::move(found));
        break;
    }
    case Item::Kind::sweepClosed:
        tick.world.closeBox();
        pointer_.closeBox();
        queue_.insertNext({{Item::Kind::findUnder, 0, {}}});
        break;
    default:
        break;
    }
}

void Engine::stopForCrowd()
{
    stop(fmt::format("more than {} meetings begin or end in one tick{}", detect::mostChangesInATick,
                     storms_.remembersAny()
                         ? fmt::format("; the snares that set something off last: {}", storms_.raisers(*scene_))
                         : ""));
}

void Engine::deliver(Event& event, const TickContext& tick)
{
    event.tick = static_cast<int>(tick_);
    if (event.silent)
        return runs_.orderEnded(event.order, {}, tick);
    if (storms_.isStorm(event.kind, *scene_))
        return;
    const auto isGone = [&](PieceIndex piece) { return piece >= 0 && !tick.world.piece(piece).present; };
    const bool gone =
        !event.afterEnd && (isGone(event.self) || (event.kind != EventKind::heard && isGone(event.visitor))); // K6
    if (event.kind == EventKind::enter || event.kind == EventKind::exit || event.kind == EventKind::stay) {
        matcher_.offerContact(event, gone, tick);
    } else {
        if (event.onlySnare < 0)
            tick.journal.addEvent(event, gone);
        if (!gone)
            follow(event, tick);
        matcher_.offer(event, gone, tick);
    }
    if (event.kind == EventKind::arrived && !gone) {
        tick.because(event);
        runs_.orderEnded(event.order, {}, tick);
    }
    if (event.kind == EventKind::strays && !gone) {
        tick.because(event);
        applyOutside(event.self, tick.world);
    }
    if (event.signal && event.signal->waited != 0)
        runs_.signalDelivered(event.signal->waited, tick);
}

namespace {

/// A key moves the walkers that it steers.
void steer(const Event& key, world::World& world)
{
    for (std::size_t i = 0; i < world.pieces().size(); ++i) {
        const LivePiece& piece = world.pieces()[i];
        const auto has = [&](const std::vector<std::string>& keys) {
            return std::ranges::find(keys, key.word) != keys.end();
        };
        const scene::KeyLists& keys = piece.keys;
        if (piece.walks && (has(keys.left) || has(keys.right) || has(keys.up) || has(keys.down) || has(keys.jump)))
            world.movedBy(static_cast<PieceIndex>(i), key.line);
    }
}

} // namespace

void Engine::follow(const Event& event, const TickContext& tick)
{
    switch (event.kind) {
    case EventKind::start:
        startLine_ = event.line;
        break;
    case EventKind::hit:
        if (const LivePiece& hit = tick.world.piece(event.self); hit.loose || hit.walks)
            tick.world.movedBy(event.self, event.line);
        break;
    case EventKind::drag:
        tick.world.movedBy(event.self, event.line);
        break;
    case EventKind::keyDown:
        keyLines_.emplace_back(event.word, event.line);
        steer(event, tick.world);
        break;
    case EventKind::keyUp:
        std::erase_if(keyLines_, [&](const auto& down) { return down.first == event.word; });
        steer(event, tick.world);
        break;
    default:
        break;
    }
}

/// V9: what becomes of a piece outside, noted with the rest.
void Engine::applyOutside(PieceIndex index, const world::World& world)
{
    const LivePiece& piece = world.piece(index);
    if (piece.model->outside == scene::Outside::remove)
        pending_.add({.kind = PendingChange::Kind::remove, .piece = index});
    if (piece.model->outside != scene::Outside::wrap)
        return;
    const auto& [left, bottom, right, top] = *scene_->bounds;
    const Vec& at = world.pose()[static_cast<std::size_t>(index)].at;
    const auto wrapped = [](double value, double low, double high) {
        return value < low || value > high
                   ? low + std::fmod(std::fmod(value - low, high - low) + (high - low), high - low)
                   : value;
    };
    pending_.add({.kind = PendingChange::Kind::put,
                  .piece = index,
                  .at = {wrapped(at.x, left, right), wrapped(at.y, bottom, top)}});
}

} // namespace snare::rules
