// SPDX-License-Identifier: Apache-2.0
#include "rules/responses.h"

#include "motion/motion.h"
#include "rules/answers.h"
#include "rules/clock.h"
#include "rules/response_context.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::rules {

using world::LivePiece;

namespace {

/// Notes the same change for every target; with `until` what was before is kept.
void settleEach(const scene::Target& on, PendingChange::Kind kind, ResponseContext& context,
                std::optional<scene::Until> until = {}, Hold::What what = Hold::What::shown)
{
    const bool ofShapes = kind != PendingChange::Kind::detach && kind != PendingChange::Kind::remove;
    const Targets targets = context.piecesOn(on, ofShapes);
    if (targets.empty() || !context.mayHold(until))
        return;
    for (const Acted& target : targets) {
        context.tell(target.piece);
        context.withShape(target);
        context.withUntil(until);
        Hold hold;
        hold.what = what;
        hold.piece = target.piece;
        hold.held = target.shape;
        context.addPending(
            {.kind = kind, .piece = target.piece, .shape = target.shape, .hold = context.hold(until, std::move(hold))});
    }
}

void armAll(const std::vector<std::string>& snares, PendingChange::Kind kind, ResponseContext& context)
{
    context.tell(nobody, fmt::format("{}", fmt::join(snares, ", ")));
    context.withList("snares", snares);
    for (const std::string& id : snares) {
        const int found = context.findSnare(id);
        if (found < 0)
            context.note(fmt::format("there is no snare {}", id));
        else
            context.addPending({.kind = kind, .snare = found});
    }
}

/// The kinematic pieces among the targets, with `orLoose` the dynamic ones and walkers too; others are noted and left
/// alone.
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

/// A caption or prompt at each target for a time, or until the meeting ends if it is held.
void caption(const Targets& targets, const std::string& text, double seconds, std::optional<scene::Until> held,
             ResponseContext& context)
{
    const std::int64_t until = tickAfter(context.tick(), seconds, context.rate());
    for (const Acted& target : targets) {
        const bool stays = held && context.isMeetingOn();
        const std::int32_t line =
            context.tell(target.piece, text, stays ? std::numeric_limits<std::int32_t>::max() : until);
        context.with("text", text);
        if (!stays)
            context.with("for", seconds);
        context.withUntil(stays ? held : std::nullopt);
        Hold hold;
        hold.what = Hold::What::caption;
        hold.piece = target.piece;
        hold.line = line;
        if (stays)
            context.hold(held, std::move(hold));
    }
}

} // namespace

void carryOut(const scene::Response& response, ResponseContext& context)
{
    if (context.begin(response))
        std::visit([&](const auto& kind) { apply(kind, context); }, response.kind);
}

void apply(const scene::Say& say, ResponseContext& context)
{
    const Targets targets = context.on(say.on);
    if (targets.empty() || !context.mayHold(say.until))
        return;
    std::string text;
    for (const scene::Value<std::string>& line : say.text.items)
        text += (text.empty() ? "" : "\n") +
                filledIn(resolve(line, context.around()).value_or(std::string{}), context.around());
    const double seconds = std::max(0.0, resolve(say.duration, context.around()).value_or(scene::captionSeconds));
    caption(targets, text, seconds, say.until, context);
    if (say.wait)
        context.waitUntil(tickAfter(context.tick(), seconds, context.rate()));
}

void apply(const scene::Prompt& prompt, ResponseContext& context)
{
    const Targets targets = context.on(prompt.on);
    if (targets.empty() || !context.mayHold(scene::Until::exit))
        return;
    const std::string text = filledIn(resolve(prompt.text, context.around()).value_or(std::string{}), context.around());
    caption(targets, text, scene::captionSeconds, scene::Until::exit, context);
}

void apply(const scene::Note& note, ResponseContext& context)
{
    const std::string text = filledIn(resolve(note.text, context.around()).value_or(std::string{}), context.around());
    context.tell(nobody);
    context.with("text", text);
    context.note(text);
}

void apply(const scene::Show& show, ResponseContext& context)
{
    settleEach(show.on, PendingChange::Kind::show, context, show.until);
}

void apply(const scene::Hide& hide, ResponseContext& context)
{
    settleEach(hide.on, PendingChange::Kind::hide, context, hide.until);
}

void apply(const scene::Enable& enable, ResponseContext& context)
{
    settleEach(enable.on, PendingChange::Kind::enable, context, enable.until, Hold::What::enabled);
}

void apply(const scene::Disable& disable, ResponseContext& context)
{
    settleEach(disable.on, PendingChange::Kind::disable, context, disable.until, Hold::What::enabled);
}

void apply(const scene::Arm& arm, ResponseContext& context)
{
    armAll(arm.snares, PendingChange::Kind::arm, context);
}

void apply(const scene::Disarm& disarm, ResponseContext& context)
{
    armAll(disarm.snares, PendingChange::Kind::disarm, context);
}

