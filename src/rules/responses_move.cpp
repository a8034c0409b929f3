// SPDX-License-Identifier: Apache-2.0
/// Responses that move pieces: orders, places, pushes, sizes, carrying.
#include "motion/motion.h"
#include "rules/answers.h"
#include "rules/response_context.h"
#include "rules/responses.h"
#include "scene/assemblies.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::rules {

using world::LivePiece;

namespace {

/// The kinematic pieces among the targets, with `orLoose` the dynamic ones and walkers too; others
/// are noted and left alone.
std::vector<PieceIndex> movable(const scene::Target& on, ResponseContext& context, bool orLoose = false)
{
    std::vector<PieceIndex> result;
    for (const Acted& target : context.on(on)) {
        if (target.piece < 0)
            continue;
        const LivePiece& piece = context.world().piece(target.piece);
        if (std::holds_alternative<scene::KinematicBody>(piece.body) || (orLoose && (piece.loose || piece.walks)))
            result.push_back(target.piece);
        else
            context.note(fmt::format("{} is {} and cannot be moved this way", piece.id, scene::kindOf(piece.body)));
    }
    return result;
}

std::optional<double> speedOf(const scene::Value<double>& value, ResponseContext& context)
{
    const auto speed = resolve(value, context.around());
    if (speed && *speed > 0)
        return speed;
    context.note("a speed is missing or not above 0");
    return std::nullopt;
}

} // namespace

void apply(const scene::Move& move, ResponseContext& context)
{
    const std::vector<PieceIndex> pieces = movable(move.on, context);
    if (pieces.empty())
        return;
    const auto speed = speedOf(move.speed, context);
    if (!speed)
        return;
    if (!move.to && !move.by)
        return context.note("a move says neither where to nor how far");
    const double arrive = std::max(0.0, resolve(move.arrive, context.around()).value_or(0));
    for (const PieceIndex piece : pieces) {
        const world::Pose& from = context.world().pose()[static_cast<std::size_t>(piece)];
        world::MoveOrder order;
        order.target = from.at;
        order.height = from.z;
        if (move.to) {
            const auto goal = placeOf(*move.to, piece, context);
            if (!goal)
                continue;
            order.target = goal->at;
            order.height = goal->z.value_or(order.height);
        }
        const auto by = offsetOf(move.by, context);
        if (!by)
            continue;
        order.target += *by;
        order.height += move.rise;
        order.speed = *speed;
        order.arrive = arrive;
        order.ease = move.ease;
        order.from = from;
        order.total =
            std::hypot(order.target.x - from.at.x, order.target.y - from.at.y, order.height - from.z) / *speed;
        context.tell(piece);
        context.with("to", order.target, order.height);
        context.with("speed", *speed);
        context.with("arrive", arrive);
        if (move.ease != scene::Ease::none)
            context.with("ease", scene::wordOf(move.ease));
        context.endMove(piece);
        order.id = context.nextOrder();
        context.world().orderMove(piece, order);
        if (move.wait)
            context.waitForOrder(order.id);
    }
}

void apply(const scene::Chase& chase, ResponseContext& context)
{
    const std::vector<PieceIndex> pieces = movable(chase.on, context);
    if (pieces.empty())
        return;
    Targets after = context.on(chase.after);
    after.erase(std::remove_if(after.begin(), after.end(),
                               [](const Acted& one) { return one.piece < 0 && !isPointer(one.piece); }),
                after.end());
    if (after.empty())
        return;
    const auto speed = speedOf(chase.speed, context);
    if (!speed)
        return;
    for (const PieceIndex piece : pieces) {
        if (piece == after.front().piece) {
            context.note(fmt::format("{} cannot chase itself", context.world().nameOf(piece)));
            continue;
        }
        const double near = std::max(0.0, resolve(chase.near, context.around()).value_or(0));
        context.tell(piece, std::string(context.world().nameOf(after.front().piece)));
        context.with("after", context.world().nameOf(after.front().piece));
        context.with("speed", *speed);
        context.with("near", near);
        context.endMove(piece);
        world::MoveOrder order;
        order.id = context.nextOrder();
        order.after = after.front().piece;
        order.speed = *speed;
        order.arrive = near;
        context.world().orderMove(piece, order);
    }
}

