// SPDX-License-Identifier: Apache-2.0
#include "rules/responses.h"

#include "rules/answers.h"
#include "rules/clock.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::rules {

using world::LivePiece;

namespace {

/// Notes the same change for every target; with `until` what was before is kept.
void settleEach(const scene::Target& on, Noted::Kind kind, Doing& doing, std::optional<scene::Until> until = {},
                Hold::What what = Hold::What::shown)
{
    const bool ofShapes = kind != Noted::Kind::detach && kind != Noted::Kind::remove;
    const Targets targets = doing.piecesOn(on, ofShapes);
    if (targets.empty() || !doing.mayHold(until))
        return;
    for (const Acted& target : targets) {
        doing.tell(target.piece);
        doing.withShape(target);
        doing.withUntil(until);
        Hold hold;
        hold.what = what;
        hold.piece = target.piece;
        hold.held = target.shape;
        doing.settleLater(
            {.kind = kind, .piece = target.piece, .shape = target.shape, .hold = doing.hold(until, std::move(hold))});
    }
}

void armAll(const std::vector<std::string>& snares, Noted::Kind kind, Doing& doing)
{
    doing.tell(nobody, fmt::format("{}", fmt::join(snares, ", ")));
    doing.withList("snares", snares);
    for (const std::string& id : snares) {
        const int found = doing.findSnare(id);
        if (found < 0)
            doing.note(fmt::format("there is no snare {}", id));
        else
            doing.settleLater({.kind = kind, .snare = found});
    }
}

/// The kinematic pieces among the targets, with `orLoose` the dynamic ones and walkers too; others are noted and left
/// alone.
std::vector<PieceIndex> movable(const scene::Target& on, Doing& doing, bool orLoose = false)
{
    std::vector<PieceIndex> result;
    for (const Acted& target : doing.on(on)) {
        if (target.piece < 0)
            continue;
        const LivePiece& piece = doing.world().piece(target.piece);
        if (std::holds_alternative<scene::KinematicBody>(piece.body) || (orLoose && (piece.loose || piece.walks)))
            result.push_back(target.piece);
        else
            doing.note(fmt::format("{} is {} and cannot be moved this way", piece.id, scene::kindOf(piece.body)));
    }
    return result;
}

std::optional<double> speedOf(const scene::Value<double>& value, Doing& doing)
{
    const auto speed = resolve(value, doing.around());
    if (speed && *speed > 0)
        return speed;
    doing.note("a speed is missing or not above 0");
    return std::nullopt;
}

/// A caption or prompt at each target for a time, or until the meeting ends if it is held.
void caption(const Targets& targets, const std::string& text, double seconds, std::optional<scene::Until> held,
             Doing& doing)
{
    const std::int64_t until = tickAfter(doing.tick(), seconds, doing.rate());
    for (const Acted& target : targets) {
        const bool stays = held && doing.isMeetingOn();
        const std::int32_t line =
            doing.tell(target.piece, text, stays ? std::numeric_limits<std::int32_t>::max() : until);
        doing.with("text", text);
        if (!stays)
            doing.with("for", seconds);
        doing.withUntil(stays ? held : std::nullopt);
        Hold hold;
        hold.what = Hold::What::caption;
        hold.piece = target.piece;
        hold.line = line;
        if (stays)
            doing.hold(held, std::move(hold));
    }
}

} // namespace

void apply(const scene::Say& say, Doing& doing)
{
    const Targets targets = doing.on(say.on);
    if (targets.empty() || !doing.mayHold(say.until))
        return;
    std::string text;
    for (const scene::Value<std::string>& line : say.text.items)
        text += (text.empty() ? "" : "\n") +
                filledIn(resolve(line, doing.around()).value_or(std::string{}), doing.around());
    const double seconds = std::max(0.0, resolve(say.duration, doing.around()).value_or(scene::captionSeconds));
    caption(targets, text, seconds, say.until, doing);
    if (say.wait)
        doing.waitUntil(tickAfter(doing.tick(), seconds, doing.rate()));
}

void apply(const scene::Prompt& prompt, Doing& doing)
{
    const Targets targets = doing.on(prompt.on);
    if (targets.empty() || !doing.mayHold(scene::Until::exit))
        return;
    const std::string text = filledIn(resolve(prompt.text, doing.around()).value_or(std::string{}), doing.around());
    caption(targets, text, scene::captionSeconds, scene::Until::exit, doing);
}

void apply(const scene::Note& note, Doing& doing)
{
    const std::string text = filledIn(resolve(note.text, doing.around()).value_or(std::string{}), doing.around());
    doing.tell(nobody);
    doing.with("text", text);
    doing.note(text);
}

