// SPDX-License-Identifier: Apache-2.0
#include "app/model/leading_hand.h"

#include "app/model/take_edit.h"
#include "detect/pick.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace snare::app {

using geometry::Vec;
using world::PieceIndex;
using world::World;

namespace {

/// A point of the scene in the axes that a piece lies in.
Vec forPiece(const World& world, PieceIndex piece, const Vec& at)
{
    return world.piece(piece).pinned ? at - world.viewCorner() : at;
}

/// The first driven piece from the top that is not covered by a solid.
PieceIndex drivenUnder(const World& world, const Vec& at)
{
    std::vector<detect::Picked> under;
    for (const bool pinned : {true, false}) // what is on the glass lies over the rest (P6)
        for (const detect::Picked& picked : detect::allAt(world, pinned ? at - world.viewCorner() : at))
            if (world.piece(picked.piece).pinned == pinned)
                under.push_back(picked);
    for (const detect::Picked& picked : under) {
        if (world.piece(picked.piece).driven)
            return picked.piece;
        if (world.shapes()[static_cast<std::size_t>(picked.shape)].role == scene::Role::solid)
            break;
    }
    return world::nobody;
}

} // namespace

void LeadingHand::press(const World& world, const scene::Scene& scene, const Vec& at)
{
    held_.reset();
    if (std::ranges::none_of(world.pieces(), &world::LivePiece::driven))
        return;
    const PieceIndex piece = drivenUnder(world, at);
    // A take can only lead what has a name in the scene.
    if (piece == world::nobody || !scene::findPiece(scene, world.piece(piece).id))
        return;
    const Vec pressed = forPiece(world, piece, at);
    held_ = Held{world.piece(piece).id, pressed, world.pose()[static_cast<std::size_t>(piece)].at - pressed};
}

std::optional<std::string> LeadingHand::move(const World& world, const scene::Scene& scene, const Vec& at)
{
    const PieceIndex piece = held_ ? world.find(held_->piece) : world::nobody;
    if (piece == world::nobody)
        return {};
    const Vec now = forPiece(world, piece, at);
    const auto led = std::ranges::find(led_, held_->piece, &Led::piece);
    const bool isNew = led == led_.end();
    if (isNew && glm::length(now - held_->pressed) <= scene.dragStart)
        return {};
    const Vec to = now + held_->grip;
    Led& there = isNew ? led_.emplace_back(Led{held_->piece}) : *led;
    there.at = {std::round(to.x * 1e4) / 1e4, std::round(to.y * 1e4) / 1e4}; // what is saved is what was played
    return isNew ? std::optional(held_->piece) : std::nullopt;
}

void LeadingHand::forget()
{
    held_.reset();
    led_.clear();
}

std::vector<scene::Input> LeadingHand::placesAt(std::int64_t tick, int rate, const World& world)
{
    std::vector<scene::Input> places;
    const auto add = [&](const Led& led, std::int64_t then, const Vec& at) {
        places.push_back({static_cast<double>(then) / rate, scene::TrackPlace{led.piece, at}});
    };
    const auto canBeLed = [&](const Led& led) {
        const PieceIndex piece = world.find(led.piece);
        return piece != world::nobody && world.piece(piece).present && world.piece(piece).driven;
    };
    for (Led& led : led_)
        if (canBeLed(led) && !std::exchange(led.hasBegun, true))
            add(led, tick - 1, world.pose()[static_cast<std::size_t>(world.find(led.piece))].at);
    for (const Led& led : led_)
        if (canBeLed(led))
            add(led, tick, led.at);
    return places;
}

scene::Take LeadingHand::withoutRests(const scene::Take& take) const
{
    std::vector<bool> rests(take.inputs.size());
    for (const Led& led : led_) {
        const std::vector<std::size_t> places = placesOf(take, led.piece);
        const auto isSame = [&](std::size_t one, std::size_t other) {
            return *take.inputs[places[one]].as<scene::TrackPlace>() ==
                   *take.inputs[places[other]].as<scene::TrackPlace>();
        };
        for (std::size_t i = 1; i + 1 < places.size(); ++i)
            rests[places[i]] = isSame(i - 1, i) && isSame(i, i + 1);
    }
    scene::Take result = take;
    result.inputs.clear();
    for (std::size_t i = 0; i < take.inputs.size(); ++i)
        if (!rests[i])
            result.inputs.push_back(take.inputs[i]);
    return result;
}

} // namespace snare::app
