// SPDX-License-Identifier: Apache-2.0
#include "rules/responses.h"

#include "rules/clock.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::rules {

using world::LivePiece;

namespace {

/// Notes the same change for every target.
void settleEach(const scene::Target& on, Noted::Kind kind, Doing& doing)
{
    for (const Acted& target : doing.on(on)) {
        if (target.piece == theScene)
            continue;
        doing.tell(target.piece);
        doing.settleLater({.kind = kind, .piece = target.piece, .shape = target.shape});
    }
}

void armAll(const std::vector<std::string>& snares, Noted::Kind kind, Doing& doing)
{
    doing.tell(nobody, fmt::format("{}", fmt::join(snares, ", ")));
    for (const std::string& id : snares) {
        const auto& all = doing.scene().snares;
        const auto found = std::ranges::find(all, id, &scene::Snare::id);
        if (found == all.end())
            doing.note(fmt::format("there is no snare {}", id));
        else
            doing.settleLater({.kind = kind, .snare = static_cast<int>(found - all.begin())});
    }
}

/// The kinematic pieces among the targets; others are noted and left alone.
std::vector<PieceIndex> movable(const scene::Target& on, Doing& doing)
{
    std::vector<PieceIndex> result;
    for (const Acted& target : doing.on(on)) {
        if (target.piece < 0)
            continue;
        const LivePiece& piece = doing.world().piece(target.piece);
        if (std::holds_alternative<scene::KinematicBody>(piece.body))
            result.push_back(target.piece);
        else
            doing.note(fmt::format("{} is {} and cannot be moved this way", piece.id, scene::kindOf(piece.body)));
    }
    return result;
}

struct Goal {
    Vec at;
    std::optional<double> z; ///< nothing: as high as before
    bool home = false;
};

std::optional<Goal> placeOf(const scene::Destination& destination, PieceIndex mover, Doing& doing)
{
    if (const Vec* point = std::get_if<Vec>(&destination.held))
        return Goal{*point, destination.z};
    const std::string& name = std::get<std::string>(destination.held);
    if (name == "home")
        return Goal{doing.world().piece(mover).home.at, doing.world().piece(mover).home.z, true};
    const auto targets = targetsOf(name, doing.around());
    if (targets.empty() || targets.front().piece < 0) {
        doing.note(fmt::format("the place {} is not there", name));
        return std::nullopt;
    }
    const world::Pose& pose = doing.world().pose[static_cast<std::size_t>(targets.front().piece)];
    return Goal{pose.at, pose.z};
}

std::optional<double> speedOf(const scene::Value<double>& value, Doing& doing)
{
    const auto speed = resolve(value, doing.around());
    if (speed && *speed > 0)
        return speed;
    doing.note("a speed is missing or not above 0");
    return std::nullopt;
}

} // namespace

void apply(const scene::Say& say, Doing& doing)
{
    const std::string text = resolve(say.text, doing.around()).value_or(std::string{});
    const std::int64_t until = tickAfter(doing.tick(), say.duration, doing.rate());
    for (const Acted& target : doing.on(say.on))
        doing.tell(target.piece, text, until);
    if (say.wait)
        doing.waitUntil(until);
}

void apply(const scene::Note& note, Doing& doing)
{
    doing.tell(nobody);
    doing.note(resolve(note.text, doing.around()).value_or(std::string{}));
}

void apply(const scene::Show& show, Doing& doing)
{
    settleEach(show.on, Noted::Kind::show, doing);
}

void apply(const scene::Hide& hide, Doing& doing)
{
    settleEach(hide.on, Noted::Kind::hide, doing);
}

void apply(const scene::Enable& enable, Doing& doing)
{
    settleEach(enable.on, Noted::Kind::enable, doing);
}

void apply(const scene::Disable& disable, Doing& doing)
{
    settleEach(disable.on, Noted::Kind::disable, doing);
}

void apply(const scene::Arm& arm, Doing& doing)
{
    armAll(arm.snares, Noted::Kind::arm, doing);
}

void apply(const scene::Disarm& disarm, Doing& doing)
{
    armAll(disarm.snares, Noted::Kind::disarm, doing);
}

void apply(const scene::Set& set, Doing& doing)
{
    const auto value = resolve(set.value, doing.around());
    if (!value)
        return doing.note(fmt::format("the value for {} is missing", set.name));
    for (const Acted& target : doing.on(set.on)) {
        doing.tell(target.piece, fmt::format("{} = {}", set.name, scene::textOf(*value)));
        doing.setValue(target.piece, set.name, *value);
    }
}