void apply(const scene::Show& show, Doing& doing)
{
    settleEach(show.on, Noted::Kind::show, doing, show.until);
}

void apply(const scene::Hide& hide, Doing& doing)
{
    settleEach(hide.on, Noted::Kind::hide, doing, hide.until);
}

void apply(const scene::Enable& enable, Doing& doing)
{
    settleEach(enable.on, Noted::Kind::enable, doing, enable.until, Hold::What::enabled);
}

void apply(const scene::Disable& disable, Doing& doing)
{
    settleEach(disable.on, Noted::Kind::disable, doing, disable.until, Hold::What::enabled);
}

void apply(const scene::Arm& arm, Doing& doing)
{
    armAll(arm.snares, Noted::Kind::arm, doing);
}

void apply(const scene::Disarm& disarm, Doing& doing)
{
    armAll(disarm.snares, Noted::Kind::disarm, doing);
}

void apply(const scene::Rearm& rearm, Doing& doing)
{
    doing.tell(nobody, fmt::format("{}", fmt::join(rearm.snares, ", ")));
    doing.withList("snares", rearm.snares);
    for (const std::string& id : rearm.snares) {
        const int found = doing.findSnare(id);
        if (found < 0)
            doing.note(fmt::format("there is no snare {}", id));
        else
            doing.rearm(found);
    }
}

namespace {

/// Whether a value of this name can be set there; if not, that is noted.
bool mayBeSet(PieceIndex owner, const std::string& name, Doing& doing)
{
    const bool fine = canBeSet(owner, name);
    if (!fine)
        doing.note(fmt::format("{} of {} cannot be set this way", name, doing.world().nameOf(owner)));
    return fine;
}

/// What a value was before it was set: nothing if there was none.
Hold valueHold(Hold::What what, PieceIndex owner, const std::string& name, Doing& doing)
{
    Hold hold;
    hold.what = what;
    hold.piece = owner;
    hold.name = name;
    hold.before = valueOf(owner, name, doing.around());
    return hold;
}

} // namespace

void apply(const scene::Set& set, Doing& doing)
{
    const Targets targets = doing.on(set.on);
    if (targets.empty() || !doing.mayHold(set.until))
        return;
    const auto value = resolve(set.value, doing.around());
    if (!value)
        return doing.note(fmt::format("the value for {} is missing", set.name));
    for (const Acted& target : targets) {
        if (!mayBeSet(target.piece, set.name, doing))
            continue;
        doing.tellValue(target.piece, set.name, *value);
        if (!std::holds_alternative<double>(*value)) { // a number is told with the line
            doing.with("name", set.name);
            doing.withValue("value", *value);
        }
        doing.withUntil(set.until);
        if (set.until)
            doing.hold(set.until, valueHold(Hold::What::value, target.piece, set.name, doing));
        doing.setValue(target.piece, set.name, *value);
    }
}

void apply(const scene::Add& add, Doing& doing)
{
    Targets targets;
    if (!doing.isScene(add.on)) {
        targets = doing.on(add.on);
        if (targets.empty())
            return;
    }
    if (add.until && !doing.mayHold(add.until))
        return;
    const double* literal = add.value.literal();
    const auto value = literal ? std::optional(*literal) : resolve(add.value, doing.around());
    if (!value)
        return doing.note(fmt::format("the number to add to {} is missing", add.name));
    const auto keep = [&](PieceIndex piece) {
        if (!add.until)
            return;
        Hold hold = valueHold(Hold::What::added, piece, add.name, doing);
        hold.number = *value;
        doing.hold(add.until, std::move(hold));
    };
    const auto addTo = [&](const Acted& target) {
        if (double* held = doing.numberOf(target.piece, add.name)) { // as most are
            if (!mayBeSet(target.piece, add.name, doing))
                return;
            const double sum = *held + *value;
            const Texts::Id word = doing.tellNumber(target.piece, add.name, sum);
            doing.with("value", *value);
            doing.withUntil(add.until);
            keep(target.piece);
            doing.setNumber(target.piece, add.name, word, *held, sum);
            return;
        }
        const auto old = valueOf(target.piece, add.name, doing.around());
        const double* number = old ? std::get_if<double>(&*old) : nullptr;
        if (old && !number) {
            doing.note(fmt::format("{} is no number", add.name));
            return;
        }
        if (!mayBeSet(target.piece, add.name, doing))
            return;
        const double sum = (number ? *number : 0.0) + *value;
        doing.tellNumber(target.piece, add.name, sum);
        doing.with("value", *value);
        doing.withUntil(add.until);
        keep(target.piece);
        doing.setValue(target.piece, add.name, sum);
    };
    if (targets.empty())
        addTo({theScene, -1});
    for (const Acted& target : targets)
        addTo(target);
}

