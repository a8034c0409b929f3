// SPDX-License-Identifier: Apache-2.0
#include "rules/values.h"

namespace snare::rules {

using scene::Scalar;
using world::LivePiece;
using world::World;

namespace {

std::optional<Scalar> eventValue(const Event& event, const World& world, std::string_view name)
{
    if (name == "name")
        return Scalar{std::string(scene::wordOf(event.kind))};
    if (name == "key" && !event.key.empty())
        return Scalar{event.key};
    if (name == "cause" && isContact(event.kind))
        return Scalar{std::string(wordOf(event.cause))};
    if (name == "manner" && isContact(event.kind))
        return Scalar{std::string(event.manner == Manner::stop ? "stop" : "sense")};
    if (name == "speed" && event.kind == EventKind::hit)
        return Scalar{event.speed};
    if (name == "part" && event.part >= 0)
        return Scalar{std::string(world.shapeName(event.part))};
    return std::nullopt;
}

/// A piece named by the first part of a path or by a target.
PieceIndex pieceNamed(std::string_view name, const Surroundings& around)
{
    if (name == "scene")
        return theScene;
    if (name == "self")
        return around.self;
    if (name == "visitor" || name == "sender")
        return around.visitor;
    return around.world.find(name);
}

} // namespace

std::optional<Scalar> valueOf(const World& world, PieceIndex owner, std::string_view name, int tick, int rate)
{
    if (owner == nobody)
        return std::nullopt;
    if (owner == theScene) {
        if (const Scalar* value = world.variables.find(name))
            return *value;
        return name == "age" ? std::optional<Scalar>{static_cast<double>(tick) / rate} : std::nullopt;
    }
    const LivePiece& piece = world.piece(owner);
    if (const Scalar* value = piece.properties.find(name))
        return *value;
    const auto& pose = world.pose[static_cast<std::size_t>(owner)];
    const Vec velocity = world.velocityOf(owner);
    if (name == "x")
        return pose.at.x;
    if (name == "y")
        return pose.at.y;
    if (name == "z")
        return pose.z;
    if (name == "vz")
        return piece.rise;
    if (name == "turn")
        return pose.turn;
    if (name == "vx")
        return velocity.x;
    if (name == "vy")
        return velocity.y;
    if (name == "speed")
        return glm::length(velocity);
    if (name == "spin")
        return piece.spin;
    if (name == "shown")
        return piece.shown;
    if (name == "enabled")
        return piece.enabled;
    if (name == "group")
        return world.groups.nameOf(piece.group);
    if (name == "layer")
        return static_cast<double>(piece.layer);
    if (name == "id")
        return piece.id;
    return std::nullopt;
}

std::optional<Scalar> valueAt(std::string_view path, const Surroundings& around)
{
    const auto dot = path.find('.');
    if (dot == std::string_view::npos)
        return std::nullopt;
    const std::string_view owner = path.substr(0, dot);
    const std::string_view name = path.substr(dot + 1);
    if (owner == "signal") {
        const Scalar* value = around.event.signal ? around.event.signal->with.find(name) : nullptr;
        return value ? std::optional(*value) : std::nullopt;
    }
    if (owner == "event")
        return eventValue(around.event, around.world, name);
    return valueOf(around.world, pieceNamed(owner, around), name, around.tick, around.rate);
}

std::optional<Scalar> resolve(const scene::Value<Scalar>& value, const Surroundings& around)
{
    if (const Scalar* literal = value.literal())
        return *literal;
    return valueAt(std::get<scene::Get>(value.held).path, around);
}

std::optional<double> resolve(const scene::Value<double>& value, const Surroundings& around)
{
    if (const double* literal = value.literal())
        return *literal;
    const auto found = valueAt(std::get<scene::Get>(value.held).path, around);
    const double* number = found ? std::get_if<double>(&*found) : nullptr;
    return number ? std::optional(*number) : std::nullopt;
}

std::optional<std::string> resolve(const scene::Value<std::string>& value, const Surroundings& around)
{
    if (const std::string* literal = value.literal())
        return *literal;
    const auto found = valueAt(std::get<scene::Get>(value.held).path, around);
    return found ? std::optional(scene::textOf(*found)) : std::nullopt;
}

bool isSelected(std::string_view selector, const World& world, PieceIndex piece)
{
    if (piece < 0)
        return selector == "scene" && piece == theScene;
    const LivePiece& live = world.piece(piece);
    if (selector.starts_with("tag:"))
        return live.hasTag(selector.substr(4));
    if (selector.starts_with("group:"))
        return world.groups.nameOf(live.group) == selector.substr(6);
    if (selector.starts_with("template:"))
        return live.templateName == selector.substr(9);
    return live.id == selector;
}

std::vector<PieceIndex> piecesOf(std::string_view selector, const World& world)
{
    std::vector<PieceIndex> result;
    for (std::size_t i = 0; i < world.pieces.size(); ++i)
        if (world.pieces[i].present && isSelected(selector, world, static_cast<PieceIndex>(i)))
            result.push_back(static_cast<PieceIndex>(i));
    return result;
}

std::vector<Acted> targetsOf(std::string_view name, const Surroundings& around)
{
    std::vector<Acted> result;
    if (scene::isSelector(name)) {
        for (const PieceIndex piece : piecesOf(name, around.world))
            result.push_back({piece, -1});
        return result;
    }
    const auto [owner, shape] = scene::splitShape(name);
    const PieceIndex piece = pieceNamed(owner, around);
    if (piece == nobody || (piece >= 0 && !around.world.piece(piece).present))
        return result;
    if (shape.empty()) {
        result.push_back({piece, -1});
        return result;
    }
    if (piece < 0)
        return result;
    const LivePiece& live = around.world.piece(piece);
    for (std::size_t i = 0; i < live.shapeCount; ++i)
        if (live.shapeNames[i] == shape)
            result.push_back({piece, static_cast<int>(live.firstShape + i)});
    return result;
}

} // namespace snare::rules