void apply(const scene::Add& add, Doing& doing)
{
    const auto value = resolve(add.value, doing.around());
    if (!value)
        return doing.note(fmt::format("the number to add to {} is missing", add.name));
    for (const Acted& target : doing.on(add.on)) {
        const auto old = valueOf(doing.world(), target.piece, add.name, static_cast<int>(doing.tick()), doing.rate());
        const double* number = old ? std::get_if<double>(&*old) : nullptr;
        if (old && !number) {
            doing.note(fmt::format("{} is no number", add.name));
            continue;
        }
        const double sum = (number ? *number : 0.0) + *value;
        doing.tell(target.piece, fmt::format("{} = {}", add.name, scene::textOf(sum)));
        doing.setValue(target.piece, add.name, sum);
    }
}

void apply(const scene::Tag& tag, Doing& doing)
{
    for (const Acted& target : doing.on(tag.on)) {
        if (target.piece < 0)
            continue;
        doing.tell(target.piece, tag.tag);
        LivePiece& piece = doing.world().piece(target.piece);
        if (!piece.hasTag(tag.tag))
            piece.tags.push_back(tag.tag);
    }
}

void apply(const scene::Untag& untag, Doing& doing)
{
    for (const Acted& target : doing.on(untag.on)) {
        if (target.piece < 0)
            continue;
        doing.tell(target.piece, untag.tag);
        std::erase(doing.world().piece(target.piece).tags, untag.tag);
    }
}

void apply(const scene::Regroup& regroup, Doing& doing)
{
    const int group = doing.world().groups.indexOf(regroup.group);
    for (const Acted& target : doing.on(regroup.on)) {
        if (target.piece < 0)
            continue;
        doing.tell(target.piece, regroup.group);
        doing.settleLater({.kind = Noted::Kind::regroup, .piece = target.piece, .shape = target.shape, .group = group});
    }
}

void apply(const scene::ChangeLook& look, Doing& doing)
{
    // Shapes that are traced from the look are traced again with the rest of what settles (N2, K7).
    const auto follow = [&](PieceIndex piece) {
        if (!doing.world().traced.empty())
            doing.settleLater({.kind = Noted::Kind::retrace, .piece = piece});
    };
    for (const Acted& target : doing.on(look.on)) {
        if (target.piece < 0)
            continue;
        LivePiece& piece = doing.world().piece(target.piece);
        const scene::Piece& drawn = doing.scene().pieces[static_cast<std::size_t>(target.piece)];
        if (const auto* own = std::get_if<scene::Look>(&look.to.held)) {
            piece.look = doing.world().indexOf(*own);
            doing.tell(target.piece);
            follow(target.piece);
            continue;
        }
        std::string name = std::get<std::string>(look.to.held);
        const auto& looks = drawn.looks.entries;
        if (name == "next" && !looks.empty()) { // the base look, then the named ones, round and round
            const scene::Look& now = doing.world().looks[static_cast<std::size_t>(piece.look)];
            const auto at = std::ranges::find_if(looks, [&](const auto& entry) { return entry.second == now; });
            const auto next = at == looks.end() ? looks.begin() : at + 1;
            piece.look = doing.world().indexOf(next == looks.end() ? drawn.look : next->second);
            doing.tell(target.piece, next == looks.end() ? std::string("plain") : next->first);
            follow(target.piece);
            continue;
        }
        if (name == "plain") {
            piece.look = doing.world().indexOf(drawn.look);
        } else if (const scene::Look* named = drawn.looks.find(name)) {
            piece.look = doing.world().indexOf(*named);
        } else {
            doing.note(fmt::format("{} has no look {}", piece.id, name));
            continue;
        }
        doing.tell(target.piece, std::move(name));
        follow(target.piece);
    }
}

void apply(const scene::Move& move, Doing& doing)
{
    const auto speed = speedOf(move.speed, doing);
    if (!speed)
        return;
    if (!move.to && !move.by)
        return doing.note("a move says neither where to nor how far");
    for (const PieceIndex piece : movable(move.on, doing)) {
        Vec target = doing.world().pose[static_cast<std::size_t>(piece)].at;
        double height = doing.world().pose[static_cast<std::size_t>(piece)].z;
        if (move.to) {
            const auto goal = placeOf(*move.to, piece, doing);
            if (!goal)
                continue;
            target = goal->at;
            height = goal->z.value_or(height);
        }
        target += move.by.value_or(Vec{0, 0});
        height += move.rise;
        doing.tell(piece);
        doing.endMove(piece);
        const std::uint32_t order = doing.nextOrder();
        doing.world().piece(piece).move = {order, target, height, *speed, move.arrive};
        if (move.wait)
            doing.waitForOrder(order);
    }
}