void apply(const scene::Turn& turn, ResponseContext& context)
{
    const std::vector<PieceIndex> pieces = movable(turn.on, context);
    if (pieces.empty())
        return;
    const auto speed = speedOf(turn.speed, context);
    if (!speed)
        return;
    if (!turn.to && !turn.by)
        return context.note("a turn says neither where to nor how far");
    const auto to = turn.to ? resolve(*turn.to, context.around()) : std::optional(0.0);
    const auto by = turn.by ? resolve(*turn.by, context.around()) : std::optional(0.0);
    if (!to || !by)
        return context.note("the angle is missing");
    for (const PieceIndex piece : pieces) {
        const double now = context.world().pose()[static_cast<std::size_t>(piece)].turn;
        const double target = (turn.to ? now + std::remainder(*to - now, 360.0) : now) + *by;
        context.tell(piece);
        context.with("to", target);
        context.with("speed", *speed);
        context.endTurn(piece);
        const std::uint32_t order = context.nextOrder();
        context.world().orderTurn(piece, {order, target, *speed});
        if (turn.wait)
            context.waitForOrder(order);
    }
}

void apply(const scene::Stop& stop, ResponseContext& context)
{
    for (const PieceIndex piece : movable(stop.on, context, true)) {
        context.tell(piece);
        context.endMove(piece);
        context.endTurn(piece);
        context.world().halt(piece);
    }
}

namespace {

/// Where the origin of a laid assembly is now, m: it goes with its first part (A1). Nothing if the
/// piece is no part of one that the target names as a whole.
std::optional<Vec> originOfWhole(const scene::Target& on, PieceIndex piece, ResponseContext& context)
{
    const world::World& world = context.world();
    const std::string& laid = world.piece(piece).laid;
    if (laid.empty() || std::ranges::find(on.names, laid) == on.names.end())
        return std::nullopt;
    for (std::size_t i = 0; i < world.pieces().size(); ++i)
        if (const LivePiece& first = world.pieces()[i]; first.present && first.laid == laid) {
            const scene::Laid* start = scene::findLaid(context.scene(), laid);
            return world.pose()[i].at - first.home.at + (start ? start->at : first.home.at);
        }
    return std::nullopt;
}

} // namespace

void apply(const scene::Put& put, ResponseContext& context)
{
    const Targets targets = context.piecesOn(put.on);
    if (targets.empty())
        return;
    if (!put.at && !put.by)
        return context.note("a put says neither where nor how far");
    for (const Acted& target : targets) {
        if (context.world().piece(target.piece).led) { // V10
            context.note(fmt::format("{} is being led and is not put elsewhere", context.world().nameOf(target.piece)));
            continue;
        }
        const auto by = offsetOf(put.by, context);
        if (!by)
            continue;
        PendingChange pending{
            .kind = PendingChange::Kind::put, .piece = target.piece, .at = *by, .relative = true, .height = put.rise};
        pending.ifClear = put.ifClear;
        if (put.at) {
            const auto goal = placeOf(*put.at, target.piece, context);
            if (!goal)
                continue;
            pending.at += goal->at;
            // A whole assembly keeps together: its origin is put there.
            if (const auto origin = originOfWhole(put.on, target.piece, context))
                pending.at += context.world().pose()[static_cast<std::size_t>(target.piece)].at - *origin;
            pending.relative = false;
            pending.height = goal->z ? std::optional(*goal->z + put.rise) : std::nullopt;
            pending.turns = goal->home;
            pending.turn = context.world().piece(target.piece).home.turn;
        }
        context.tell(target.piece);
        context.with(pending.relative ? "by" : "at", pending.at, pending.height.value_or(0));
        if (pending.turns)
            context.with("turn", pending.turn);
        if (pending.ifClear)
            context.withValue("ifClear", true);
        context.addPending(pending);
    }
}

