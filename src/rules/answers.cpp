// SPDX-License-Identifier: Apache-2.0
#include "rules/answers.h"

#include "rules/response_context.h"

#include <fmt/format.h>

namespace snare::rules {

std::optional<Goal> placeOf(const scene::Destination& destination, PieceIndex mover, const Figure& figure,
                            ResponseContext& context)
{
    if (const Vec* point = std::get_if<Vec>(&destination.held))
        return Goal{*point, destination.z};
    std::string name;
    if (const auto* text = std::get_if<std::string>(&destination.held)) {
        name = *text;
    } else if (const auto* coordinates = std::get_if<scene::Coordinates>(&destination.held)) {
        const auto point = resolve(*coordinates, context.around());
        if (!point)
            context.note("a number of the place is missing");
        return point ? std::optional(Goal{*point, destination.z}) : std::nullopt;
    } else {
        const auto answer = answerOf(std::get<scene::Formula>(destination.held), context.around(), &figure);
        if (const Vec* point = answer ? std::get_if<Vec>(&*answer) : nullptr)
            return Goal{*point, destination.z};
        const auto* named = answer ? std::get_if<std::string>(&*answer) : nullptr;
        if (!named) {
            context.note("no place was found");
            return std::nullopt;
        }
        name = *named;
    }
    if (name == "home" && mover < 0)
        return std::nullopt;
    if (name == "home")
        return Goal{context.world().piece(mover).home.at, context.world().piece(mover).home.z, true};
    const auto targets = targetsOf(name, context.around());
    const bool ontoGlass = mover >= 0 ? context.world().piece(mover).pinned : figure.pinned;
    if (!targets.empty() && isPointer(targets.front().piece))
        return Goal{ontoGlass ? context.world().pointer().glass : context.world().pointer().at, {}};
    if (targets.empty() || targets.front().piece < 0) {
        context.note(fmt::format("the place {} is not there", name));
        return std::nullopt;
    }
    const world::Pose& pose = context.world().pose()[static_cast<std::size_t>(targets.front().piece)];
    // What is on the glass lies in the axes of the view.
    const bool fromGlass = context.world().piece(targets.front().piece).pinned;
    if (fromGlass != ontoGlass)
        return Goal{fromGlass ? pose.at + context.world().viewCorner() : pose.at - context.world().viewCorner(), {}};
    return Goal{pose.at, pose.z};
}

/// Where a piece of the world is to go.
std::optional<Goal> placeOf(const scene::Destination& destination, PieceIndex mover, ResponseContext& context)
{
    const bool looks = std::holds_alternative<scene::Formula>(destination.held);
    return placeOf(destination, mover, looks ? figureOf(context.world(), mover) : Figure{}, context);
}

/// The offset, or nothing and a note.
std::optional<Vec> offsetOf(const std::optional<scene::Offset>& offset, ResponseContext& context)
{
    if (!offset)
        return Vec{0, 0};
    const auto found = resolve(*offset, context.around());
    if (!found)
        context.note("a number of the offset is missing");
    return found;
}

std::string nameOf(const scene::Value<std::string>& value, std::string_view what, ResponseContext& context)
{
    const auto name = resolve(value, context.around());
    if (!name || name->empty())
        context.note(fmt::format("the {} is missing", what));
    return name.value_or(std::string{});
}

scene::Named<scene::Scalar> valuesOf(const scene::Named<scene::Value<scene::Scalar>>& values, ResponseContext& context)
{
    scene::Named<scene::Scalar> result;
    for (const auto& [name, value] : values.entries) {
        if (const auto resolved = resolve(value, context.around()))
            result.set(name, *resolved);
        else
            context.note(fmt::format("the value {} is missing", name));
    }
    return result;
}

} // namespace snare::rules
