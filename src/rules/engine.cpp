// SPDX-License-Identifier: Apache-2.0
#include "rules/engine.h"

#include "rules/clock.h"
#include "rules/doing.h"
#include "rules/filter.h"

#include <fmt/format.h>

#include <cmath>
#include <set>
#include <tuple>

namespace snare::rules {

using scene::Snare;
using world::LivePiece;

Engine::Engine(std::shared_ptr<const scene::Scene> scene) : scene_(std::move(scene)), book_(*scene_)
{
    reset(0);
}

void Engine::reset(std::int64_t tick)
{
    tick_ = tick;
    queue_.clear();
    head_ = 0;
    noted_.clear();
    runs_.clear();
    dwells_.clear();
    signalWaits_.clear();
    insiders_.clear();
    occupancy_.clear();
    restartAsked_ = false;
    armed_.clear();
    for (const Snare& snare : scene_->snares)
        armed_.push_back(snare.armed ? 1 : 0);
    gates_.assign(scene_->snares.size(), {});
    timers_.clear();
    for (const scene::Source& source : scene_->sources) {
        const auto* timer = std::get_if<scene::TimerSource>(&source.kind);
        timers_.push_back({tick, 0, timer && timer->runs});
    }
}

void Engine::beginTick(std::int64_t tick)
{
    tick_ = tick;
    signalsInTick_ = 0;
    raisers_.clear();
}

// --- what happens --------------------------------------------------------------------------------------------------

void Engine::queue(Event event)
{
    queue_.push_back({Item::Kind::event, std::move(event), 0});
}

void Engine::queueKey(const std::string& key, bool down)
{
    const auto held = std::ranges::find(keysDown_, key);
    if (down == (held != keysDown_.end()))
        return; // auto-repeat (P7)
    if (down)
        keysDown_.push_back(key);
    else
        keysDown_.erase(held);
    Event event;
    event.kind = down ? EventKind::keyDown : EventKind::keyUp;
    event.key = key;
    queue(std::move(event));
}

void Engine::queueHeldKeys(bool evenIfUnheard)
{
    if (!evenIfUnheard && book_.listeningTo(EventKind::keyHeld).empty())
        return;
    for (const std::string& key : keysDown_) {
        Event event;
        event.kind = EventKind::keyHeld;
        event.key = key;
        queue(std::move(event));
    }
}

void Engine::queueClocks()
{
    for (std::size_t i = 0; i < timers_.size(); ++i) {
        TimerState& timer = timers_[i];
        if (!timer.runs)
            continue;
        const auto& source = std::get<scene::TimerSource>(scene_->sources[i].kind);
        if (tick_ < tickAfter(timer.from, static_cast<double>(timer.elapsed + 1) * source.every, scene_->rate))
            continue;
        ++timer.elapsed;
        // At most once a tick (T6): what lies further back is passed over.
        while (tick_ >= tickAfter(timer.from, static_cast<double>(timer.elapsed + 1) * source.every, scene_->rate))
            ++timer.elapsed;
        timer.runs = source.repeat;
        Event event;
        event.kind = EventKind::elapsed;
        event.source = scene_->sources[i].id;
        queue(std::move(event));
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
        }
        settle(frac, hand);
    }
    queue_.clear();
    head_ = 0;
}

