// SPDX-License-Identifier: Apache-2.0
#include "motion/solids.h"

namespace snare::motion {

using geometry::Bounds;
using world::LiveShape;
using world::PieceIndex;
using world::World;

void Solids::forget()
{
    grid_.clear();
    shapes_.clear();
    ranges_.clear();
}

void Solids::refresh(const World& world)
{
    if (shapes_.size() < world.parts().size()) {
        grid_.resize(world.parts().size());
        shapes_.resize(world.parts().size(), -1);
    }
    for (std::size_t shape = ranges_.size(); shape < world.shapes().size(); ++shape) {
        ranges_.emplace_back();
        const PieceIndex piece = world.shapes()[shape].piece;
        if (shape == world.piece(piece).firstShape + world.piece(piece).shapeCount - 1)
            follow(world, piece);
    }
    for (const PieceIndex piece : world.woken())
        follow(world, piece);
}

/// Takes a piece's parts out and puts in those that are solid now.
void Solids::follow(const World& world, PieceIndex piece)
{
    for (const LiveShape& shape : world.shapesOf(piece)) {
        Range& range = ranges_[static_cast<std::size_t>(&shape - world.shapes().data())];
        for (std::uint32_t part = range.first; part < range.first + range.count; ++part) {
            grid_.remove(static_cast<int>(part));
            shapes_[part] = -1;
        }
        range = {};
        if (shape.role != scene::Role::solid || !shape.isOn() || !world.piece(piece).meetsPieces())
            continue;
        range = {shape.firstPart, shape.partCount};
        for (std::uint32_t part = range.first; part < range.first + range.count; ++part)
            shapes_[part] = static_cast<int>(&shape - world.shapes().data());
    }
    const auto i = static_cast<std::size_t>(piece);
    placePiece(world, piece, {world.pose()[i], world.pose()[i]}, 0.02);
}

void Solids::place(int part, const Bounds& bounds)
{
    if (shapes_[static_cast<std::size_t>(part)] >= 0)
        grid_.place(part, geometry::Box{bounds});
}

void Solids::placePiece(const World& world, PieceIndex piece, const geometry::Motion& motion, double fatMargin)
{
    for (const LiveShape& shape : world.shapesOf(piece)) {
        const Range& range = ranges_[static_cast<std::size_t>(&shape - world.shapes().data())];
        for (std::uint32_t part = range.first; part < range.first + range.count; ++part) {
            Bounds bounds = geometry::sweptBounds(world.parts()[part], motion);
            bounds.grow(fatMargin);
            place(static_cast<int>(part), bounds);
        }
    }
}

bool stopEachOther(const World& world, const LiveShape& a, const LiveShape& b)
{
    if (a.piece == b.piece || a.role != scene::Role::solid || b.role != scene::Role::solid || !a.isOn() || !b.isOn() ||
        !world.piece(a.piece).meetsPieces() || !world.piece(b.piece).meetsPieces() ||
        world.groups().between(a.group, b.group) != scene::Contact::stop)
        return false;
    if (!world.carried().empty() && world.carrierOfAll(a.piece) == world.carrierOfAll(b.piece))
        return false;
    if (!a.band.limited() && !b.band.limited())
        return true;
    const world::Pose& poseOfA = world.pose()[static_cast<std::size_t>(a.piece)];
    const world::Pose& poseOfB = world.pose()[static_cast<std::size_t>(b.piece)];
    return !geometry::heightWindow(a.band, {poseOfA, poseOfA}, b.band, {poseOfB, poseOfB}).empty();
}

} // namespace snare::motion
