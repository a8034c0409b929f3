// SPDX-License-Identifier: Apache-2.0
/// Values, dials and looks that change, and what is set back when a meeting ends (P9, S13).
#include "rules/engine.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::rules {

using world::LivePiece;

void Engine::setDial(std::size_t source, double value, const TickContext& hand)
{
    const auto& dial = std::get<scene::DialSource>(scene_->sources[source].kind);
    const double next = std::clamp(value, std::min(dial.low, dial.high), std::max(dial.low, dial.high));
    const double old = std::exchange(hand.world.dials[source], next);
    if (old == next)
        return;
    const scene::Scalar stands{next};
    hand.journal.addValue(world::sourceIndex(source), "value", &stands);
    judge(world::sourceIndex(source), "value", old, next, hand.world);
}

void Engine::setValue(PieceIndex owner, const std::string& name, const scene::Scalar* value, const TickContext& hand)
{
    auto& values = owner == theScene ? hand.world.variables : hand.world.piece(owner).properties;
    scene::Scalar* held = values.find(name);
    if (held && value ? *held == *value : !held && !value)
        return;
    const Texts::Id word = hand.journal.addValue(owner, name, value);
    const double* number = held ? std::get_if<double>(held) : nullptr;
    const bool wasNumber = number != nullptr;
    const double before = wasNumber ? *number : 0;
    if (held && value)
        *held = *value;
    else if (value)
        values.set(name, *value);
    else
        values.erase(name);
    const double* now = value ? std::get_if<double>(value) : nullptr;
    if (isChangeHeard()) {
        Event& event = queueNew(EventKind::changed, owner);
        event.word = name;
        if (value)
            event.value.emplace(*value);
    } else {
        agenda_.addUnheard(owner, word, now ? *now : 0);
    }
    if (now && wasNumber)
        judge(owner, name, before, *now, hand.world);
}

void Engine::setNumber(PieceIndex owner, const std::string& name, Texts::Id word, double& held, double now,
                       const TickContext& hand)
{
    if (held == now)
        return;
    const double before = std::exchange(held, now);
    hand.journal.addNumber(owner, word, now);
    if (isChangeHeard()) {
        Event& event = queueNew(EventKind::changed, owner);
        event.word = name;
        event.value.emplace(now);
    } else {
        agenda_.addUnheard(owner, word, now);
    }
    judge(owner, name, before, now, hand.world);
}

void Engine::judge(PieceIndex owner, std::string_view name, double old, double now, const world::World& world)
{
    if (watches_.empty() || old == now)
        return;
    watches_.judge(owner, name, old, now, world, [&](int watch, PieceIndex self, EventKind kind) {
        Event& event = queueNew(kind, self);
        event.watch = watch;
        event.word = watches_.wordOf(watch);
        event.value = now;
    });
}

/// S13: what a meeting held is as it was before.
void Engine::giveBack(std::vector<Hold> holds, const TickContext& hand)
{
    for (const Hold& hold : holds) {
        if (hold.what == Hold::What::caption) {
            hand.journal.lines[static_cast<std::size_t>(hold.line)].until = hand.journal.tick;
            continue;
        }
        if (hold.piece >= 0 && !hand.world.piece(hold.piece).present)
            continue;
        const auto note = [&](PendingChange pending) {
            pending.piece = hold.piece;
            pending.shape = hold.held;
            pending_.push_back(std::move(pending));
        };
        switch (hold.what) {
        case Hold::What::shown:
            note({.kind = hold.flag ? PendingChange::Kind::show : PendingChange::Kind::hide});
            break;
        case Hold::What::enabled:
            note({.kind = hold.flag ? PendingChange::Kind::enable : PendingChange::Kind::disable});
            break;
        case Hold::What::group:
            note({.kind = PendingChange::Kind::regroup, .group = static_cast<int>(hold.number)});
            break;
        case Hold::What::scale:
            note({.kind = PendingChange::Kind::resize, .scale = hold.number});
            break;
        case Hold::What::factor:
            note({.kind = PendingChange::Kind::resize, .relative = true, .scale = 1 / hold.number});
            break;
        case Hold::What::look:
            putOn(hold.piece, static_cast<int>(hold.number), hand);
            break;
        case Hold::What::value:
            setAny(hold.piece, hold.name, hold.before ? &*hold.before : nullptr, hand);
            break;
        case Hold::What::added: {
            const Event nothing;
            const auto now = valueOf(hold.piece, hold.name, around(hand, nothing, hold.piece));
            const double* number = now ? std::get_if<double>(&*now) : nullptr;
            if (const scene::Scalar less{number ? *number - hold.number : 0}; number)
                setAny(hold.piece, hold.name, &less, hand);
            break;
        }
        case Hold::What::tag:
            hand.world.setTag(hold.piece, hold.name, hold.flag);
            break;
        case Hold::What::caption:
            break;
        }
    }
}

