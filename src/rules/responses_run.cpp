// SPDX-License-Identifier: Apache-2.0
/// Responses about the run itself: signals, waits, routines, scripts, phases, what is spawned, timers.
#include "rules/answers.h"
#include "rules/clock.h"
#include "rules/responses.h"

#include <fmt/format.h>

namespace snare::rules {

void apply(const scene::Signal& signal, Doing& doing)
{
    RaisedSignal raised;
    if (signal.to) {
        raised.to.emplace();
        for (const Acted& target : doing.on(*signal.to))
            raised.to->push_back(target.piece);
        if (raised.to->empty())
            return;
    }
    raised.name = nameOf(signal.name, "name of the signal", doing);
    if (raised.name.empty())
        return;
    raised.with = valuesOf(signal.with, doing);
    doing.tell(nobody, raised.name);
    doing.with("name", raised.name);
    doing.with("with", raised.with);
    if (raised.to) {
        std::vector<std::string> names;
        for (const PieceIndex piece : *raised.to)
            names.emplace_back(doing.world().nameOf(piece));
        doing.withList("to", names);
        std::ranges::sort(*raised.to); // to be looked up
    }
    doing.raise(std::move(raised), signal.wait);
}

void apply(const scene::Wait& wait, Doing& doing)
{
    const auto seconds = resolve(wait.duration, doing.around());
    if (!seconds)
        return doing.note("the time to wait is missing");
    doing.tell(nobody);
    doing.with("for", std::max(0.0, *seconds));
    doing.waitUntil(tickAfter(doing.tick(), std::max(0.0, *seconds), doing.rate()));
}

void apply(const scene::Spawn& spawn, Doing& doing)
{
    const std::string form = nameOf(spawn.form, "template", doing);
    const scene::Template* found = scene::findTemplate(doing.scene(), form);
    if (!found)
        return form.empty() ? void() : doing.note(fmt::format("there is no template {}", form));
    SpawnOrder order;
    order.model = &found->model;
    order.form = form;
    order.snare = doing.snare();
    // In the axes of self, an offset and the velocity turn the way it faces.
    const PieceIndex self = doing.self();
    geometry::Pose axes;
    if (self >= 0) {
        const world::LivePiece& piece = doing.world().piece(self);
        axes = doing.world().pose[static_cast<std::size_t>(self)];
        axes.turn = piece.walks ? piece.facing : axes.turn;
        if (piece.pinned && !found->model.pinned) // from the glass into the world
            axes.at += doing.world().viewCorner();
    }
    const bool own = spawn.frame == scene::Frame::self;
    order.pose = {axes.at, found->model.turn + (own ? axes.turn : 0), self >= 0 ? axes.z : found->model.z};
    if (spawn.at) {
        const auto goal = placeOf(*spawn.at, nobody, figureOf(found->model), doing);
        if (!goal)
            return;
        const bool point = !std::holds_alternative<std::string>(spawn.at->held) &&
                           !std::holds_alternative<scene::Formula>(spawn.at->held);
        order.pose.at = own && point ? geometry::toScene(axes, goal->at) : goal->at;
        order.pose.z = goal->z.value_or(found->model.z);
    }
    const auto velocity = offsetOf(spawn.velocity, doing);
    if (!velocity)
        return;
    order.hasVelocity = spawn.velocity.has_value() || spawn.inherit;
    order.velocity = own ? geometry::toScene({{0, 0}, axes.turn}, *velocity) : *velocity;
    if (spawn.inherit && self >= 0)
        order.velocity += doing.world().velocityOf(self);
    order.properties = valuesOf(spawn.set, doing);
    std::erase_if(order.properties.entries, [&](const auto& entry) {
        if (scene::isBuiltInOfPiece(entry.first))
            doing.note(fmt::format("{} of {} cannot be set this way", entry.first, form));
        return scene::isBuiltInOfPiece(entry.first);
    });
    order.id = doing.freeName(form);
    doing.tell(nobody, order.id);
    doing.with("template", form);
    doing.with("id", order.id);
    doing.with("at", order.pose.at, order.pose.z);
    doing.with("turn", order.pose.turn);
    if (order.hasVelocity)
        doing.with("velocity", order.velocity, 0);
    doing.with("set", order.properties);
    if (!spawn.as.empty())
        doing.setValue(self >= 0 ? self : theScene, spawn.as, scene::Scalar{order.id});
    doing.settleLater({.kind = Noted::Kind::spawn, .spawn = std::make_shared<const SpawnOrder>(std::move(order))});
}

void apply(const scene::ChangePhase& phase, Doing& doing)
{
    const Targets targets = doing.on(phase.on);
    if (targets.empty())
        return;
    const std::string to = nameOf(phase.to, "phase", doing);
    if (to.empty())
        return;
    for (const Acted& target : targets) {
        if (target.piece < 0 && target.piece != theScene)
            continue;
        doing.tell(target.piece, to);
        doing.with("to", to);
        doing.settleLater({.kind = Noted::Kind::phase, .piece = target.piece, .phase = to});
    }
}

void apply(const scene::ChangeTimer& timer, Doing& doing)
{
    if (!doing.changeTimer(timer.source, timer.to == scene::TimerState::start))
        return doing.note(fmt::format("there is no timer {}", timer.source));
    doing.tell(nobody, fmt::format("{} {}", timer.source, scene::wordOf(timer.to)));
    doing.with("source", timer.source);
    doing.with("to", scene::wordOf(timer.to));
}

void apply(const scene::Sound& sound, Doing& doing)
{
    const auto gain = resolve(sound.gain, doing.around());
    if (!gain)
        return doing.note("the gain of the sound is missing");
    doing.tellWith(nobody, sound.file.empty() ? sound.name : sound.file, std::max(0.0, *gain));
    sound.file.empty() ? doing.with("name", sound.name) : doing.with("file", sound.file);
    doing.with("gain", std::max(0.0, *gain));
}

void apply(const scene::Shake& shake, Doing& doing)
{
    const auto strength = resolve(shake.strength, doing.around());
    const auto seconds = resolve(shake.duration, doing.around());
    if (!strength || !seconds)
        return doing.note("how far or how long to shake is missing");
    doing.tell(nobody, fmt::format("{:.9g}", std::max(0.0, *strength)),
               tickAfter(doing.tick(), std::max(0.0, *seconds), doing.rate()));
    doing.with("strength", std::max(0.0, *strength));
    doing.with("for", std::max(0.0, *seconds));
}

void apply(const scene::RunRoutine& run, Doing& doing)
{
    const scene::Routine* routine = scene::findRoutine(doing.scene(), run.routine);
    if (!routine)
        return doing.note(fmt::format("there is no routine {}", run.routine));
    scene::Named<scene::Scalar> with = valuesOf(run.with, doing);
    doing.tell(nobody, run.routine);
    doing.with("routine", run.routine);
    doing.with("with", with);
    doing.runRoutine(*routine, std::move(with), run.wait, run.routine);
}

void apply(const scene::Script& script, Doing& doing)
{
    doing.tell(nobody);
    doing.script(script.lua);
}

void apply(const scene::Restart&, Doing& doing)
{
    doing.tell(nobody);
    doing.settleLater({.kind = Noted::Kind::restart, .snare = doing.snare()});
}

} // namespace snare::rules
