// SPDX-License-Identifier: Apache-2.0
/// Commit: the pending changes of a delivery take effect together (K4, K5, K7).
#include "rules/commit.h"

#include "rules/event_queue.h"
#include "rules/pointer_input.h"
#include "rules/response_runs.h"
#include "rules/snare_matcher.h"
#include "rules/values.h"

#include <fmt/format.h>

namespace snare::rules {

using world::LivePiece;
using world::LiveShape;

namespace {

/// Which snare and step a line is about.
void tellStep(Line& line, const PendingChange& change, Journal& journal)
{
    line.snare = change.by;
    line.step = change.step;
    line.routine = journal.texts.keep(change.routine);
}

} // namespace

void Commit::clear()
{
    spawnedAtOnce_ = 0;
    restartAsked_ = false;
}

void Commit::begin()
{
    touched_.clear();
    ends_.clear();
    removed_.clear();
    isRemoved_.clear();
    armed_.clear();
    spawnEvents_.clear();
    phaseEvents_.clear();
    movedPhases_.clear();
}

void Commit::carryOut(double frac, const TickContext& tick)
{
    while (!tick.pending.empty()) { // once more for what was given back
        const std::vector<PendingChange> changes = tick.pending.take();
        const auto restart = std::ranges::find(changes, PendingChange::Kind::restart, &PendingChange::kind);
        if (restart != changes.end()) {
            restartAsked_ = true;
            restartedBy_ = tick.snareAt(restart->snare).id;
            restartBecause_ = restart->because;
            return;
        }
        begin();
        for (const PendingChange& change : changes) {
            if (tick.isCancelled())
                return;
            tick.because(change.because);
            apply(change, tick);
        }
        if (spawnedAtOnce_ > mostSpawnedAtOnce) // K8
            return tick.storms.stop(fmt::format("the snares {} spawn without end: more than {} spawned pieces at once",
                                                tick.storms.raisers(tick.scene), mostSpawnedAtOnce));
        for (const PieceIndex piece : touched_)
            tick.world.wake(piece);
        queueEnds(frac, tick);
        queueRemoved(tick);
        for (Event& spawned : spawnEvents_)
            tick.queue.add(std::move(spawned));
        for (Event& phase : phaseEvents_)
            tick.queue.add(std::move(phase));
        for (const auto& [snare, line] : armed_) {
            tick.because(line);
            tick.matcher.catchUp(snare, nobody, tick);
        }
        for (const auto& [owner, from, to, line] : movedPhases_) {
            tick.because(line);
            tick.matcher.catchUpWithPhase(owner, from, to, tick);
        }
    }
}

std::int32_t lineBehind(const detect::Change& change, const world::World& world)
{
    std::int32_t last = -1;
    for (const PieceIndex piece : {change.self, change.visitor}) {
        if (piece < 0)
            continue;
        last = std::max(last, world.lastMoved(piece));
        if (change.cause != Cause::moved)
            last = std::max(last, world.originOf(piece).changed);
    }
    return last;
}

/// K5: exits of the meetings that the changes have ended.
void Commit::queueEnds(double frac, const TickContext& tick)
{
    const auto causeOf = [&](const detect::Change& end) {
        const bool groupsEndIt = !detect::groupsAllow(tick.world, end.shape, end.part, end.manner);
        const Cause visitors = ends_.of(end.part, groupsEndIt); // before self's
        return visitors != Cause::moved ? visitors : ends_.of(end.shape, groupsEndIt);
    };
    std::vector<detect::Change> ended = tick.detection.endMeetings(tick.world, touched_, frac, causeOf);
    tick.pointer.addEnds(tick.world, frac, ends_, ended);
    for (const detect::Change& change : ended) {
        Event exit = eventOf(change);
        exit.afterEnd = true;
        exit.because = lineBehind(change, tick.world);
        tick.queue.add(std::move(exit));
    }
}

void Commit::queueRemoved(const TickContext& tick)
{
    for (const PieceIndex piece : removed_) {
        Event removed;
        removed.kind = EventKind::removed;
        removed.self = piece;
        removed.afterEnd = true;
        removed.because = tick.world.originOf(piece).changed;
        tick.because(removed.because);
        tick.queue.add(std::move(removed));
        tick.runs.end(piece, tick);       // S9
        tick.values.release(piece, tick); // S13
    }
}

namespace {

/// Calls `visit(index)` for each shape that a change is about: one, or all of its piece.
template <class Visit> void forEachShape(const PendingChange& change, const world::World& world, Visit&& visit)
{
    const LivePiece& piece = world.piece(change.piece);
    for (std::size_t i = piece.firstShape; i < piece.firstShape + piece.shapeCount; ++i)
        if (change.shape < 0 || change.shape == static_cast<int>(i))
            visit(static_cast<int>(i));
}

/// Calls `visit` for a piece and all that it carries, directly or over others.
template <class Visit> void forEachRider(PieceIndex piece, const world::World& world, Visit&& visit)
{
    visit(piece);
    for (const PieceIndex rider : world.carried())
        if (world.carries(piece, rider))
            visit(rider);
}

} // namespace

void Commit::apply(const PendingChange& change, const TickContext& tick)
{
    switch (change.kind) {
    case PendingChange::Kind::arm:
    case PendingChange::Kind::disarm:
        return applyArm(change, tick);
    case PendingChange::Kind::phase:
        return applyPhase(change, tick);
    case PendingChange::Kind::spawn:
        return applySpawn(*change.spawn, tick);
    default:
        if (tick.world.piece(change.piece).present)
            applyToPiece(change, tick);
    }
}

void Commit::applyArm(const PendingChange& change, const TickContext& tick)
{
    const bool arm = change.kind == PendingChange::Kind::arm;
    if (arm ? !tick.matcher.arm(change.snare) : !tick.matcher.disarm(change.snare))
        return;
    tick.journal.armings.push_back({tick.journal.tick, change.snare, arm});
    if (arm)
        armed_.emplace_back(change.snare, change.because);
}

void Commit::applyToPiece(const PendingChange& change, const TickContext& tick)
{
    Hold* hold = change.hold != 0 ? tick.values.findHold(change.hold) : nullptr;
    touched_.push_back(change.piece);
    switch (change.kind) {
    case PendingChange::Kind::show:
    case PendingChange::Kind::hide:
    case PendingChange::Kind::enable:
    case PendingChange::Kind::disable:
        return applyFlag(change, hold, tick);
    case PendingChange::Kind::regroup:
        return applyGroup(change, hold, tick);
    case PendingChange::Kind::put:
        if (applyPut(change, tick))
            endOrders(change.piece, "put", tick);
        return;
    case PendingChange::Kind::resize: {
        const double now = tick.world.piece(change.piece).scale;
        if (hold && hold->what == Hold::What::scale)
            hold->number = now;
        // However often it grows or shrinks, it stays a size that has corners.
        tick.world.resize(change.piece, std::clamp(change.relative ? now * change.scale : change.scale,
                                                   1 / world::mostScale, world::mostScale));
        return;
    }
    case PendingChange::Kind::retrace:
        tick.world.retrace(change.piece);
        return;
    case PendingChange::Kind::attach:
        return applyAttach(change, tick);
    case PendingChange::Kind::detach:
        return tick.world.attach(change.piece, nobody);
    case PendingChange::Kind::remove:
        return applyRemove(change, tick);
    default:
        return;
    }
}

/// Shows, hides, enables or disables a piece or one shape of it.
void Commit::applyFlag(const PendingChange& change, Hold* hold, const TickContext& tick)
{
    using Kind = PendingChange::Kind;
    const bool shows = change.kind == Kind::show || change.kind == Kind::hide;
    const bool on = change.kind == Kind::show || change.kind == Kind::enable;
    const bool was = shows ? tick.world.setShown(change.piece, change.shape, on)
                           : tick.world.setEnabled(change.piece, change.shape, on);
    if (hold)
        hold->flag = was;
    if (was == on)
        return;
    const Cause ending = shows ? Cause::hidden : Cause::disabled;
    forEachShape(change, tick.world, [&](int index) {
        if (!on)
            return ends_.mark(index, ending);
        tick.world.mark(index, shows ? Cause::shown : Cause::enabled);
        ends_.unmark(index, ending);
    });
}

void Commit::applyGroup(const PendingChange& change, Hold* hold, const TickContext& tick)
{
    if (hold)
        hold->number = change.shape < 0 ? tick.world.piece(change.piece).group
                                        : tick.world.shapes()[static_cast<std::size_t>(change.shape)].group;
    if (change.shape < 0)
        tick.world.setGroup(change.piece, change.group);
    forEachShape(change, tick.world, [&](int index) {
        if (tick.world.setShapeGroup(index, change.group))
            ends_.mark(index, Cause::regrouped);
    });
}

/// It and all that it carries no longer meets what carries them (M14).
void Commit::applyAttach(const PendingChange& change, const TickContext& tick)
{
    world::World& world = tick.world;
    const bool isThere = isPointer(change.carrier) ? world.pointer().there : world.piece(change.carrier).present;
    if (!isThere || change.carrier == change.piece)
        return;
    world.attach(change.piece, change.carrier);
    endOrders(change.piece, "attach", tick);
    forEachRider(change.piece, world, [&](PieceIndex rider) {
        touched_.push_back(rider);
        for (const LiveShape& shape : world.shapesOf(rider))
            ends_.mark(static_cast<int>(&shape - world.shapes().data()), Cause::attached);
    });
}

void Commit::applyRemove(const PendingChange& change, const TickContext& tick)
{
    tick.world.remove(change.piece);
    removed_.push_back(change.piece);
    spawnedAtOnce_ -= change.piece >= static_cast<PieceIndex>(tick.scene.pieces.size()) ? 1 : 0;
    isRemoved_[change.piece] = true;
    forEachShape(change, tick.world, [&](int index) { ends_.mark(index, Cause::removed); });
    endOrders(change.piece, "remove", tick);
}

/// Who waits for a move of the piece goes on, since `by` has overtaken it; who waits for a turn
/// only if it is gone.
void Commit::endOrders(PieceIndex index, std::string_view by, const TickContext& tick)
{
    if (const std::uint32_t move = tick.world.endMove(index))
        tick.runs.orderEnded(move, by, tick);
    if (by != "remove")
        return;
    if (const std::uint32_t turn = tick.world.endTurn(index))
        tick.runs.orderEnded(turn, by, tick);
}

/// Puts a piece where it was to go; false if something is in the way that must not be.
bool Commit::applyPut(const PendingChange& change, const TickContext& tick)
{
    if (tick.world.piece(change.piece).led) // V10
        return false;
    world::Pose pose = tick.world.pose()[static_cast<std::size_t>(change.piece)];
    pose.at = change.relative ? pose.at + change.at : change.at;
    pose.z = change.relative ? pose.z + change.height.value_or(0) : change.height.value_or(pose.z);
    if (change.turns)
        pose.turn = change.turn;
    if (change.ifClear) {
        const PieceIndex other = inTheWay(tick.world, tick.detection, figureOf(tick.world, change.piece), pose);
        if (other != nobody) {
            Line& line = tick.journal.add(LineKind::note);
            tellStep(line, change, tick.journal);
            line.text = tick.journal.texts.keep(fmt::format("{} is not put there: {} is in the way",
                                                            tick.world.nameOf(change.piece), tick.world.nameOf(other)));
            return false;
        }
    }
    tick.world.put(change.piece, pose);
    return true;
}

void Commit::applySpawn(const SpawnOrder& order, const TickContext& tick)
{
    if (tick.world.pieces().size() >= mostPieces)
        return tick.storms.stop(fmt::format("the snare {} spawns without end: more than {} pieces",
                                            tick.snareAt(order.snare).id, mostPieces));
    const PieceIndex index = tick.world.spawn(*order.model, order.id, order.pose, order.form, tick.number);
    const LivePiece& piece = tick.world.piece(index);
    ++spawnedAtOnce_;
    if (!order.laid.empty())
        tick.world.setPart(index, order.laid, order.part, order.about);
    for (const auto& [name, value] : order.properties.entries) {
        tick.world.valuesOf(index).set(name, value);
        tick.journal.addValue(index, name, &value);
    }
    if (order.hasVelocity)
        tick.world.launch(index, order.velocity);
    tick.values.startClocks(index, tick);
    Event spawned;
    spawned.kind = EventKind::spawned;
    spawned.self = index;
    spawned.because = tick.journal.cause;
    spawnEvents_.push_back(std::move(spawned));
    if (piece.phase >= 0) { // as the pieces of the scene begin theirs (K9)
        Event begins;
        begins.kind = EventKind::phaseBegin;
        begins.self = index;
        begins.because = tick.journal.cause;
        begins.word = piece.model->phases[static_cast<std::size_t>(piece.phase)].id;
        tick.journal.phases.push_back({tick.journal.tick, index, begins.word});
        phaseEvents_.push_back(std::move(begins));
    }
}

/// K4: a change to the phase already held does nothing.
void Commit::applyPhase(const PendingChange& change, const TickContext& tick)
{
    std::vector<std::string> names;
    int now = tick.world.phase();
    if (change.piece == theScene) {
        names = tick.world.phases();
    } else {
        const LivePiece& piece = tick.world.piece(change.piece);
        // What is removed in the same settling gives its phase events all the same, which are told
        // as gone (K4, K6).
        if (!piece.present && !isRemoved_.find(change.piece))
            return;
        now = piece.phase;
        for (const scene::PiecePhase& phase : piece.model->phases)
            names.push_back(phase.id);
    }
    int next = (now + 1) % std::max(1, static_cast<int>(names.size()));
    if (change.phase != "next")
        next = static_cast<int>(std::ranges::find(names, change.phase) - names.begin());
    if (next >= static_cast<int>(names.size())) {
        Line& line = tick.journal.add(LineKind::note);
        tellStep(line, change, tick.journal);
        line.text =
            tick.journal.texts.keep(fmt::format("{} has no phase {}", tick.world.nameOf(change.piece), change.phase));
        return;
    }
    if (next == now)
        return;
    const std::string& from = names[static_cast<std::size_t>(now)];
    const std::string& to = names[static_cast<std::size_t>(next)];
    for (const EventKind kind : {EventKind::phaseEnd, EventKind::phaseBegin}) {
        Event event;
        event.kind = kind;
        event.self = change.piece;
        event.because = change.because;
        event.word = kind == EventKind::phaseEnd ? from : to;
        phaseEvents_.push_back(std::move(event));
    }
    tick.journal.phases.push_back({tick.journal.tick, change.piece, to});
    movedPhases_.emplace_back(change.piece, from, to, change.because);
    if (change.piece == theScene)
        return moveScenePhase(next, tick);
    const LivePiece& piece = tick.world.piece(change.piece);
    const auto& phases = piece.model->phases;
    const auto& before = phases[static_cast<std::size_t>(now)].look;
    const auto& after = phases[static_cast<std::size_t>(next)].look;
    tick.world.setPhase(change.piece, next);
    if (after)
        tick.values.putOn(change.piece, tick.world.indexOf(*after), tick);
    else if (before)
        tick.values.putOn(change.piece, tick.world.indexOf(piece.model->look), tick);
}

/// Pieces come and go with the phase of the scene; what they were doing waits for them.
void Commit::moveScenePhase(int phase, const TickContext& tick)
{
    for (const PieceIndex index : tick.world.enterPhase(phase)) {
        touched_.push_back(index);
        const LivePiece& piece = tick.world.piece(index);
        for (std::size_t i = piece.firstShape; i < piece.firstShape + piece.shapeCount; ++i)
            if (piece.here)
                ends_.unmark(static_cast<int>(i), Cause::phase);
            else
                ends_.mark(static_cast<int>(i), Cause::phase);
    }
}

} // namespace snare::rules
