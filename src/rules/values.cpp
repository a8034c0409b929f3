// SPDX-License-Identifier: Apache-2.0
/// Values, dials and looks that change, and what is set back when a meeting ends (P9, S13).
#include "rules/values.h"

#include "rules/book.h"
#include "rules/event_queue.h"
#include "rules/pending_change.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::rules {

using world::LivePiece;

void Values::reset(const scene::Scene& scene, const world::World& world, std::int64_t tick)
{
    holds_.clear();
    watches_.reset();
    clocks_.reset(scene, world, tick);
}

void Values::setDial(std::size_t source, double value, const TickContext& tick)
{
    const auto& dial = std::get<scene::DialSource>(tick.scene.sources[source].kind);
    const double next = std::clamp(value, std::min(dial.low, dial.high), std::max(dial.low, dial.high));
    const double old = tick.world.dials()[source];
    if (old == next)
        return;
    tick.world.setDial(source, next);
    const scene::Scalar stands{next};
    tick.journal.addValue(world::sourceIndex(source), "value", &stands);
    judge(world::sourceIndex(source), "value", old, next, tick);
}

void Values::setValue(PieceIndex owner, const std::string& name, const scene::Scalar* value, const TickContext& tick)
{
    auto& values = tick.world.valuesOf(owner);
    scene::Scalar* held = values.find(name);
    if (held && value ? *held == *value : !held && !value)
        return;
    const Texts::Id word = tick.journal.addValue(owner, name, value);
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
    if (Event* event = queueChanged(owner, name, word, now ? *now : 0, tick); event && value)
        event->value.emplace(*value);
    if (now && wasNumber)
        judge(owner, name, before, *now, tick);
}

/// Queues that a value has changed. The event, for its value to be filled in, or nullptr if nobody
/// listens.
Event* Values::queueChanged(PieceIndex owner, const std::string& name, Texts::Id word, double number,
                            const TickContext& tick)
{
    if (tick.book.listeningTo(EventKind::changed).empty()) {
        tick.queue.addUnheard(owner, word, number);
        return nullptr;
    }
    Event& event = tick.queue.addEvent(EventKind::changed, owner);
    event.word = name;
    return &event;
}

void Values::setNumber(PieceIndex owner, const std::string& name, Texts::Id word, double& held, double now,
                       const TickContext& tick)
{
    if (held == now)
        return;
    const double before = std::exchange(held, now);
    tick.journal.addNumber(owner, word, now);
    if (Event* event = queueChanged(owner, name, word, now, tick))
        event->value.emplace(now);
    judge(owner, name, before, now, tick);
}

void Values::judge(PieceIndex owner, std::string_view name, double old, double now, const TickContext& tick)
{
    if (watches_.empty() || old == now)
        return;
    watches_.judge(owner, name, old, now, tick.world, [&](int watch, PieceIndex self, EventKind kind) {
        Event& event = tick.queue.addEvent(kind, self);
        event.watch = watch;
        event.word = watches_.wordOf(watch);
        event.value = now;
    });
}

/// S13: what a meeting held is as it was before.
void Values::giveBack(const std::vector<Hold>& holds, const TickContext& tick)
{
    for (const Hold& hold : holds) {
        if (hold.what == Hold::What::caption) {
            tick.journal.lines[static_cast<std::size_t>(hold.line)].until = tick.journal.tick;
            continue;
        }
        if (hold.piece >= 0 && !tick.world.piece(hold.piece).present)
            continue;
        const auto note = [&](PendingChange pending) {
            pending.piece = hold.piece;
            pending.shape = hold.held;
            tick.pending.add(std::move(pending));
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
            putOn(hold.piece, static_cast<int>(hold.number), tick);
            break;
        case Hold::What::value:
            setAny(hold.piece, hold.name, hold.before ? &*hold.before : nullptr, tick);
            break;
        case Hold::What::added: {
            const Event nothing;
            const auto now = valueOf(hold.piece, hold.name, tick.around(nothing, hold.piece));
            const double* number = now ? std::get_if<double>(&*now) : nullptr;
            if (const scene::Scalar less{number ? *number - hold.number : 0}; number)
                setAny(hold.piece, hold.name, &less, tick);
            break;
        }
        case Hold::What::tag:
            tick.world.setTag(hold.piece, hold.name, hold.flag);
            break;
        case Hold::What::caption:
            break;
        }
    }
}

namespace {

/// Whether the name is that of a number that the world itself works with, not of a property or
/// variable.
bool isBuiltInNumber(PieceIndex owner, std::string_view name, const world::World& world)
{
    return world::isSource(owner) ||
           (owner >= 0 && !world.piece(owner).properties.find(name) && scene::isBuiltInOfPiece(name));
}

} // namespace

/// Sets a value of any owner: a property or variable, a dial, or a built-in number that can be set.
void Values::setAny(PieceIndex owner, const std::string& name, const scene::Scalar* value, const TickContext& tick)
{
    const double* number = value ? std::get_if<double>(value) : nullptr;
    if (number && !std::isfinite(*number) && isBuiltInNumber(owner, name, tick.world))
        return; // there is no such place, speed or layer
    if (world::isSource(owner)) {
        if (number && std::holds_alternative<scene::DialSource>(tick.scene.sources[world::sourceNumber(owner)].kind))
            setDial(world::sourceNumber(owner), *number, tick);
        return;
    }
    if (owner < 0 || tick.world.piece(owner).properties.find(name))
        return setValue(owner, name, value, tick);
    const LivePiece& piece = tick.world.piece(owner);
    const world::Pose& pose = tick.world.pose()[static_cast<std::size_t>(owner)];
    if (!number)
        return setValue(owner, name, value, tick);
    if (name == "gravity")
        tick.world.setGravity(owner, *number);
    else if (name == "walkSpeed")
        tick.world.setWalkSpeed(owner, *number);
    else if (name == "vx")
        tick.world.setVelocity(owner, {*number, piece.velocity.y});
    else if (name == "vy")
        tick.world.setVelocity(owner, {piece.velocity.x, *number});
    else if (name == "vz")
        tick.world.setRise(owner, *number);
    else if (name == "spin")
        tick.world.setSpin(owner, *number);
    else if (name == "layer")
        tick.world.setLayer(owner, static_cast<int>(std::clamp(*number, -1e6, 1e6)));
    else if (name == "x" || name == "y")
        tick.pending.add({.kind = PendingChange::Kind::put,
                          .piece = owner,
                          .at = name == "x" ? Vec{*number, pose.at.y} : Vec{pose.at.x, *number}});
    else if (name == "z")
        tick.pending.add({.kind = PendingChange::Kind::put, .piece = owner, .at = pose.at, .height = *number});
    else if (name == "turn")
        tick.pending.add(
            {.kind = PendingChange::Kind::put, .piece = owner, .at = pose.at, .turn = *number, .turns = true});
    else
        setValue(owner, name, value, tick);
}

void Values::putOn(PieceIndex index, int look, const TickContext& tick)
{
    tick.world.dress(index, look, tick.number);
    clocks_.play(tick.world, index, tick.number, tick.scene.rate);
    if (!tick.world.traced().empty())
        tick.pending.add({.kind = PendingChange::Kind::retrace, .piece = index});
}

void Values::startClocks(PieceIndex piece, const TickContext& tick)
{
    clocks_.add(tick.world, piece, tick.number, tick.scene.rate);
}

} // namespace snare::rules