namespace {

/// Gives or takes a tag, and keeps whether it was there before.
void setTag(const scene::Target& on, const scene::Value<std::string>& value, bool given,
            std::optional<scene::Until> until, Doing& doing)
{
    const Targets targets = doing.piecesOn(on);
    if (targets.empty() || !doing.mayHold(until))
        return;
    const std::string tag = nameOf(value, "tag", doing);
    if (tag.empty())
        return;
    for (const Acted& target : targets) {
        doing.tell(target.piece, tag);
        doing.with("tag", tag);
        doing.withUntil(until);
        Hold hold;
        hold.what = Hold::What::tag;
        hold.piece = target.piece;
        hold.name = tag;
        hold.flag = doing.world().piece(target.piece).hasTag(tag);
        doing.world().setTag(target.piece, tag, given);
        doing.hold(until, std::move(hold));
    }
}

} // namespace

void apply(const scene::Tag& tag, Doing& doing)
{
    setTag(tag.on, tag.tag, true, tag.until, doing);
}

void apply(const scene::Untag& untag, Doing& doing)
{
    setTag(untag.on, untag.tag, false, untag.until, doing);
}

void apply(const scene::Regroup& regroup, Doing& doing)
{
    const Targets targets = doing.piecesOn(regroup.on, true);
    if (targets.empty() || !doing.mayHold(regroup.until))
        return;
    const std::string name = nameOf(regroup.group, "group", doing);
    if (name.empty())
        return;
    const int group = doing.world().groups.indexOf(name);
    for (const Acted& target : targets) {
        doing.tell(target.piece, name);
        doing.withShape(target);
        doing.with("group", name);
        doing.withUntil(regroup.until);
        Hold hold;
        hold.what = Hold::What::group;
        hold.piece = target.piece;
        hold.held = target.shape;
        doing.settleLater({.kind = Noted::Kind::regroup,
                           .piece = target.piece,
                           .shape = target.shape,
                           .group = group,
                           .hold = doing.hold(regroup.until, std::move(hold))});
    }
}

namespace {

/// The look that a choice means for one piece, with what it is called; nothing, and a note, if there is none.
std::optional<std::pair<scene::Look, std::string>> lookFor(const scene::LookChoice& choice, const LivePiece& piece,
                                                           Doing& doing)
{
    if (const auto* own = std::get_if<scene::Look>(&choice.held)) {
        scene::Look look = *own;
        if (choice.colour) {
            const auto colour = resolve(scene::Value<std::string>{*choice.colour}, doing.around());
            if (!colour) {
                doing.note("the colour is missing");
                return std::nullopt;
            }
            look.colour.code = *colour;
        }
        return std::pair(look, std::string{});
    }
    std::string name;
    if (const auto* formula = std::get_if<scene::Formula>(&choice.held))
        name = nameOf(scene::Value<std::string>{*formula}, "look", doing);
    else
        name = std::get<std::string>(choice.held);
    const scene::Piece& drawn = *piece.model;
    const auto& looks = drawn.looks.entries;
    if (name == "next" && !looks.empty()) { // the base look, then the named ones, round and round
        const scene::Look& now = doing.world().looks[static_cast<std::size_t>(piece.look)];
        const auto at = std::ranges::find_if(looks, [&](const auto& entry) { return entry.second == now; });
        const auto next = at == looks.end() ? looks.begin() : at + 1;
        return next == looks.end() ? std::pair(drawn.look, std::string("plain")) : std::pair(next->second, next->first);
    }
    if (name == "plain")
        return std::pair(drawn.look, name);
    if (const scene::Look* named = drawn.looks.find(name))
        return std::pair(*named, name);
    doing.note(fmt::format("{} has no look {}", piece.id, name));
    return std::nullopt;
}

} // namespace

void apply(const scene::ChangeLook& look, Doing& doing)
{
    const Targets targets = doing.piecesOn(look.on);
    if (targets.empty() || !doing.mayHold(look.until))
        return;
    for (const Acted& target : targets) {
        const LivePiece& piece = doing.world().piece(target.piece);
        auto chosen = lookFor(look.to, piece, doing);
        if (!chosen)
            continue;
        doing.tell(target.piece, chosen->second);
        chosen->second.empty() ? doing.with("colour", chosen->first.colour.code) : doing.with("to", chosen->second);
        doing.withUntil(look.until);
        Hold hold;
        hold.what = Hold::What::look;
        hold.piece = target.piece;
        hold.number = piece.look;
        doing.hold(look.until, std::move(hold));
        doing.putOn(target.piece, doing.world().indexOf(chosen->first));
    }
}

