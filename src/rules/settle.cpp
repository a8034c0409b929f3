// SPDX-License-Identifier: Apache-2.0
/// Settling: what was noted during a delivery takes effect together (K4, K5, K7).
#include "rules/engine.h"

#include <fmt/format.h>

namespace snare::rules {

using world::LivePiece;
using world::LiveShape;

void Engine::settle(double frac, Stagehand hand)
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
    endCauses_.assign(hand.world.shapes.size(), Cause::moved);
    removedNow_.clear();
    armedNow_.clear();
    touched_.clear();
    const std::vector<Noted> noted = std::exchange(noted_, {});
    for (const Noted& change : noted)
        apply(change, hand);

    const auto causeOf = [&](int shape) { return endCauses_[static_cast<std::size_t>(shape)]; };
    for (const detect::Change& change : hand.detection.settle(hand.world, touched_, frac, causeOf)) {
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
        for (std::size_t i = 0; i < runs_.size();) { // S9: a run ends when its self is removed
            if (runs_[i].self != piece) {
                ++i;
                continue;
            }
            const RunState run = std::move(runs_[i]);
            runs_.erase(runs_.begin() + static_cast<std::ptrdiff_t>(i));
            ended(run);
        }
    }
    for (const int snare : armedNow_)
        offerToInsiders(snare, hand);
}

/// A piece and all that it carries, directly or over others.
template <class Visit> void Engine::forEachRider(PieceIndex piece, Stagehand hand, Visit&& visit)
{
    visit(piece);
    for (const PieceIndex rider : hand.world.carried)
        if (hand.world.carries(piece, rider))
            visit(rider);
}

void Engine::apply(const Noted& noted, Stagehand hand)
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
    LivePiece& piece = hand.world.piece(noted.piece);
    if (!piece.present)
        return;
    touched_.push_back(noted.piece);
    const auto eachShape = [&](auto&& visit) {
        for (LiveShape& shape : hand.world.shapesOf(noted.piece)) {
            const auto index = static_cast<std::size_t>(&shape - hand.world.shapes.data());
            if (noted.shape < 0 || static_cast<std::size_t>(noted.shape) == index)
                visit(shape, endCauses_[index]);
        }
    };
    const auto began = [&](Cause cause) {
        eachShape([&](LiveShape& shape, Cause&) { hand.world.mark(shape, cause); });
    };
    const auto endedBy = [&](Cause cause) {
        eachShape([&](LiveShape&, Cause& end) { end = end == Cause::removed ? end : cause; });
    };
    const auto endOrders = [&](std::string_view by) {
        if (piece.move.id != 0)
            orderEnded(std::exchange(piece.move, {}).id, by, hand);
        if (piece.turn.id != 0 && by == "remove")
            orderEnded(std::exchange(piece.turn, {}).id, by, hand);
    };
    switch (noted.kind) {
    case Noted::Kind::show:
        if (!std::exchange(piece.shown, true))
            began(Cause::shown);
        break;
    case Noted::Kind::hide:
        if (std::exchange(piece.shown, false))
            endedBy(Cause::hidden);
        break;
    case Noted::Kind::enable:
    case Noted::Kind::disable: {
        const bool enable = noted.kind == Noted::Kind::enable;
        bool changed = false;
        if (noted.shape < 0)
            changed = std::exchange(piece.enabled, enable) != enable;
        else
            changed = std::exchange(hand.world.shapes[static_cast<std::size_t>(noted.shape)].enabled, enable) != enable;
        if (changed)
            enable ? began(Cause::enabled) : endedBy(Cause::disabled);
        break;
    }
    case Noted::Kind::regroup:
        if (noted.shape < 0)
            piece.group = noted.group;
        eachShape([&](LiveShape& shape, Cause& end) {
            if (std::exchange(shape.group, static_cast<std::int16_t>(noted.group)) == noted.group)
                return;
            hand.world.mark(shape, Cause::regrouped);
            end = end == Cause::moved ? Cause::regrouped : end;
        });
        break;
    case Noted::Kind::put: {
        world::Pose pose = hand.world.pose[static_cast<std::size_t>(noted.piece)];
        pose.at = noted.relative ? pose.at + noted.at : noted.at;
        pose.z = noted.relative ? pose.z + noted.height.value_or(0) : noted.height.value_or(pose.z);
        if (noted.turns)
            pose.turn = noted.turn;
        hand.world.put(noted.piece, pose);
        endOrders("put");
        break;
    }
    case Noted::Kind::resize:
        // However often it grows or shrinks, it stays a size that has corners.
        hand.world.resize(noted.piece, std::clamp(noted.relative ? piece.scale * noted.scale : noted.scale,
                                                  1 / world::mostScale, world::mostScale));
        break;
    case Noted::Kind::retrace:
        hand.world.retrace(noted.piece);
        break;
    case Noted::Kind::attach: {
        if (!hand.world.piece(noted.carrier).present || noted.carrier == noted.piece)
            break;
        hand.world.attach(noted.piece, noted.carrier);
        endOrders("attach");
        // It and all that it carries no longer meets what carries them (M14).
        forEachRider(noted.piece, hand, [&](PieceIndex rider) {
            touched_.push_back(rider);
            for (const LiveShape& shape : hand.world.shapesOf(rider)) {
                Cause& end = endCauses_[static_cast<std::size_t>(&shape - hand.world.shapes.data())];
                end = end == Cause::moved ? Cause::attached : end;
            }
        });
        break;
    }
    case Noted::Kind::detach:
        hand.world.attach(noted.piece, nobody);
        break;
    case Noted::Kind::remove:
        piece.present = false;
        removedNow_.push_back(noted.piece);
        for (std::size_t i = 0; i < hand.world.pieces.size(); ++i)
            if (hand.world.pieces[i].carrier == noted.piece)
                hand.world.attach(static_cast<PieceIndex>(i), nobody);
        hand.world.attach(noted.piece, nobody);
        endedBy(Cause::removed);
        endOrders("remove");
        break;
    default:
        break;
    }
}

/// S7 with `catchUp`: those inside already are offered to the snare that was just armed.
void Engine::offerToInsiders(int snare, Stagehand hand)
{
    const scene::Snare& rule = scene_->snares[static_cast<std::size_t>(snare)];
    const auto& listening = book_.listeningTo(EventKind::enter);
    if (!rule.gate.catchUp || std::ranges::find(listening, snare) == listening.end())
        return;
    const Where& where = book_.where(snare);
    std::vector<PieceIndex> selves;
    if (where.kind == Where::Kind::piece)
        selves = {where.piece};
    else if (where.kind == Where::Kind::selector)
        selves = piecesOf(where.selector, hand.world);
    for (const PieceIndex self : selves) {
        std::vector<PieceIndex> offered;
        for (const Insiders::Entry& entry : insiders_.of(self)) {
            const int number = hand.world.shapes[static_cast<std::size_t>(entry.shape)].number;
            if (where.shapeNumber >= 0 && number != where.shapeNumber)
                continue;
            if (std::ranges::find(offered, entry.visitor) != offered.end())
                continue;
            offered.push_back(entry.visitor);
            Event event;
            event.kind = EventKind::enter;
            event.self = self;
            event.visitor = entry.visitor;
            event.shape = entry.shape;
            event.part = entry.part;
            event.cause = Cause::armed;
            event.frac = 0;
            event.onlySnare = snare;
            queue(std::move(event));
        }
    }
}

} // namespace snare::rules
