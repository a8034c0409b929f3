// SPDX-License-Identifier: Apache-2.0
#include "world/world.h"

#include "world/outline.h"

namespace snare::world {

std::string_view wordOf(Cause cause)
{
    constexpr std::string_view words[] = {"moved",     "start",   "removed", "disabled", "hidden",
                                          "regrouped", "enabled", "shown",   "put",      "armed"};
    return words[static_cast<std::size_t>(cause)];
}

Groups::Groups(const scene::Scene& scene)
{
    for (const std::string& group : scene::allGroups(scene))
        indexOf(group);
    for (const scene::ContactRule& rule : scene.contacts) {
        const auto first = static_cast<std::size_t>(indexOf(rule.first));
        const auto second = static_cast<std::size_t>(indexOf(rule.second));
        table_[first][second] = rule.contact;
        table_[second][first] = rule.contact;
    }
}

int Groups::indexOf(std::string_view name)
{
    const auto found = std::ranges::find(names_, name);
    if (found != names_.end())
        return static_cast<int>(found - names_.begin());
    names_.emplace_back(name);
    for (auto& row : table_)
        row.push_back(scene::Contact::stop);
    table_.emplace_back(names_.size(), scene::Contact::stop);
    return static_cast<int>(names_.size()) - 1;
}

bool LivePiece::hasTag(std::string_view tag) const
{
    return std::ranges::find(tags, tag) != tags.end();
}

std::span<LiveShape> World::shapesOf(PieceIndex index)
{
    const LivePiece& owner = piece(index);
    return {shapes.data() + owner.firstShape, owner.shapeCount};
}

std::span<const LiveShape> World::shapesOf(PieceIndex index) const
{
    const LivePiece& owner = piece(index);
    return {shapes.data() + owner.firstShape, owner.shapeCount};
}

PieceIndex World::find(std::string_view id) const
{
    for (std::size_t i = 0; i < pieces.size(); ++i)
        if (pieces[i].id == id)
            return static_cast<PieceIndex>(i);
    return nobody;
}

std::string_view World::nameOf(PieceIndex index) const
{
    if (index == theScene)
        return "scene";
    return index == nobody ? std::string_view() : std::string_view(piece(index).id);
}

int World::indexOf(const scene::Look& look)
{
    const auto found = std::ranges::find(looks, look);
    if (found != looks.end())
        return static_cast<int>(found - looks.begin());
    looks.push_back(look);
    return static_cast<int>(looks.size()) - 1;
}

namespace {

LivePiece livePieceOf(const scene::Piece& piece, World& world)
{
    LivePiece live;
    live.id = piece.id;
    live.templateName = piece.templateName;
    live.body = piece.body;
    live.shown = piece.shown;
    live.enabled = piece.enabled;
    live.layer = piece.layer;
    live.group = world.groups.indexOf(piece.group);
    live.home = {piece.at, piece.turn};
    live.tags = piece.tags;
    live.properties = piece.properties;
    live.look = world.indexOf(piece.look);
    live.resting = std::holds_alternative<scene::StaticBody>(piece.body);
    if (const auto* kinematic = std::get_if<scene::KinematicBody>(&piece.body)) {
        live.velocity = kinematic->velocity;
        live.spin = kinematic->spin;
        live.approach = live.velocity;
    }
    if (const auto* walker = std::get_if<scene::WalkerBody>(&piece.body)) {
        live.walks = true;
        live.keys = scene::keysOf(walker->steer);
        live.speed = walker->speed;
    }
    return live;
}

} // namespace

World worldOf(const scene::Scene& scene)
{
    World world;
    world.groups = Groups{scene};
    world.variables = scene.variables;
    world.pieces.reserve(scene.pieces.size());
    for (const scene::Piece& piece : scene.pieces) {
        LivePiece live = livePieceOf(piece, world);
        live.firstShape = world.shapes.size();
        live.shapeCount = piece.shapes.size();
        const auto index = static_cast<PieceIndex>(world.pieces.size());
        for (std::size_t i = 0; i < piece.shapes.size(); ++i) {
            const scene::Shape& shape = piece.shapes[i];
            LiveShape liveShape;
            liveShape.piece = index;
            liveShape.number = static_cast<int>(i);
            const std::vector<geometry::Hull> parts = partsOf(shape);
            liveShape.firstPart = static_cast<std::uint32_t>(world.parts.size());
            liveShape.partCount = static_cast<std::uint32_t>(parts.size());
            world.parts.insert(world.parts.end(), parts.begin(), parts.end());
            liveShape.group = world.groups.indexOf(scene::groupOf(piece, shape));
            liveShape.role = shape.role;
            liveShape.enabled = shape.enabled;
            liveShape.margin = shape.margin;
            world.shapes.push_back(liveShape);
            live.shapeNames.push_back(scene::shapeName(piece, i));
        }
        world.pose.push_back(live.home);
        world.pieces.push_back(std::move(live));
    }
    world.before = world.pose;
    return world;
}

} // namespace snare::world