void Engine::deliver(Event& event, Stagehand hand)
{
    event.tick = static_cast<int>(tick_);
    if (event.silent) {
        orderEnded(event.order, {}, hand);
        return;
    }
    if (event.kind == EventKind::heard && ++signalsInTick_ > mostSignalsInATick) {
        std::set<std::string> names;
        for (const int snare : raisers_)
            names.insert(scene_->snares[static_cast<std::size_t>(snare)].id);
        stop(
            fmt::format("tick {}: the signals of the snares {} raise each other without end (more than {} in one tick)",
                        tick_, fmt::join(names, ", "), mostSignalsInATick));
        return;
    }
    const auto isGone = [&](PieceIndex piece) { return piece >= 0 && !hand.world.piece(piece).present; };
    const bool gone =
        !event.afterEnd && (isGone(event.self) || (event.kind != EventKind::heard && isGone(event.visitor))); // K6

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
    if (event.kind == EventKind::exit)
        cancelDwells(event, hand);
    offer(event, gone, whole, hand);
    if (event.onlySnare < 0 && (event.kind == EventKind::exit || (event.kind == EventKind::enter && !gone)))
        countVisitor(event, whole, hand);

    if (event.kind == EventKind::arrived && !gone)
        orderEnded(event.order, {}, hand);
    if (event.signal && event.signal->waited != 0) {
        const auto wait = std::ranges::find(signalWaits_, event.signal->waited, &SignalWait::number);
        wait->delivered = true;
        if (wait->open == 0)
            signalDone(wait->number);
    }
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
    line.text = event.signal ? event.signal->name : !event.key.empty() ? event.key : event.source;
    event.line = hand.journal.add(std::move(line));
}

bool Engine::catches(int snare, const Event& event, bool whole, const world::World& world) const
{
    const scene::Catch& catches = scene_->snares[static_cast<std::size_t>(snare)].catches;
    switch (scene::familyOf(event.kind)) {
    case scene::EventFamily::key: {
        const std::vector<std::string>& keys = book_.keysOf(snare);
        return std::ranges::find(keys, event.key) != keys.end() || std::ranges::find(keys, "any") != keys.end();
    }
    case scene::EventFamily::timer:
        return catches.source == event.source;
    case scene::EventFamily::signal:
        return catches.signal == event.signal->name;
    case scene::EventFamily::scene:
        return true;
    case scene::EventFamily::contact:
    case scene::EventFamily::piece:
        break;
    }
    const Where& where = book_.where(snare);
    if (where.kind == Where::Kind::selector)
        return whole && isSelected(where.selector, world, event.self);
    if (where.kind != Where::Kind::piece || where.piece != event.self)
        return false;
    if (where.shapeNumber < 0 || event.shape < 0)
        return whole;
    return world.shapes[static_cast<std::size_t>(event.shape)].number == where.shapeNumber;
}