void apply(const scene::Rearm& rearm, ResponseContext& context)
{
    context.tell(nobody, fmt::format("{}", fmt::join(rearm.snares, ", ")));
    context.withList("snares", rearm.snares);
    for (const std::string& id : rearm.snares) {
        const int found = context.findSnare(id);
        if (found < 0)
            context.note(fmt::format("there is no snare {}", id));
        else
            context.rearm(found);
    }
}

namespace {

/// Whether a value of this name can be set there; if not, that is noted.
bool mayBeSet(PieceIndex owner, const std::string& name, ResponseContext& context)
{
    const bool fine = canBeSet(owner, name);
    if (!fine)
        context.note(fmt::format("{} of {} cannot be set this way", name, context.world().nameOf(owner)));
    return fine;
}

/// What a value was before it was set: nothing if there was none.
Hold valueHold(Hold::What what, PieceIndex owner, const std::string& name, ResponseContext& context)
{
    Hold hold;
    hold.what = what;
    hold.piece = owner;
    hold.name = name;
    hold.before = valueOf(owner, name, context.around());
    return hold;
}

} // namespace

void apply(const scene::Set& set, ResponseContext& context)
{
    const Targets targets = context.on(set.on);
    if (targets.empty() || !context.mayHold(set.until))
        return;
    const auto value = resolve(set.value, context.around());
    if (!value)
        return context.note(fmt::format("the value for {} is missing", set.name));
    for (const Acted& target : targets) {
        if (!mayBeSet(target.piece, set.name, context))
            continue;
        context.tellValue(target.piece, set.name, *value);
        if (!std::holds_alternative<double>(*value)) { // a number is told with the line
            context.with("name", set.name);
            context.withValue("value", *value);
        }
        context.withUntil(set.until);
        if (set.until)
            context.hold(set.until, valueHold(Hold::What::value, target.piece, set.name, context));
        context.setValue(target.piece, set.name, *value);
    }
}

void apply(const scene::Add& add, ResponseContext& context)
{
    Targets targets;
    if (!context.isScene(add.on)) {
        targets = context.on(add.on);
        if (targets.empty())
            return;
    }
    if (add.until && !context.mayHold(add.until))
        return;
    const double* literal = add.value.literal();
    const auto value = literal ? std::optional(*literal) : resolve(add.value, context.around());
    if (!value)
        return context.note(fmt::format("the number to add to {} is missing", add.name));
    const auto keep = [&](PieceIndex piece) {
        if (!add.until)
            return;
        Hold hold = valueHold(Hold::What::added, piece, add.name, context);
        hold.number = *value;
        context.hold(add.until, std::move(hold));
    };
    const auto addTo = [&](const Acted& target) {
        if (double* held = context.numberOf(target.piece, add.name)) { // as most are
            if (!mayBeSet(target.piece, add.name, context))
                return;
            const double sum = *held + *value;
            const Texts::Id word = context.tellNumber(target.piece, add.name, sum);
            context.with("value", *value);
            context.withUntil(add.until);
            keep(target.piece);
            context.setNumber(target.piece, add.name, word, *held, sum);
            return;
        }
        const auto old = valueOf(target.piece, add.name, context.around());
        const double* number = old ? std::get_if<double>(&*old) : nullptr;
        if (old && !number) {
            context.note(fmt::format("{} is no number", add.name));
            return;
        }
        if (!mayBeSet(target.piece, add.name, context))
            return;
        const double sum = (number ? *number : 0.0) + *value;
        context.tellNumber(target.piece, add.name, sum);
        context.with("value", *value);
        context.withUntil(add.until);
        keep(target.piece);
        context.setValue(target.piece, add.name, sum);
    };
    if (targets.empty())
        addTo({theScene, -1});
    for (const Acted& target : targets)
        addTo(target);
}

namespace {

/// Gives or takes a tag, and keeps whether it was there before.
void setTag(const scene::Target& on, const scene::Value<std::string>& value, bool given,
            std::optional<scene::Until> until, ResponseContext& context)
{
    const Targets targets = context.piecesOn(on);
    if (targets.empty() || !context.mayHold(until))
        return;
    const std::string tag = nameOf(value, "tag", context);
    if (tag.empty())
        return;
    for (const Acted& target : targets) {
        context.tell(target.piece, tag);
        context.with("tag", tag);
        context.withUntil(until);
        Hold hold;
        hold.what = Hold::What::tag;
        hold.piece = target.piece;
        hold.name = tag;
        hold.flag = context.world().piece(target.piece).hasTag(tag);
        context.world().setTag(target.piece, tag, given);
        context.hold(until, std::move(hold));
    }
}

} // namespace

void apply(const scene::Tag& tag, ResponseContext& context)
{
    setTag(tag.on, tag.tag, true, tag.until, context);
}

void apply(const scene::Untag& untag, ResponseContext& context)
{
    setTag(untag.on, untag.tag, false, untag.until, context);
}

