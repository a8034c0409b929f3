// SPDX-License-Identifier: Apache-2.0
/// Settling: what was noted during a delivery takes effect together (K4, K5, K7).
#include "rules/engine.h"

#include <fmt/format.h>

namespace snare::rules {

using world::LivePiece;
using world::LiveShape;

namespace {

/// Which snare and step a line is about.
void tellStep(Line& line, const Noted& noted, Journal& journal)
{
    line.snare = noted.by;
    line.step = noted.step;
    line.routine = journal.texts.keep(noted.routine);
}

} // namespace

void Engine::settle(double frac, const Stagehand& hand)
{
    if (noted_.empty())
        return;
    const auto restart = std::ranges::find(noted_, Noted::Kind::restart, &Noted::kind);
    if (restart != noted_.end()) {
        restartAsked_ = true;
        restartedBy_ = scene_->snares[static_cast<std::size_t>(restart->snare)].id;
        noted_.clear();
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
    const std::vector<Noted> noted = std::exchange(noted_, {});
    for (const Noted& change : noted)
        apply(change, hand);
    if (spawnedAtOnce_ > mostSpawnedAtOnce) // K8
        return stop(fmt::format("tick {}: the snares {} spawn without end: more than {} spawned pieces at once", tick_,
                                raisers(), mostSpawnedAtOnce));
    hand.world.woken.insert(hand.world.woken.end(), touched_.begin(), touched_.end());

    const auto causeOf = [&](const detect::Change& end) {
        const bool groupsEndIt = !detect::groupsAllow(hand.world, end.shape, end.part, end.manner);
        const Cause visitors = ends_.of(end.part, groupsEndIt); // before self's
        return visitors != Cause::moved ? visitors : ends_.of(end.shape, groupsEndIt);
    };
    std::vector<detect::Change> ended = hand.detection.settle(hand.world, touched_, frac, causeOf);
    addPointerEnds(hand.world, frac, ended);
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
    if (!noted_.empty()) // what was given back
        settle(frac, hand);
}

/// A piece and all that it carries, directly or over others.
template <class Visit> void Engine::forEachRider(PieceIndex piece, const Stagehand& hand, Visit&& visit)
{
    visit(piece);
    for (const PieceIndex rider : hand.world.carried)
        if (hand.world.carries(piece, rider))
            visit(rider);
}

void Engine::apply(const Noted& noted, const Stagehand& hand)
{
    if (noted.kind == Noted::Kind::arm || noted.kind == Noted::Kind::disarm) {
        const bool arm = noted.kind == Noted::Kind::arm;
        char& armed = armed_[static_cast<std::size_t>(noted.snare)];
        if (arm && armed == 0)
            armedNow_.push_back(noted.snare);
        if ((armed != 0) != arm)
            hand.journal.armings.push_back({hand.journal.tick, noted.snare, arm});
        armed = arm ? 1 : 0;
        return;
    }
    if (noted.kind == Noted::Kind::phase)
        return applyPhase(noted, hand);
    if (noted.kind == Noted::Kind::spawn)
        return applySpawn(*noted.spawn, hand);
    LivePiece& piece = hand.world.piece(noted.piece);
    if (!piece.present)
        return;
    Hold* hold = noted.hold != 0 ? holds_.find(noted.hold) : nullptr;
    touched_.push_back(noted.piece);
    const auto eachShape = [&](auto&& visit) {
        for (LiveShape& shape : hand.world.shapesOf(noted.piece)) {
            const auto index = static_cast<int>(&shape - hand.world.shapes.data());
            if (noted.shape < 0 || noted.shape == index)
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
        return noted.shape < 0 ? piece.*ofPiece : hand.world.shapes[static_cast<std::size_t>(noted.shape)].*ofShape;
    };
    const auto endOrders = [&](std::string_view by) {
        if (piece.move.id != 0)
            orderEnded(std::exchange(piece.move, {}).id, by, hand);
        if (piece.turn.id != 0 && by == "remove")
            orderEnded(std::exchange(piece.turn, {}).id, by, hand);
    };
    switch (noted.kind) {
    case Noted::Kind::show:
    case Noted::Kind::hide:
    case Noted::Kind::enable:
    case Noted::Kind::disable: {
        const bool shows = noted.kind == Noted::Kind::show || noted.kind == Noted::Kind::hide;
        const bool on = noted.kind == Noted::Kind::show || noted.kind == Noted::Kind::enable;
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
    case Noted::Kind::regroup:
        if (hold)
            hold->number =
                noted.shape < 0 ? piece.group : hand.world.shapes[static_cast<std::size_t>(noted.shape)].group;
        if (noted.shape < 0)
            piece.group = noted.group;
        eachShape([&](LiveShape& shape, int index) {
            if (std::exchange(shape.group, static_cast<std::int16_t>(noted.group)) == noted.group)
                return;
            hand.world.mark(shape, Cause::regrouped);
            ends_.mark(index, Cause::regrouped);
        });
        break;
    case Noted::Kind::put:
        if (applyPut(noted, hand))
            endOrders("put");
        break;
    case Noted::Kind::resize:
        if (hold && hold->what == Hold::What::scale)
            hold->number = piece.scale;
        // However often it grows or shrinks, it stays a size that has corners.
        hand.world.resize(noted.piece, std::clamp(noted.relative ? piece.scale * noted.scale : noted.scale,
                                                  1 / world::mostScale, world::mostScale));
        break;
    case Noted::Kind::retrace:
        hand.world.retrace(noted.piece);
        break;
    case Noted::Kind::attach: {
        const bool isThere =
            isPointer(noted.carrier) ? hand.world.pointer.there : hand.world.piece(noted.carrier).present;
        if (!isThere || noted.carrier == noted.piece)
            break;
        hand.world.attach(noted.piece, noted.carrier);
        endOrders("attach");
        // It and all that it carries no longer meets what carries them (M14).
        forEachRider(noted.piece, hand, [&](PieceIndex rider) {
            touched_.push_back(rider);
            for (const LiveShape& shape : hand.world.shapesOf(rider))
                ends_.mark(static_cast<int>(&shape - hand.world.shapes.data()), Cause::attached);
        });
        break;
    }
    case Noted::Kind::detach:
        hand.world.attach(noted.piece, nobody);
        break;
    case Noted::Kind::remove:
        piece.present = false;
        removedNow_.push_back(noted.piece);
        spawnedAtOnce_ -= noted.piece >= static_cast<PieceIndex>(scene_->pieces.size()) ? 1 : 0;
        isRemovedNow_[noted.piece] = true;
        for (const PieceIndex rider : std::vector(hand.world.carried))
            if (hand.world.piece(rider).carrier == noted.piece)
                hand.world.attach(rider, nobody);
        hand.world.attach(noted.piece, nobody);
        endedBy(Cause::removed);
        endOrders("remove");
        break;
    default:
        break;
    }
}

/// Puts a piece where it was noted; false if something is in the way that must not be.
bool Engine::applyPut(const Noted& noted, const Stagehand& hand)
{
    world::Pose pose = hand.world.pose[static_cast<std::size_t>(noted.piece)];
    pose.at = noted.relative ? pose.at + noted.at : noted.at;
    pose.z = noted.relative ? pose.z + noted.height.value_or(0) : noted.height.value_or(pose.z);
    if (noted.turns)
        pose.turn = noted.turn;
    if (noted.ifClear) {
        const PieceIndex other = inTheWay(hand.world, hand.detection, figureOf(hand.world, noted.piece), pose);
        if (other != nobody) {
            Line& line = hand.journal.add(LineKind::note);
            tellStep(line, noted, hand.journal);
            line.text = hand.journal.texts.keep(fmt::format("{} is not put there: {} is in the way",
                                                            hand.world.nameOf(noted.piece), hand.world.nameOf(other)));
            return false;
        }
    }
    hand.world.put(noted.piece, pose);
    return true;
}

void Engine::applySpawn(const SpawnOrder& order, const Stagehand& hand)
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
void Engine::applyPhase(const Noted& noted, const Stagehand& hand)
{
    std::vector<std::string> names;
    int now = hand.world.phase;
    if (noted.piece == theScene) {
        names = hand.world.phases;
    } else {
        const LivePiece& piece = hand.world.piece(noted.piece);
        // What is removed in the same settling gives its phase events all the same, which are told as gone (K4, K6).
        if (!piece.present && !isRemovedNow_.find(noted.piece))
            return;
        now = piece.phase;
        for (const scene::PiecePhase& phase : piece.model->phases)
            names.push_back(phase.id);
    }
    int next = (now + 1) % std::max(1, static_cast<int>(names.size()));
    if (noted.phase != "next")
        next = static_cast<int>(std::ranges::find(names, noted.phase) - names.begin());
    if (next >= static_cast<int>(names.size())) {
        Line& line = hand.journal.add(LineKind::note);
        tellStep(line, noted, hand.journal);
        line.text =
            hand.journal.texts.keep(fmt::format("{} has no phase {}", hand.world.nameOf(noted.piece), noted.phase));
        return;
    }
    if (next == now)
        return;
    const std::string& from = names[static_cast<std::size_t>(now)];
    const std::string& to = names[static_cast<std::size_t>(next)];
    for (const EventKind kind : {EventKind::phaseEnd, EventKind::phaseBegin}) {
        Event event;
        event.kind = kind;
        event.self = noted.piece;
        event.word = kind == EventKind::phaseEnd ? from : to;
        phasesNow_.push_back(std::move(event));
    }
    hand.journal.phases.push_back({hand.journal.tick, noted.piece, to});
    movedPhases_.emplace_back(noted.piece, from, to);
    if (noted.piece == theScene)
        return moveScenePhase(next, hand);
    LivePiece& piece = hand.world.piece(noted.piece);
    const auto& phases = piece.model->phases;
    const auto& before = phases[static_cast<std::size_t>(now)].look;
    const auto& after = phases[static_cast<std::size_t>(next)].look;
    piece.phase = next;
    if (after)
        putOn(noted.piece, hand.world.indexOf(*after), hand);
    else if (before)
        putOn(noted.piece, hand.world.indexOf(piece.model->look), hand);
}

/// Pieces come and go with the phase of the scene; what they were doing waits for them.
void Engine::moveScenePhase(int phase, const Stagehand& hand)
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
void Engine::catchUpWithPhase(PieceIndex owner, const std::string& from, const std::string& to, const Stagehand& hand)
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
void Engine::offerToInsiders(int snare, PieceIndex only, const Stagehand& hand)
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