void apply(const scene::Turn& turn, Doing& doing)
{
    const auto speed = speedOf(turn.speed, doing);
    if (!speed)
        return;
    if (!turn.to && !turn.by)
        return doing.note("a turn says neither where to nor how far");
    for (const PieceIndex piece : movable(turn.on, doing)) {
        const double now = doing.world().pose[static_cast<std::size_t>(piece)].turn;
        double target = now;
        if (turn.to)
            target = now + std::remainder(*turn.to - now, 360.0);
        target += turn.by.value_or(0);
        doing.tell(piece);
        doing.endTurn(piece);
        const std::uint32_t order = doing.nextOrder();
        doing.world().piece(piece).turn = {order, target, *speed};
        if (turn.wait)
            doing.waitForOrder(order);
    }
}

void apply(const scene::Stop& stop, Doing& doing)
{
    for (const PieceIndex piece : movable(stop.on, doing)) {
        doing.tell(piece);
        doing.endMove(piece);
        doing.endTurn(piece);
        doing.world().piece(piece).velocity = {0, 0};
        doing.world().piece(piece).rise = 0;
        doing.world().piece(piece).spin = 0;
    }
}

void apply(const scene::Put& put, Doing& doing)
{
    if (!put.at && !put.by)
        return doing.note("a put says neither where nor how far");
    for (const Acted& target : doing.on(put.on)) {
        if (target.piece < 0)
            continue;
        Noted noted{.kind = Noted::Kind::put,
                    .piece = target.piece,
                    .at = put.by.value_or(Vec{0, 0}),
                    .relative = true,
                    .height = put.rise};
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
        doing.settleLater(noted);
    }
}

void apply(const scene::Size& size, Doing& doing)
{
    if (!size.to && !size.by)
        return doing.note("a size says neither to what nor by how much");
    const auto scale = resolve(size.to ? *size.to : *size.by, doing.around());
    if (!scale || !(*scale > 0) || !std::isfinite(*scale))
        return doing.note("a size is missing or not above 0");
    for (const Acted& target : doing.on(size.on)) {
        if (target.piece < 0)
            continue;
        doing.tell(target.piece, fmt::format("{} {:.9g}", size.to ? "to" : "by", *scale));
        doing.settleLater({.kind = Noted::Kind::resize, .piece = target.piece, .relative = !size.to, .scale = *scale});
    }
}

void apply(const scene::Attach& attach, Doing& doing)
{
    const std::vector<Acted> carriers = doing.on(attach.to);
    if (carriers.empty())
        return;
    const PieceIndex carrier = carriers.front().piece;
    if (carrier < 0)
        return doing.note("only a piece can carry another");
    for (const Acted& target : doing.on(attach.on)) {
        if (target.piece < 0)
            continue;
        if (target.piece == carrier || doing.world().carries(target.piece, carrier)) {
            doing.note(fmt::format("{} cannot carry what it rides on", doing.world().nameOf(carrier)));
            continue;
        }
        doing.tell(target.piece, std::string(doing.world().nameOf(carrier)));
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

void apply(const scene::Signal& signal, Doing& doing)
{
    RaisedSignal raised;
    raised.name = signal.name;
    for (const auto& [name, value] : signal.with.entries) {
        const auto resolved = resolve(value, doing.around());
        if (resolved)
            raised.with.set(name, *resolved);
        else
            doing.note(fmt::format("the value {} of signal {} is missing", name, signal.name));
    }
    if (signal.to) {
        raised.to.emplace();
        for (const Acted& target : doing.on(*signal.to))
            raised.to->push_back(target.piece);
    }
    doing.tell(nobody, signal.name);
    doing.raise(std::move(raised), signal.wait);
}

void apply(const scene::Wait& wait, Doing& doing)
{
    const auto seconds = resolve(wait.duration, doing.around());
    if (!seconds)
        return doing.note("the time to wait is missing");
    doing.tell(nobody);
    doing.waitUntil(tickAfter(doing.tick(), std::max(0.0, *seconds), doing.rate()));
}

void apply(const scene::Restart&, Doing& doing)
{
    doing.tell(nobody);
    doing.settleLater({.kind = Noted::Kind::restart, .snare = doing.snare()});
}

} // namespace snare::rules
