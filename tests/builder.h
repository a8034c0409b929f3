// SPDX-License-Identifier: Apache-2.0
/// Scenes in a few lines, and what happened in them as short texts.
#pragma once

#include "io/document.h"
#include "io/log.h"
#include "rules/clock.h"
#include "sim/recorder.h"

#include <QStringList>
#include <fmt/format.h>

namespace snare::tests {

using geometry::Vec;

inline scene::Piece piece(std::string id, Vec at, scene::Geometry geometry, scene::Role role,
                          scene::Body body = scene::StaticBody{})
{
    scene::Piece result;
    result.id = std::move(id);
    result.at = at;
    result.body = std::move(body);
    scene::Shape shape;
    shape.role = role;
    shape.geometry = geometry;
    result.shapes.push_back(shape);
    return result;
}

inline scene::Piece zone(std::string id, Vec at, Vec size)
{
    return piece(std::move(id), at, scene::Box{size}, scene::Role::zone);
}

inline scene::Piece wall(std::string id, Vec at, Vec size)
{
    return piece(std::move(id), at, scene::Box{size}, scene::Role::solid);
}

/// A disc that senses and moves with a velocity.
inline scene::Piece mover(std::string id, Vec at, Vec velocity, double radius = 0.5)
{
    return piece(std::move(id), at, scene::Circle{radius}, scene::Role::zone, scene::KinematicBody{velocity, 0});
}

inline scene::Piece walker(std::string id, Vec at, double speed = 3)
{
    scene::WalkerBody body;
    body.steer = {scene::SteerSet::arrows};
    body.speed = speed;
    return piece(std::move(id), at, scene::Circle{0.4}, scene::Role::solid, body);
}

inline scene::Snare onEvent(std::string id, scene::EventKind event, std::string at,
                            std::vector<scene::ResponseKind> responses = {})
{
    scene::Snare result;
    result.id = std::move(id);
    result.catches.event.items = {event};
    result.catches.at = std::move(at);
    for (scene::ResponseKind& kind : responses)
        result.responses.push_back({std::move(kind), {}});
    return result;
}

inline scene::Snare onKey(std::string id, std::string key, std::vector<scene::ResponseKind> responses)
{
    scene::Snare result = onEvent(std::move(id), scene::EventKind::keyDown, {}, std::move(responses));
    result.catches.key = std::move(key);
    return result;
}

inline scene::Snare onSignal(std::string id, std::string signal, std::vector<scene::ResponseKind> responses,
                             std::string at = {})
{
    scene::Snare result = onEvent(std::move(id), scene::EventKind::heard, std::move(at), std::move(responses));
    result.catches.signal = std::move(signal);
    return result;
}

/// A key that goes down or up.
inline scene::Input keyAt(double t, std::string key, bool down)
{
    return {t, scene::KeyInput{std::move(key), down}};
}

/// A key pressed at one time and let go at another.
inline void press(scene::Take& take, const std::string& key, double from, double to)
{
    take.inputs.push_back(keyAt(from, key, true));
    take.inputs.push_back(keyAt(to, key, false));
}

inline scene::Take takeOf(std::initializer_list<std::pair<std::string, double>> keys, double length = 2)
{
    scene::Take take;
    take.length = length;
    for (const auto& [key, at] : keys)
        press(take, key, at, at + 0.02);
    return take;
}

/// Members of a scene as JSON, with ' for ": `'pieces': [{'id': 'a'}]`. What does not load ends the
/// test with its message.
inline scene::Scene sceneFrom(std::string members, const io::KitFinder& kits = {})
{
    std::ranges::replace(members, '\'', '"');
    const auto scene = io::readScene(R"({"format": "fresh-snare-scene", "version": 1, )" + members + "}", "test", kits);
    if (!scene)
        qFatal("%s", scene.error().front().message().c_str());
    return *scene;
}

/// The inputs of a take as JSON, in the same way.
inline scene::Take takeFrom(std::string inputs, double length = 2)
{
    std::ranges::replace(inputs, '\'', '"');
    auto take = io::readTake(R"({"format": "fresh-snare-take", "version": 1, "inputs": [)" + inputs + "]}", "test");
    if (!take)
        qFatal("%s", take.error().front().message().c_str());
    take->length = length;
    return *take;
}

inline sim::Record play(const scene::Scene& scene, const scene::Take& take = {}, std::optional<double> seconds = {},
                        bool stays = false)
{
    return sim::rerun(std::make_shared<const scene::Scene>(scene), take, {.seconds = seconds, .withStays = stays});
}

/// "30 enter z m", "30 snare weigh sprung", "31 snare weigh slipped gate", "32 note text": the
/// lines that pass `wanted`.
template <class Wanted> QStringList lines(const sim::Record& record, Wanted&& wanted)
{
    QStringList result;
    for (const rules::Line& line : record.journal.lines) {
        if (!wanted(line))
            continue;
        std::string text;
        switch (line.kind) {
        case rules::LineKind::event:
            text = fmt::format("{} {} {} {}", line.tick, scene::wordOf(line.event), record.nameOf(line.self),
                               record.nameOf(line.visitor));
            break;
        case rules::LineKind::snare:
            text = fmt::format("{} {} {}", line.tick, record.snareNameOf(line.snare), rules::wordOf(line.outcome));
            if (line.outcome == rules::Outcome::slipped)
                text += fmt::format(" {}", rules::wordOf(line.stage));
            break;
        case rules::LineKind::response:
            text = fmt::format("{} {} {}", line.tick, rules::responseOf(line), record.nameOf(line.self));
            break;
        case rules::LineKind::note:
            text = fmt::format("{} {}", line.tick, record.journal.textOf(line));
            break;
        }
        result << QString::fromStdString(text).trimmed();
    }
    return result;
}

/// The events at one piece.
inline QStringList eventsAt(const sim::Record& record, const std::string& self)
{
    return lines(record, [&](const rules::Line& line) {
        return line.kind == rules::LineKind::event && record.nameOf(line.self) == self;
    });
}

/// What became of the events at one snare.
inline QStringList outcomesOf(const sim::Record& record, const std::string& snare)
{
    return lines(record, [&](const rules::Line& line) {
        return line.kind == rules::LineKind::snare && record.snareNameOf(line.snare) == snare;
    });
}

inline QStringList notes(const sim::Record& record)
{
    return lines(record, [](const rules::Line& line) { return line.kind == rules::LineKind::note; });
}

/// The reasons why one snare turned events away, in order.
inline QStringList reasonsOf(const sim::Record& record, const std::string& snare)
{
    QStringList result;
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::snare && line.outcome == rules::Outcome::slipped &&
            record.snareNameOf(line.snare) == snare)
            result << QString::fromStdString(std::string(rules::wordOf(line.stage)) + ": " +
                                             record.journal.textOf(line));
    return result;
}

/// A value at the end: of the scene, a piece or a source.
inline QString lastValue(const sim::Record& record, const std::string& owner, const std::string& name)
{
    world::PieceIndex index = world::theScene;
    for (std::size_t i = 0; i < record.pieces.size(); ++i)
        if (record.pieces[i].id == owner)
            index = static_cast<world::PieceIndex>(i);
    const auto value = sim::valueAt(record, index, name, record.lastTick());
    return value ? QString::fromStdString(scene::textOf(*value)) : QStringLiteral("none");
}

inline double number(const sim::Record& record, const std::string& name)
{
    const auto value = sim::valueAt(record, world::theScene, name, record.lastTick());
    return value ? std::get<double>(*value) : -1;
}

} // namespace snare::tests
