// SPDX-License-Identifier: Apache-2.0
#include "rules/filter.h"

#include <fmt/format.h>

namespace snare::rules {

using scene::Comparison;
using scene::Scalar;

namespace {

bool contains(const std::vector<std::string>& list, std::string_view word)
{
    return std::ranges::find(list, word) != list.end();
}

bool compare(const Scalar& left, Comparison is, const Scalar& right)
{
    if (left.index() != right.index())
        return false;
    switch (is) {
    case Comparison::equal:
        return left == right;
    case Comparison::unequal:
        return left != right;
    case Comparison::less:
        return left < right;
    case Comparison::lessOrEqual:
        return left <= right;
    case Comparison::greater:
        return left > right;
    case Comparison::greaterOrEqual:
        return left >= right;
    }
    return false;
}

/// The group that counts is that of the visitor's shape, which may have one of its own.
const std::string& groupOfVisitor(const Surroundings& around)
{
    const world::World& world = around.world;
    if (around.event.part >= 0)
        return world.groups.nameOf(world.shapes[static_cast<std::size_t>(around.event.part)].group);
    return world.groups.nameOf(world.piece(around.visitor).group);
}

std::optional<std::string> turnedAwayByTags(const scene::TagFilter& tags, const world::LivePiece& visitor)
{
    if (!tags.any.empty() &&
        std::ranges::none_of(tags.any, [&](const std::string& tag) { return visitor.hasTag(tag); }))
        return tags.any.size() == 1 ? fmt::format("tag {} is missing", tags.any.front())
                                    : fmt::format("none of the tags {}", fmt::join(tags.any, ", "));
    for (const std::string& tag : tags.all)
        if (!visitor.hasTag(tag))
            return fmt::format("tag {} is missing", tag);
    for (const std::string& tag : tags.none)
        if (visitor.hasTag(tag))
            return fmt::format("has tag {}", tag);
    return std::nullopt;
}

} // namespace

bool holds(const scene::Condition& condition, const Surroundings& around, std::string* why)
{
    const auto left = valueAt(condition.left, around);
    const auto right = resolve(condition.right, around);
    const bool fine = left && right && compare(*left, condition.is, *right);
    if (!fine && why) {
        const auto text = [](const std::optional<Scalar>& value) {
            return value ? scene::textOf(*value) : std::string("missing");
        };
        const std::string wanted =
            condition.right.literal()
                ? text(right)
                : fmt::format("{}, which is {}", std::get<scene::Get>(condition.right.held).path, text(right));
        *why = fmt::format("needs {} {} {}; it is {}", condition.left, scene::wordOf(condition.is), wanted, text(left));
    }
    return fine;
}

std::optional<std::string> turnedAway(const scene::Filter& filter, const Surroundings& around)
{
    const bool asksVisitor = !filter.groups.empty() || !filter.pieces.empty() || filter.tags != scene::TagFilter{};
    if (asksVisitor && around.visitor < 0)
        return "there is no visitor";
    if (!filter.groups.empty() && !contains(filter.groups, groupOfVisitor(around)))
        return fmt::format("group {} is not {}", groupOfVisitor(around), fmt::join(filter.groups, " or "));
    if (asksVisitor) {
        const world::LivePiece& visitor = around.world.piece(around.visitor);
        if (auto reason = turnedAwayByTags(filter.tags, visitor))
            return reason;
        if (!filter.pieces.empty() && !contains(filter.pieces, visitor.id))
            return fmt::format("{} is not {}", visitor.id, fmt::join(filter.pieces, " or "));
    }
    for (const scene::Condition& condition : filter.when)
        if (std::string why; !holds(condition, around, &why))
            return why;
    return std::nullopt;
}

} // namespace snare::rules
