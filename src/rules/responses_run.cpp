// SPDX-License-Identifier: Apache-2.0
/// Responses about the run itself: signals, waits, routines, scripts, phases, what is spawned,
/// timers.
#include "rules/answers.h"
#include "rules/clock.h"
#include "rules/response_context.h"
#include "rules/responses.h"
#include "scene/assemblies.h"
#include "scene/kits.h"

#include <fmt/format.h>

namespace snare::rules {

void apply(const scene::Signal& signal, ResponseContext& context)
{
    RaisedSignal raised;
    if (signal.to) {
        raised.to.emplace();
        for (const Acted& target : context.on(*signal.to))
            raised.to->push_back(target.piece);
        if (raised.to->empty())
            return;
    }
    raised.name = nameOf(signal.name, "name of the signal", context);
    if (raised.name.empty())
        return;
    raised.with = valuesOf(signal.with, context);
    context.tell(nobody, raised.name);
    context.with("name", raised.name);
    context.with("with", raised.with);
    if (raised.to) {
        std::vector<std::string> names;
        for (const PieceIndex piece : *raised.to)
            names.emplace_back(context.world().nameOf(piece));
        context.withList("to", names);
        std::ranges::sort(*raised.to); // to be looked up
    }
    context.raise(std::move(raised), signal.wait);
}

void apply(const scene::Wait& wait, ResponseContext& context)
{
    const auto seconds = resolve(wait.duration, context.around());
    if (!seconds)
        return context.note("the time to wait is missing");
    context.tell(nobody);
    context.with("for", std::max(0.0, *seconds));
    context.waitUntil(tickAfter(context.tick(), std::max(0.0, *seconds), context.rate()));
}

namespace {

/// Where self is, and which way it faces: the axes that an offset and a velocity are in.
geometry::Pose axesOfSelf(ResponseContext& context, bool pinned)
{
    geometry::Pose axes;
    const PieceIndex self = context.self();
    if (self < 0)
        return axes;
    const world::LivePiece& piece = context.world().piece(self);
    axes = context.world().pose()[static_cast<std::size_t>(self)];
    axes.turn = piece.walks ? piece.facing : axes.turn;
    if (piece.pinned && !pinned) // from the glass into the world
        axes.at += context.world().viewCorner();
    return axes;
}

/// All parts of an assembly come at the same commit (A4).
void spawnWhole(const scene::Spawn& spawn, const std::string& name, const scene::Assembly& assembly,
                ResponseContext& context)
{
    const bool own = spawn.frame == scene::Frame::self;
    const geometry::Pose axes = axesOfSelf(context, false);
    scene::Laid laid{.id = context.freeName(name), .assembly = name, .at = axes.at, .turn = own ? axes.turn : 0};
    if (spawn.at) {
        const auto goal = placeOf(*spawn.at, nobody, {}, context);
        if (!goal)
            return;
        const bool point = !std::holds_alternative<std::string>(spawn.at->held) &&
                           !std::holds_alternative<scene::Formula>(spawn.at->held);
        laid.at = own && point ? geometry::toScene(axes, goal->at) : goal->at;
    }
    const auto given = offsetOf(spawn.velocity, context);
    if (!given)
        return;
    const scene::Named<scene::Scalar> values = valuesOf(spawn.set, context);
    context.tell(nobody, laid.id);
    context.with("template", name);
    context.with("id", laid.id);
    context.with("at", laid.at, 0);
    context.with("turn", laid.turn);
    context.with("set", values);
    if (!spawn.as.empty())
        context.setValue(context.self() >= 0 ? context.self() : theScene, spawn.as, scene::Scalar{laid.id});
    for (const scene::Piece& part : assembly.pieces) {
        const scene::Piece piece = scene::placed(assembly, part, laid);
        SpawnOrder order;
        order.model = &part;
        order.form = part.templateName;
        order.snare = context.snare();
        order.id = piece.id;
        order.laid = laid.id;
        order.part = fmt::format("{}.{}", name, part.id);
        order.about = {laid.at, laid.turn};
        order.pose = {piece.at, piece.turn, part.z};
        order.properties = piece.properties;
        for (const auto& [key, value] : values.entries) // `PART.NAME`
            if (const auto dot = key.find('.'); dot != std::string::npos && key.substr(0, dot) == part.id)
                order.properties.set(key.substr(dot + 1), value);
        if (const auto* kinematic = std::get_if<scene::KinematicBody>(&piece.body))
            order.velocity = kinematic->velocity;
        else if (const auto* dynamic = std::get_if<scene::DynamicBody>(&piece.body))
            order.velocity = dynamic->velocity;
        order.velocity += own ? geometry::toScene({{0, 0}, axes.turn}, *given) : *given;
        order.hasVelocity = order.velocity != Vec{0, 0};
        context.addPending(
            {.kind = PendingChange::Kind::spawn, .spawn = std::make_shared<const SpawnOrder>(std::move(order))});
    }
}

} // namespace

void apply(const scene::Spawn& spawn, ResponseContext& context)
{
    const std::string form = nameOf(spawn.form, "template", context);
    const scene::Template* found = scene::findTemplate(context.scene(), form);
    if (const scene::Assembly* assembly = found ? nullptr : scene::findAssembly(context.scene(), form))
        return spawnWhole(spawn, form, *assembly, context);
    if (!found)
        return form.empty() ? void() : context.note(fmt::format("there is no template {}", form));
    SpawnOrder order;
    order.model = &found->model;
    order.form = form;
    order.snare = context.snare();
    // In the axes of self, an offset and the velocity turn the way it faces.
    const PieceIndex self = context.self();
    const geometry::Pose axes = axesOfSelf(context, found->model.pinned);
    const bool own = spawn.frame == scene::Frame::self;
    order.pose = {axes.at, found->model.turn + (own ? axes.turn : 0), self >= 0 ? axes.z : found->model.z};
    if (spawn.at) {
        const auto goal = placeOf(*spawn.at, nobody, figureOf(found->model), context);
        if (!goal)
            return;
        const bool point = !std::holds_alternative<std::string>(spawn.at->held) &&
                           !std::holds_alternative<scene::Formula>(spawn.at->held);
        order.pose.at = own && point ? geometry::toScene(axes, goal->at) : goal->at;
        order.pose.z = goal->z.value_or(found->model.z);
    }
    const auto velocity = offsetOf(spawn.velocity, context);
    if (!velocity)
        return;
    order.hasVelocity = spawn.velocity.has_value() || spawn.inherit;
    order.velocity = own ? geometry::toScene({{0, 0}, axes.turn}, *velocity) : *velocity;
    if (spawn.inherit && self >= 0)
        order.velocity += context.world().velocityOf(self);
    order.properties = valuesOf(spawn.set, context);
    std::erase_if(order.properties.entries, [&](const auto& entry) {
        if (scene::isBuiltInOfPiece(entry.first))
            context.note(fmt::format("{} of {} cannot be set this way", entry.first, form));
        return scene::isBuiltInOfPiece(entry.first);
    });
    order.id = context.freeName(form);
    context.tell(nobody, order.id);
    context.with("template", form);
    context.with("id", order.id);
    context.with("at", order.pose.at, order.pose.z);
    context.with("turn", order.pose.turn);
    if (order.hasVelocity)
        context.with("velocity", order.velocity, 0);
    context.with("set", order.properties);
    if (!spawn.as.empty())
        context.setValue(self >= 0 ? self : theScene, spawn.as, scene::Scalar{order.id});
    context.addPending(
        {.kind = PendingChange::Kind::spawn, .spawn = std::make_shared<const SpawnOrder>(std::move(order))});
}

void apply(const scene::ChangePhase& phase, ResponseContext& context)
{
    const Targets targets = context.on(phase.on);
    if (targets.empty())
        return;
    const std::string to = nameOf(phase.to, "phase", context);
    if (to.empty())
        return;
    for (const Acted& target : targets) {
        if (target.piece < 0 && target.piece != theScene)
            continue;
        context.tell(target.piece, to);
        context.with("to", to);
        context.addPending({.kind = PendingChange::Kind::phase, .piece = target.piece, .phase = to});
    }
}

void apply(const scene::ChangeTimer& timer, ResponseContext& context)
{
    if (!context.hasTimer(timer.source))
        return context.note(fmt::format("there is no timer {}", timer.source));
    context.tell(nobody, fmt::format("{} {}", timer.source, scene::wordOf(timer.to)));
    context.changeTimer(timer.source, timer.to == scene::TimerState::start);
    context.with("source", timer.source);
    context.with("to", scene::wordOf(timer.to));
}

void apply(const scene::Sound& sound, ResponseContext& context)
{
    const auto gain = resolve(sound.gain, context.around());
    if (!gain)
        return context.note("the gain of the sound is missing");
    context.tellWith(nobody, sound.file.empty() ? sound.name : sound.file, std::max(0.0, *gain));
    sound.file.empty() ? context.with("name", sound.name) : context.with("file", sound.file);
    context.with("gain", std::max(0.0, *gain));
}

void apply(const scene::Shake& shake, ResponseContext& context)
{
    const auto strength = resolve(shake.strength, context.around());
    const auto seconds = resolve(shake.duration, context.around());
    if (!strength || !seconds)
        return context.note("how far or how long to shake is missing");
    context.tell(nobody, fmt::format("{:.9g}", std::max(0.0, *strength)),
                 tickAfter(context.tick(), std::max(0.0, *seconds), context.rate()));
    context.with("strength", std::max(0.0, *strength));
    context.with("for", std::max(0.0, *seconds));
}

void apply(const scene::RunRoutine& run, ResponseContext& context)
{
    const scene::Routine* routine = scene::findRoutine(context.scene(), run.routine);
    if (!routine)
        return context.note(fmt::format("there is no routine {}", run.routine));
    scene::Named<scene::Scalar> with = routine->with; // what is not given is as the routine says
    for (auto& [name, value] : valuesOf(run.with, context).entries)
        with.set(name, std::move(value));
    context.tell(nobody, run.routine);
    context.with("routine", run.routine);
    context.with("with", with);
    context.runRoutine(*routine, std::move(with), run.wait, run.routine);
}

void apply(const scene::Script& script, ResponseContext& context)
{
    context.tell(nobody);
    context.script(script.lua);
}

void apply(const scene::Restart&, ResponseContext& context)
{
    context.tell(nobody);
    context.addPending({.kind = PendingChange::Kind::restart, .snare = context.snare()});
}

} // namespace snare::rules