namespace {

/// Whether the name is that of a number that the world itself works with, not of a property or variable.
bool isBuiltInNumber(PieceIndex owner, std::string_view name, const world::World& world)
{
    return world::isSource(owner) ||
           (owner >= 0 && !world.piece(owner).properties.find(name) && scene::isBuiltInOfPiece(name));
}

} // namespace

/// Sets a value of any owner: a property or variable, a dial, or a built-in number that can be set.
void Engine::setAny(PieceIndex owner, const std::string& name, const scene::Scalar* value, const TickContext& hand)
{
    const double* number = value ? std::get_if<double>(value) : nullptr;
    if (number && !std::isfinite(*number) && isBuiltInNumber(owner, name, hand.world))
        return; // there is no such place, speed or layer
    if (world::isSource(owner)) {
        if (number && std::holds_alternative<scene::DialSource>(scene_->sources[world::sourceNumber(owner)].kind))
            setDial(world::sourceNumber(owner), *number, hand);
        return;
    }
    if (owner < 0 || hand.world.piece(owner).properties.find(name))
        return setValue(owner, name, value, hand);
    LivePiece& piece = hand.world.piece(owner);
    const world::Pose& pose = hand.world.pose[static_cast<std::size_t>(owner)];
    if (!number)
        return setValue(owner, name, value, hand);
    if (name == "vx" || name == "vy" || name == "vz" || name == "spin" || name == "gravity")
        hand.world.woken.push_back(owner);
    if (name == "gravity")
        piece.gravity = *number;
    else if (name == "walkSpeed")
        piece.speed = std::max(0.0, *number);
    else if (name == "vx" || name == "vy")
        (name == "vx" ? piece.velocity.x : piece.velocity.y) = *number;
    else if (name == "vz")
        piece.rise = *number;
    else if (name == "spin")
        piece.spin = *number;
    else if (name == "layer")
        piece.layer = static_cast<int>(std::clamp(*number, -1e6, 1e6));
    else if (name == "x" || name == "y")
        pending_.push_back({.kind = PendingChange::Kind::put,
                            .piece = owner,
                            .at = name == "x" ? Vec{*number, pose.at.y} : Vec{pose.at.x, *number}});
    else if (name == "z")
        pending_.push_back({.kind = PendingChange::Kind::put, .piece = owner, .at = pose.at, .height = *number});
    else if (name == "turn")
        pending_.push_back(
            {.kind = PendingChange::Kind::put, .piece = owner, .at = pose.at, .turn = *number, .turns = true});
    else
        setValue(owner, name, value, hand);
}

std::string Engine::freeName(const std::string& form, const world::World& world)
{
    auto found = std::ranges::find(spawned_, form, &std::pair<std::string, int>::first);
    if (found == spawned_.end())
        found = spawned_.insert(spawned_.end(), {form, 0});
    std::string name;
    const auto taken = [&] {
        const PieceIndex piece = world.find(name);
        return piece != nobody &&
               (world.piece(piece).present || piece < static_cast<PieceIndex>(scene_->pieces.size()));
    };
    do
        name = fmt::format("{}-{}", form, ++found->second);
    while (taken() || world.findSource(name) != nobody);
    return name;
}

/// Puts a look on a piece; shapes traced from it follow with what settles (K7).
void Engine::putOn(PieceIndex index, int look, const TickContext& hand)
{
    LivePiece& piece = hand.world.piece(index);
    piece.look = look;
    piece.dressed = tick_;
    clocks_.play(hand.world, index, tick_, scene_->rate);
    if (!hand.world.traced.empty())
        pending_.push_back({.kind = PendingChange::Kind::retrace, .piece = index});
}

} // namespace snare::rules
