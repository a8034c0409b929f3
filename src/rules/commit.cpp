// SPDX-License-Identifier: Apache-2.0
/// Commit: the pending changes of a delivery take effect together (K4, K5, K7).
#include "rules/engine.h"

#include <fmt/format.h>

namespace snare::rules {

using world::LivePiece;
using world::LiveShape;

namespace {

/// Which snare and step a line is about.
void tellStep(Line& line, const PendingChange& pending, Journal& journal)
{
    line.snare = pending.by;
    line.step = pending.step;
    line.routine = journal.texts.keep(pending.routine);
}

} // namespace

void Engine::commit(double frac, const TickContext& hand)
{
    if (pending_.empty())
        return;
    const auto restart = std::ranges::find(pending_, PendingChange::Kind::restart, &PendingChange::kind);
    if (restart != pending_.end()) {
        restartAsked_ = true;
        restartedBy_ = scene_->snares[static_cast<std::size_t>(restart->snare)].id;
        pending_.clear();
        return;
    }
    ends_.clear();
    removedNow_.clear();
    isRemovedNow_.clear();
    armedNow_.clear();
    touched_.clear();
    spawnedNow_.clear();
    phasesNow_.clear();
    movedPhases_.clear();
    const std::vector<PendingChange> pending = std::exchange(pending_, {});
    for (const PendingChange& change : pending) {
        if (hand.isCancelled())
            return;
        apply(change, hand);
    }
    if (spawnedAtOnce_ > mostSpawnedAtOnce) // K8
        return stop(fmt::format("tick {}: the snares {} spawn without end: more than {} spawned pieces at once", tick_,
                                raisers(), mostSpawnedAtOnce));
    hand.world.woken.insert(hand.world.woken.end(), touched_.begin(), touched_.end());

    const auto causeOf = [&](const detect::Change& end) {
        const bool groupsEndIt = !detect::groupsAllow(hand.world, end.shape, end.part, end.manner);
        const Cause visitors = ends_.of(end.part, groupsEndIt); // before self's
        return visitors != Cause::moved ? visitors : ends_.of(end.shape, groupsEndIt);
    };
    std::vector<detect::Change> ended = hand.detection.endMeetings(hand.world, touched_, frac, causeOf);
    pointer_.addEnds(hand.world, frac, ends_, ended);
    for (const detect::Change& change : ended) {
        Event exit = eventOf(change);
        exit.afterEnd = true;
        queue(std::move(exit));
    }
    for (const PieceIndex piece : removedNow_) {
        Event removed;
        removed.kind = EventKind::removed;
        removed.self = piece;
        removed.afterEnd = true;
        queue(std::move(removed));
        endRuns(runs_.takeOf(piece));            // S9
        giveBack(holds_.releaseOf(piece), hand); // S13
    }
    for (Event& spawned : spawnedNow_)
        queue(std::move(spawned));
    for (Event& phase : phasesNow_)
        queue(std::move(phase));
    for (const int snare : armedNow_)
        offerToInsiders(snare, nobody, hand);
    for (const auto& [owner, from, to] : movedPhases_)
        catchUpWithPhase(owner, from, to, hand);
    if (!pending_.empty()) // what was given back
        commit(frac, hand);
}

/// A piece and all that it carries, directly or over others.
template <class Visit> void Engine::forEachRider(PieceIndex piece, const TickContext& hand, Visit&& visit)
{
    visit(piece);
    for (const PieceIndex rider : hand.world.carried)
        if (hand.world.carries(piece, rider))
            visit(rider);
}

void Engine::apply(const PendingChange& pending, const TickContext& hand)
{
    if (pending.kind == PendingChange::Kind::arm || pending.kind == PendingChange::Kind::disarm) {
        const bool arm = pending.kind == PendingChange::Kind::arm;
        char& armed = armed_[static_cast<std::size_t>(pending.snare)];
        if (arm && armed == 0)
            armedNow_.push_back(pending.snare);
        if ((armed != 0) != arm)
            hand.journal.armings.push_back({hand.journal.tick, pending.snare, arm});
        armed = arm ? 1 : 0;
        return;
    }
    if (pending.kind == PendingChange::Kind::phase)
        return applyPhase(pending, hand);
    if (pending.kind == PendingChange::Kind::spawn)
        return applySpawn(*pending.spawn, hand);
    LivePiece& piece = hand.world.piece(pending.piece);
    if (!piece.present)
        return;
    Hold* hold = pending.hold != 0 ? holds_.find(pending.hold) : nullptr;
    touched_.push_back(pending.piece);
    const auto eachShape = [&](auto&& visit) {
        for (LiveShape& shape : hand.world.shapesOf(pending.piece)) {
            const auto index = static_cast<int>(&shape - hand.world.shapes.data());
            if (pending.shape < 0 || pending.shape == index)
                visit(shape, index);
        }
    };
    const auto began = [&](Cause cause, Cause takesBack) {
        eachShape([&](LiveShape& shape, int index) {
            hand.world.mark(shape, cause);
            ends_.unmark(index, takesBack);
        });
    };
    const auto endedBy = [&](Cause cause) { eachShape([&](LiveShape&, int index) { ends_.mark(index, cause); }); };
    /// Whether the shape that is meant, or the piece, is shown or enabled.
    const auto flagOf = [&](bool LivePiece::*ofPiece, bool LiveShape::*ofShape) -> bool& {
        return pending.shape < 0 ? piece.*ofPiece : hand.world.shapes[static_cast<std::size_t>(pending.shape)].*ofShape;
    };
    const auto endOrders = [&](std::string_view by) {
        if (piece.move.id != 0)
            orderEnded(std::exchange(piece.move, {}).id, by, hand);
        if (piece.turn.id != 0 && by == "remove")
            orderEnded(std::exchange(piece.turn, {}).id, by, hand);
    };
    switch (pending.kind) {
    case PendingChange::Kind::show:
    case PendingChange::Kind::hide:
    case PendingChange::Kind::enable:
    case PendingChange::Kind::disable: {
        const bool shows = pending.kind == PendingChange::Kind::show || pending.kind == PendingChange::Kind::hide;
        const bool on = pending.kind == PendingChange::Kind::show || pending.kind == PendingChange::Kind::enable;
        bool& flag =
            shows ? flagOf(&LivePiece::shown, &LiveShape::shown) : flagOf(&LivePiece::enabled, &LiveShape::enabled);
        if (hold)
            hold->flag = flag;
        if (std::exchange(flag, on) == on)
            break;
        if (on)
            shows ? began(Cause::shown, Cause::hidden) : began(Cause::enabled, Cause::disabled);
        else
            endedBy(shows ? Cause::hidden : Cause::disabled);
        break;
    }
    case PendingChange::Kind::regroup:
        if (hold)
            hold->number =
                pending.shape < 0 ? piece.group : hand.world.shapes[static_cast<std::size_t>(pending.shape)].group;
        if (pending.shape < 0)
            piece.group = pending.group;
        eachShape([&](LiveShape& shape, int index) {
            if (std::exchange(shape.group, static_cast<std::int16_t>(pending.group)) == pending.group)
                return;
            hand.world.mark(shape, Cause::regrouped);
            ends_.mark(index, Cause::regrouped);
        });
        break;
    case PendingChange::Kind::put:
        if (applyPut(pending, hand))
            endOrders("put");
        break;
    case PendingChange::Kind::resize:
        if (hold && hold->what == Hold::What::scale)
            hold->number = piece.scale;
        // However often it grows or shrinks, it stays a size that has corners.
        hand.world.resize(pending.piece, std::clamp(pending.relative ? piece.scale * pending.scale : pending.scale,
                                                    1 / world::mostScale, world::mostScale));
        break;
    case PendingChange::Kind::retrace:
        hand.world.retrace(pending.piece);
        break;
    case PendingChange::Kind::attach: {
        const bool isThere =
            isPointer(pending.carrier) ? hand.world.pointer.there : hand.world.piece(pending.carrier).present;
        if (!isThere || pending.carrier == pending.piece)
            break;
        hand.world.attach(pending.piece, pending.carrier);
        endOrders("attach");
        // It and all that it carries no longer meets what carries them (M14).
        forEachRider(pending.piece, hand, [&](PieceIndex rider) {
            touched_.push_back(rider);
            for (const LiveShape& shape : hand.world.shapesOf(rider))
                ends_.mark(static_cast<int>(&shape - hand.world.shapes.data()), Cause::attached);
        });
        break;
    }
    case PendingChange::Kind::detach:
        hand.world.attach(pending.piece, nobody);
        break;
    case PendingChange::Kind::remove:
        piece.present = false;
        removedNow_.push_back(pending.piece);
        spawnedAtOnce_ -= pending.piece >= static_cast<PieceIndex>(scene_->pieces.size()) ? 1 : 0;
        isRemovedNow_[pending.piece] = true;
        for (const PieceIndex rider : std::vector(hand.world.carried))
            if (hand.world.piece(rider).carrier == pending.piece)
                hand.world.attach(rider, nobody);
        hand.world.attach(pending.piece, nobody);
        endedBy(Cause::removed);
        endOrders("remove");
        break;
    default:
        break;
    }
}

/// Puts a piece where it was to go; false if something is in the way that must not be.
bool Engine::applyPut(const PendingChange& pending, const TickContext& hand)
{
    world::Pose pose = hand.world.pose[static_cast<std::size_t>(pending.piece)];
    pose.at = pending.relative ? pose.at + pending.at : pending.at;
    pose.z = pending.relative ? pose.z + pending.height.value_or(0) : pending.height.value_or(pose.z);
    if (pending.turns)
        pose.turn = pending.turn;
    if (pending.ifClear) {
        const PieceIndex other = inTheWay(hand.world, hand.detection, figureOf(hand.world, pending.piece), pose);
        if (other != nobody) {
            Line& line = hand.journal.add(LineKind::note);
            tellStep(line, pending, hand.journal);
            line.text = hand.journal.texts.keep(fmt::format(
                "{} is not put there: {} is in the way", hand.world.nameOf(pending.piece), hand.world.nameOf(other)));
            return false;
        }
    }
    hand.world.put(pending.piece, pose);
    return true;
}

void Engine::applySpawn(const SpawnOrder& order, const TickContext& hand)
{
    if (hand.world.pieces.size() >= mostPieces)
        return stop(fmt::format("tick {}: the snare {} spawns without end: more than {} pieces", tick_,
                                snareAt(order.snare).id, mostPieces));
    const PieceIndex index = hand.world.spawn(*order.model, order.id, order.pose);
    LivePiece& piece = hand.world.piece(index);
    ++spawnedAtOnce_;
    piece.templateName = order.form;
    piece.born = tick_;
    piece.dressed = tick_;
    for (const auto& [name, value] : order.properties.entries) {
        piece.properties.set(name, value);
        hand.journal.addValue(index, name, &value);
    }
    if (order.hasVelocity && !piece.resting) {
        piece.velocity = order.velocity;
        piece.approach = order.velocity;
    }
    clocks_.add(hand.world, index, tick_, scene_->rate);
    Event spawned;
    spawned.kind = EventKind::spawned;
    spawned.self = index;
    spawnedNow_.push_back(std::move(spawned));
    if (piece.phase >= 0) { // as the pieces of the scene begin theirs (K9)
        Event begins;
        begins.kind = EventKind::phaseBegin;
        begins.self = index;
        begins.word = piece.model->phases[static_cast<std::size_t>(piece.phase)].id;
        hand.journal.phases.push_back({hand.journal.tick, index, begins.word});
        phasesNow_.push_back(std::move(begins));
    }
}

/// K4: a change to the phase already held does nothing.
void Engine::applyPhase(const PendingChange& pending, const TickContext& hand)
{
    std::vector<std::string> names;
    int now = hand.world.phase;
    if (pending.piece == theScene) {
        names = hand.world.phases;
    } else {
        const LivePiece& piece = hand.world.piece(pending.piece);
        // What is removed in the same settling gives its phase events all the same, which are told as gone (K4, K6).
        if (!piece.present && !isRemovedNow_.find(pending.piece))
            return;
        now = piece.phase;
        for (const scene::PiecePhase& phase : piece.model->phases)
            names.push_back(phase.id);
    }
    int next = (now + 1) % std::max(1, static_cast<int>(names.size()));
    if (pending.phase != "next")
        next = static_cast<int>(std::ranges::find(names, pending.phase) - names.begin());
    if (next >= static_cast<int>(names.size())) {
        Line& line = hand.journal.add(LineKind::note);
        tellStep(line, pending, hand.journal);
        line.text =
            hand.journal.texts.keep(fmt::format("{} has no phase {}", hand.world.nameOf(pending.piece), pending.phase));
        return;
    }
    if (next == now)
        return;
    const std::string& from = names[static_cast<std::size_t>(now)];
    const std::string& to = names[static_cast<std::size_t>(next)];
    for (const EventKind kind : {EventKind::phaseEnd, EventKind::phaseBegin}) {
        Event event;
        event.kind = kind;
        event.self = pending.piece;
        event.word = kind == EventKind::phaseEnd ? from : to;
        phasesNow_.push_back(std::move(event));
    }
    hand.journal.phases.push_back({hand.journal.tick, pending.piece, to});
    movedPhases_.emplace_back(pending.piece, from, to);
    if (pending.piece == theScene)
        return moveScenePhase(next, hand);
    LivePiece& piece = hand.world.piece(pending.piece);
    const auto& phases = piece.model->phases;
    const auto& before = phases[static_cast<std::size_t>(now)].look;
    const auto& after = phases[static_cast<std::size_t>(next)].look;
    piece.phase = next;
    if (after)
        putOn(pending.piece, hand.world.indexOf(*after), hand);
    else if (before)
        putOn(pending.piece, hand.world.indexOf(piece.model->look), hand);
}

/// Pieces come and go with the phase of the scene; what they were doing waits for them.
void Engine::moveScenePhase(int phase, const TickContext& hand)
{
    hand.world.phase = phase;
    for (std::size_t i = 0; i < hand.world.pieces.size(); ++i) {
        LivePiece& piece = hand.world.pieces[i];
        if (!piece.present || piece.model->during.items.empty())
            continue;
        const bool here = hand.world.isDuring(*piece.model);
        if (std::exchange(piece.here, here) == here)
            continue;
        const auto index = static_cast<PieceIndex>(i);
        touched_.push_back(index);
        if (here) {
            hand.world.markAll(index, Cause::phase);
            for (const LiveShape& shape : hand.world.shapesOf(index))
                ends_.unmark(static_cast<int>(&shape - hand.world.shapes.data()), Cause::phase);
            continue;
        }
        for (const LiveShape& shape : hand.world.shapesOf(index))
            ends_.mark(static_cast<int>(&shape - hand.world.shapes.data()), Cause::phase);
    }
}

/// S7: a snare that began to listen because of a phase.
void Engine::catchUpWithPhase(PieceIndex owner, const std::string& from, const std::string& to, const TickContext& hand)
{
    const std::string prefix = owner == theScene ? "scene:" : "";
    for (std::size_t i = 0; i < scene_->snares.size(); ++i) {
        const auto& during = scene_->snares[i].during.items;
        const auto listens = [&](const std::string& phase) {
            return std::ranges::find(during, prefix + phase) != during.end();
        };
        if (scene_->snares[i].gate.catchUp && listens(to) && !listens(from) && armed_[i])
            offerToInsiders(static_cast<int>(i), owner == theScene ? nobody : owner, hand);
    }
}

/// S7 with `catchUp`: those inside already are offered to a snare that did not listen before.
void Engine::offerToInsiders(int snare, PieceIndex only, const TickContext& hand)
{
    const scene::Snare& rule = snareAt(snare);
    const auto& listening = book_.listeningTo(EventKind::enter);
    if (!rule.gate.catchUp || std::ranges::find(listening, snare) == listening.end())
        return;
    const Where& where = book_.where(snare);
    std::vector<PieceIndex> selves;
    if (where.kind == Where::Kind::piece)
        selves = {where.piece};
    else if (where.kind == Where::Kind::selector)
        selves = piecesOf(where.selector, hand.world);
    if (only != nobody)
        std::erase_if(selves, [&](PieceIndex self) { return self != only; });
    for (const PieceIndex self : selves) {
        for (const auto& [visitor, in] : insidersFor(snare, self, hand.world)) {
            Event event;
            event.kind = EventKind::enter;
            event.self = self;
            event.visitor = visitor;
            event.shape = in.shape;
            event.part = in.part;
            event.cause = Cause::armed;
            event.frac = 0;
            event.onlySnare = snare;
            queue(std::move(event));
        }
    }
}

} // namespace snare::rules