void apply(const scene::Move& move, Doing& doing)
{
    const std::vector<PieceIndex> pieces = movable(move.on, doing);
    if (pieces.empty())
        return;
    const auto speed = speedOf(move.speed, doing);
    if (!speed)
        return;
    if (!move.to && !move.by)
        return doing.note("a move says neither where to nor how far");
    const double arrive = std::max(0.0, resolve(move.arrive, doing.around()).value_or(0));
    for (const PieceIndex piece : pieces) {
        const world::Pose& from = doing.world().pose[static_cast<std::size_t>(piece)];
        world::MoveOrder order;
        order.target = from.at;
        order.height = from.z;
        if (move.to) {
            const auto goal = placeOf(*move.to, piece, doing);
            if (!goal)
                continue;
            order.target = goal->at;
            order.height = goal->z.value_or(order.height);
        }
        const auto by = offsetOf(move.by, doing);
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
        doing.tell(piece);
        doing.with("to", order.target, order.height);
        doing.with("speed", *speed);
        doing.with("arrive", arrive);
        if (move.ease != scene::Ease::none)
            doing.with("ease", scene::wordOf(move.ease));
        doing.endMove(piece);
        order.id = doing.nextOrder();
        doing.world().piece(piece).move = order;
        if (move.wait)
            doing.waitForOrder(order.id);
    }
}

void apply(const scene::Chase& chase, Doing& doing)
{
    const std::vector<PieceIndex> pieces = movable(chase.on, doing);
    if (pieces.empty())
        return;
    Targets after = doing.on(chase.after);
    after.erase(std::remove_if(after.begin(), after.end(),
                               [](const Acted& one) { return one.piece < 0 && !isPointer(one.piece); }),
                after.end());
    if (after.empty())
        return;
    const auto speed = speedOf(chase.speed, doing);
    if (!speed)
        return;
    for (const PieceIndex piece : pieces) {
        if (piece == after.front().piece) {
            doing.note(fmt::format("{} cannot chase itself", doing.world().nameOf(piece)));
            continue;
        }
        const double near = std::max(0.0, resolve(chase.near, doing.around()).value_or(0));
        doing.tell(piece, std::string(doing.world().nameOf(after.front().piece)));
        doing.with("after", doing.world().nameOf(after.front().piece));
        doing.with("speed", *speed);
        doing.with("near", near);
        doing.endMove(piece);
        world::MoveOrder order;
        order.id = doing.nextOrder();
        order.after = after.front().piece;
        order.speed = *speed;
        order.arrive = near;
        doing.world().piece(piece).move = order;
    }
}

void apply(const scene::Turn& turn, Doing& doing)
{
    const std::vector<PieceIndex> pieces = movable(turn.on, doing);
    if (pieces.empty())
        return;
    const auto speed = speedOf(turn.speed, doing);
    if (!speed)
        return;
    if (!turn.to && !turn.by)
        return doing.note("a turn says neither where to nor how far");
    const auto to = turn.to ? resolve(*turn.to, doing.around()) : std::optional(0.0);
    const auto by = turn.by ? resolve(*turn.by, doing.around()) : std::optional(0.0);
    if (!to || !by)
        return doing.note("the angle is missing");
    for (const PieceIndex piece : pieces) {
        const double now = doing.world().pose[static_cast<std::size_t>(piece)].turn;
        const double target = (turn.to ? now + std::remainder(*to - now, 360.0) : now) + *by;
        doing.tell(piece);
        doing.with("to", target);
        doing.with("speed", *speed);
        doing.endTurn(piece);
        const std::uint32_t order = doing.nextOrder();
        doing.world().piece(piece).turn = {order, target, *speed};
        if (turn.wait)
            doing.waitForOrder(order);
    }
}

void apply(const scene::Stop& stop, Doing& doing)
{
    for (const PieceIndex piece : movable(stop.on, doing, true)) {
        doing.tell(piece);
        doing.endMove(piece);
        doing.endTurn(piece);
        LivePiece& one = doing.world().piece(piece);
        one.velocity = {0, 0};
        one.rise = 0;
        one.spin = 0;
        one.route.under = false;
        doing.world().woken.push_back(piece);
    }
}