void apply(const scene::Regroup& regroup, ResponseContext& context)
{
    const Targets targets = context.piecesOn(regroup.on, true);
    if (targets.empty() || !context.mayHold(regroup.until))
        return;
    const std::string name = nameOf(regroup.group, "group", context);
    if (name.empty())
        return;
    const int group = context.world().groups.indexOf(name);
    for (const Acted& target : targets) {
        context.tell(target.piece, name);
        context.withShape(target);
        context.with("group", name);
        context.withUntil(regroup.until);
        Hold hold;
        hold.what = Hold::What::group;
        hold.piece = target.piece;
        hold.held = target.shape;
        context.addPending({.kind = PendingChange::Kind::regroup,
                            .piece = target.piece,
                            .shape = target.shape,
                            .group = group,
                            .hold = context.hold(regroup.until, std::move(hold))});
    }
}

namespace {

/// The look that a choice means for one piece, with what it is called; nothing, and a note, if there is none.
std::optional<std::pair<scene::Look, std::string>> lookFor(const scene::LookChoice& choice, const LivePiece& piece,
                                                           ResponseContext& context)
{
    if (const auto* own = std::get_if<scene::Look>(&choice.held)) {
        scene::Look look = *own;
        if (choice.colour) {
            const auto colour = resolve(scene::Value<std::string>{*choice.colour}, context.around());
            if (!colour) {
                context.note("the colour is missing");
                return std::nullopt;
            }
            look.colour.code = *colour;
        }
        return std::pair(look, std::string{});
    }
    std::string name;
    if (const auto* formula = std::get_if<scene::Formula>(&choice.held))
        name = nameOf(scene::Value<std::string>{*formula}, "look", context);
    else
        name = std::get<std::string>(choice.held);
    const scene::Piece& drawn = *piece.model;
    const auto& looks = drawn.looks.entries;
    if (name == "next" && !looks.empty()) { // the base look, then the named ones, round and round
        const scene::Look& now = context.world().looks[static_cast<std::size_t>(piece.look)];
        const auto at = std::ranges::find_if(looks, [&](const auto& entry) { return entry.second == now; });
        const auto next = at == looks.end() ? looks.begin() : at + 1;
        return next == looks.end() ? std::pair(drawn.look, std::string("plain")) : std::pair(next->second, next->first);
    }
    if (name == "plain")
        return std::pair(drawn.look, name);
    if (const scene::Look* named = drawn.looks.find(name))
        return std::pair(*named, name);
    context.note(fmt::format("{} has no look {}", piece.id, name));
    return std::nullopt;
}

} // namespace

void apply(const scene::ChangeLook& look, ResponseContext& context)
{
    const Targets targets = context.piecesOn(look.on);
    if (targets.empty() || !context.mayHold(look.until))
        return;
    for (const Acted& target : targets) {
        const LivePiece& piece = context.world().piece(target.piece);
        auto chosen = lookFor(look.to, piece, context);
        if (!chosen)
            continue;
        context.tell(target.piece, chosen->second);
        chosen->second.empty() ? context.with("colour", chosen->first.colour.code) : context.with("to", chosen->second);
        context.withUntil(look.until);
        Hold hold;
        hold.what = Hold::What::look;
        hold.piece = target.piece;
        hold.number = piece.look;
        context.hold(look.until, std::move(hold));
        context.putOn(target.piece, context.world().indexOf(chosen->first));
    }
}

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
        const world::Pose& from = context.world().pose[static_cast<std::size_t>(piece)];
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
        context.world().piece(piece).move = order;
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
        context.world().piece(piece).move = order;
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
        const double now = context.world().pose[static_cast<std::size_t>(piece)].turn;
        const double target = (turn.to ? now + std::remainder(*to - now, 360.0) : now) + *by;
        context.tell(piece);
        context.with("to", target);
        context.with("speed", *speed);
        context.endTurn(piece);
        const std::uint32_t order = context.nextOrder();
        context.world().piece(piece).turn = {order, target, *speed};
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
        LivePiece& one = context.world().piece(piece);
        one.velocity = {0, 0};
        one.rise = 0;
        one.spin = 0;
        one.route.under = false;
        context.world().woken.push_back(piece);
    }
}

void apply(const scene::Put& put, ResponseContext& context)
{
    const Targets targets = context.piecesOn(put.on);
    if (targets.empty())
        return;
    if (!put.at && !put.by)
        return context.note("a put says neither where nor how far");
    for (const Acted& target : targets) {
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
        LivePiece& piece = context.world().piece(target.piece);
        if (piece.resting) {
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
        piece.velocity += *velocity;
        if (push.impulse && mass > 0)
            piece.velocity += *impulse / mass;
        context.world().woken.push_back(target.piece);
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
    settleEach(detach.on, PendingChange::Kind::detach, context);
}

void apply(const scene::Remove& remove, ResponseContext& context)
{
    settleEach(remove.on, PendingChange::Kind::remove, context);
}

} // namespace snare::rules