void Engine::offer(Event& event, bool gone, bool whole, Stagehand hand)
{
    const scene::EventFamily family = scene::familyOf(event.kind);
    const bool atPieces = family == scene::EventFamily::contact || family == scene::EventFamily::piece;
    for (const int snare : book_.listeningTo(event.kind)) {
        if ((event.onlySnare >= 0 && event.onlySnare != snare) || !catches(snare, event, whole, hand.world))
            continue;
        if (atPieces) {
            consider(snare, event.self, event, gone, false, hand);
            continue;
        }
        // Keys, timers and signals happen at the scene; a snare with `at` hears them at each of its pieces.
        const auto mayHear = [&](PieceIndex self) {
            return !event.signal || !event.signal->to ||
                   std::ranges::find(*event.signal->to, self) != event.signal->to->end();
        };
        const Where& where = book_.where(snare);
        switch (where.kind) {
        case Where::Kind::scene:
            if (mayHear(theScene))
                consider(snare, theScene, event, gone, false, hand);
            break;
        case Where::Kind::piece:
            if (hand.world.piece(where.piece).present && mayHear(where.piece))
                consider(snare, where.piece, event, gone, false, hand);
            break;
        case Where::Kind::selector:
            for (const PieceIndex self : piecesOf(where.selector, hand.world))
                if (mayHear(self))
                    consider(snare, self, event, gone, false, hand);
            break;
        case Where::Kind::nowhere:
            break;
        }
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

void Engine::consider(int snare, PieceIndex self, const Event& event, bool gone, bool afterDwell, Stagehand hand)
{
    const auto index = static_cast<std::size_t>(snare);
    const Snare& rule = scene_->snares[index];
    if (gone)
        return slip(snare, self, event, Stage::gone, "gone", hand);
    // S1: armed, phase, filter, gate.
    if (!armed_[index])
        return slip(snare, self, event, Stage::armed, "disarmed", hand);
    if (self >= 0 && !event.afterEnd && !hand.world.piece(self).enabled)
        return slip(snare, self, event, Stage::armed, "disabled", hand);
    const Surroundings around{hand.world, event, self, event.visitor, static_cast<int>(tick_), scene_->rate};
    // The filter of `occupied` and `vacated` was asked when the visitor entered (M11).
    const bool counted = event.kind == EventKind::occupied || event.kind == EventKind::vacated;
    if (auto reason = counted ? std::nullopt : turnedAway(rule.filter, around))
        return slip(snare, self, event, Stage::filter, std::move(*reason), hand);
    if (auto reason = gates_[index].turnedAway(rule.gate, self, event.visitor, tick_, scene_->rate))
        return slip(snare, self, event, Stage::gate, std::move(*reason), hand);
    const bool canDwell = event.kind == EventKind::enter || event.kind == EventKind::stay;
    if (rule.gate.dwell && canDwell && !afterDwell) {
        const bool dwells = std::ranges::any_of(dwells_, [&](const DwellState& dwell) {
            return dwell.snare == snare && dwell.self == self && dwell.event.visitor == event.visitor;
        });
        if (!dwells)
            dwells_.push_back({++lastSequence_, snare, self, event, tickAfter(tick_, *rule.gate.dwell, scene_->rate)});
        return; // nothing is logged until it is decided (S4)
    }
    const auto running =
        std::ranges::find_if(runs_, [&](const RunState& run) { return run.snare == snare && run.self == self; });
    if (running != runs_.end() && rule.again == scene::Again::ignore)
        return slip(snare, self, event, Stage::gate, "running", hand);
    spring(snare, self, event, hand);
}

void Engine::spring(int snare, PieceIndex self, const Event& event, Stagehand hand)
{
    const auto index = static_cast<std::size_t>(snare);
    const Snare& rule = scene_->snares[index];
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

    if (rule.again == scene::Again::restart) { // S8
        for (std::size_t i = 0; i < runs_.size();) {
            if (runs_[i].snare != snare || runs_[i].self != self) {
                ++i;
                continue;
            }
            const RunState old = std::move(runs_[i]);
            runs_.erase(runs_.begin() + static_cast<std::ptrdiff_t>(i));
            ended(old);
        }
    }
    RunState run;
    run.id = ++lastRun_;
    run.snare = snare;
    run.self = self;
    run.visitor = event.visitor;
    run.event = event;
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
            const Surroundings around{hand.world,  event, event.self, event.visitor, static_cast<int>(tick_),
                                      scene_->rate};
            if (turnedAway(scene_->snares[static_cast<std::size_t>(snare)].filter, around) ||
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
    const DwellState dwell = std::move(*found);
    dwells_.erase(found);
    consider(dwell.snare, dwell.self, dwell.event, false, true, hand);
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

void Engine::carryOut(RunState run, Stagehand hand)
{
    const std::vector<scene::Response>& responses = scene_->snares[static_cast<std::size_t>(run.snare)].responses;
    while (run.step < responses.size()) {
        const scene::Response& response = responses[run.step++];
        Doing doing{*this, hand, run};
        doing.carryOut(response);
        if (!run.waiting.anything())
            continue;
        if (run.self >= 0 && !hand.world.piece(run.self).present)
            break; // S9: up to the first wait
        run.sequence = ++lastSequence_;
        runs_.push_back(std::move(run));
        return;
    }
    ended(run);
}

void Engine::ended(const RunState& run)
{
    if (run.startedBy == 0)
        return;
    const auto wait = std::ranges::find(signalWaits_, run.startedBy, &SignalWait::number);
    if (wait != signalWaits_.end() && --wait->open == 0 && wait->delivered)
        signalDone(wait->number);
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