void apply(const scene::Put& put, Doing& doing)
{
    const Targets targets = doing.piecesOn(put.on);
    if (targets.empty())
        return;
    if (!put.at && !put.by)
        return doing.note("a put says neither where nor how far");
    for (const Acted& target : targets) {
        const auto by = offsetOf(put.by, doing);
        if (!by)
            continue;
        Noted noted{.kind = Noted::Kind::put, .piece = target.piece, .at = *by, .relative = true, .height = put.rise};
        noted.ifClear = put.ifClear;
        if (put.at) {
            const auto goal = placeOf(*put.at, target.piece, doing);
            if (!goal)
                continue;
            noted.at += goal->at;
            noted.relative = false;
            noted.height = goal->z ? std::optional(*goal->z + put.rise) : std::nullopt;
            noted.turns = goal->home;
            noted.turn = doing.world().piece(target.piece).home.turn;
        }
        doing.tell(target.piece);
        doing.with(noted.relative ? "by" : "at", noted.at, noted.height.value_or(0));
        if (noted.turns)
            doing.with("turn", noted.turn);
        if (noted.ifClear)
            doing.withValue("ifClear", true);
        doing.settleLater(noted);
    }
}

void apply(const scene::Push& push, Doing& doing)
{
    const Targets targets = doing.piecesOn(push.on);
    if (targets.empty())
        return;
    const auto velocity = offsetOf(push.velocity, doing);
    const auto impulse = offsetOf(push.impulse, doing);
    if (!velocity || !impulse)
        return;
    for (const Acted& target : targets) {
        LivePiece& piece = doing.world().piece(target.piece);
        if (piece.resting) {
            doing.note(fmt::format("{} is {} and cannot be pushed", piece.id, scene::kindOf(piece.body)));
            continue;
        }
        const double mass = motion::massOf(doing.world(), target.piece);
        if (push.impulse && mass == 0)
            doing.note(fmt::format("{} has no mass: an impulse does nothing", piece.id));
        doing.tell(target.piece);
        if (push.velocity)
            doing.with("velocity", *velocity, 0);
        if (push.impulse)
            doing.with("impulse", *impulse, 0);
        piece.velocity += *velocity;
        if (push.impulse && mass > 0)
            piece.velocity += *impulse / mass;
        doing.world().woken.push_back(target.piece);
    }
}

void apply(const scene::Size& size, Doing& doing)
{
    const Targets targets = doing.piecesOn(size.on);
    if (targets.empty() || !doing.mayHold(size.until))
        return;
    if (!size.to && !size.by)
        return doing.note("a size says neither to what nor by how much");
    const auto scale = resolve(size.to ? *size.to : *size.by, doing.around());
    if (!scale || !(*scale > 0) || !std::isfinite(*scale))
        return doing.note("a size is missing or not above 0");
    for (const Acted& target : targets) {
        doing.tell(target.piece, fmt::format("{} {:.9g}", size.to ? "to" : "by", *scale));
        doing.with(size.to ? "to" : "by", *scale);
        doing.withUntil(size.until);
        Hold hold;
        hold.what = size.to ? Hold::What::scale : Hold::What::factor;
        hold.piece = target.piece;
        hold.number = *scale;
        doing.settleLater({.kind = Noted::Kind::resize,
                           .piece = target.piece,
                           .relative = !size.to,
                           .scale = *scale,
                           .hold = doing.hold(size.until, std::move(hold))});
    }
}

void apply(const scene::Attach& attach, Doing& doing)
{
    const Targets targets = doing.piecesOn(attach.on);
    if (targets.empty())
        return;
    const Targets carriers = doing.on(attach.to);
    if (carriers.empty())
        return;
    const PieceIndex carrier = carriers.front().piece;
    if (carrier < 0 && !isPointer(carrier))
        return doing.note("only a piece or the pointer can carry a piece");
    for (const Acted& target : targets) {
        if (target.piece == carrier || (carrier >= 0 && doing.world().carries(target.piece, carrier))) {
            doing.note(fmt::format("{} cannot carry what it rides on", doing.world().nameOf(carrier)));
            continue;
        }
        if (carrier >= 0 && doing.world().piece(target.piece).pinned != doing.world().piece(carrier).pinned) {
            doing.note(fmt::format("{} and {} are not both on the glass", doing.world().nameOf(target.piece),
                                   doing.world().nameOf(carrier)));
            continue;
        }
        doing.tell(target.piece, std::string(doing.world().nameOf(carrier)));
        doing.with("to", doing.world().nameOf(carrier));
        doing.settleLater({.kind = Noted::Kind::attach, .piece = target.piece, .carrier = carrier});
    }
}

void apply(const scene::Detach& detach, Doing& doing)
{
    settleEach(detach.on, Noted::Kind::detach, doing);
}

void apply(const scene::Remove& remove, Doing& doing)
{
    settleEach(remove.on, Noted::Kind::remove, doing);
}

} // namespace snare::rules