void apply(const scene::Push& push, ResponseContext& context)
{
    const Targets targets = context.piecesOn(push.on);
    if (targets.empty())
        return;
    const auto velocity = offsetOf(push.velocity, context);
    const auto impulse = offsetOf(push.impulse, context);
    if (!velocity || !impulse)
        return;
    for (const Acted& target : targets) {
        const LivePiece& piece = context.world().piece(target.piece);
        if (piece.resting || piece.driven) {
            context.note(fmt::format("{} is {} and cannot be pushed", piece.id, scene::kindOf(piece.body)));
            continue;
        }
        const double mass = motion::massOf(context.world(), target.piece);
        if (push.impulse && mass == 0)
            context.note(fmt::format("{} has no mass: an impulse does nothing", piece.id));
        context.tell(target.piece);
        if (push.velocity)
            context.with("velocity", *velocity, 0);
        if (push.impulse)
            context.with("impulse", *impulse, 0);
        context.world().push(target.piece, *velocity);
        if (push.impulse && mass > 0)
            context.world().push(target.piece, *impulse / mass);
    }
}

void apply(const scene::Size& size, ResponseContext& context)
{
    const Targets targets = context.piecesOn(size.on);
    if (targets.empty() || !context.mayHold(size.until))
        return;
    if (!size.to && !size.by)
        return context.note("a size says neither to what nor by how much");
    const auto scale = resolve(size.to ? *size.to : *size.by, context.around());
    if (!scale || !(*scale > 0) || !std::isfinite(*scale))
        return context.note("a size is missing or not above 0");
    for (const Acted& target : targets) {
        context.tell(target.piece, fmt::format("{} {:.9g}", size.to ? "to" : "by", *scale));
        context.with(size.to ? "to" : "by", *scale);
        context.withUntil(size.until);
        Hold hold;
        hold.what = size.to ? Hold::What::scale : Hold::What::factor;
        hold.piece = target.piece;
        hold.number = *scale;
        context.addPending({.kind = PendingChange::Kind::resize,
                            .piece = target.piece,
                            .relative = !size.to,
                            .scale = *scale,
                            .hold = context.hold(size.until, std::move(hold))});
    }
}

void apply(const scene::Attach& attach, ResponseContext& context)
{
    const Targets targets = context.piecesOn(attach.on);
    if (targets.empty())
        return;
    const Targets carriers = context.on(attach.to);
    if (carriers.empty())
        return;
    const PieceIndex carrier = carriers.front().piece;
    if (carrier < 0 && !isPointer(carrier))
        return context.note("only a piece or the pointer can carry a piece");
    for (const Acted& target : targets) {
        if (target.piece == carrier || (carrier >= 0 && context.world().carries(target.piece, carrier))) {
            context.note(fmt::format("{} cannot carry what it rides on", context.world().nameOf(carrier)));
            continue;
        }
        if (carrier >= 0 && context.world().piece(target.piece).pinned != context.world().piece(carrier).pinned) {
            context.note(fmt::format("{} and {} are not both on the glass", context.world().nameOf(target.piece),
                                     context.world().nameOf(carrier)));
            continue;
        }
        context.tell(target.piece, std::string(context.world().nameOf(carrier)));
        context.with("to", context.world().nameOf(carrier));
        context.addPending({.kind = PendingChange::Kind::attach, .piece = target.piece, .carrier = carrier});
    }
}

void apply(const scene::Detach& detach, ResponseContext& context)
{
    addForEach(detach.on, PendingChange::Kind::detach, context);
}

} // namespace snare::rules
