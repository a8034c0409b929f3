// SPDX-License-Identifier: Apache-2.0
#include "rules/filter.h"

#include <fmt/format.h>

#include <array>

namespace snare::rules {

using scene::Comparison;
using scene::Scalar;

namespace {

bool contains(const std::vector<std::string>& list, std::string_view word)
{
    return std::ranges::find(list, word) != list.end();
}

template <class T> bool compareAlike(const T& left, Comparison is, const T& right)
{
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
    case Comparison::has:
        break;
    }
    return false;
}

bool compareNumbers(double left, Comparison is, double right, double within)
{
    if (is == Comparison::equal || is == Comparison::unequal)
        return (std::abs(left - right) <= within) == (is == Comparison::equal);
    const bool isBelow = is == Comparison::less || is == Comparison::lessOrEqual;
    return compareAlike(left, is, isBelow ? right + within : right - within);
}

} // namespace

bool compares(const Scalar& left, Comparison is, const Scalar& right, double within)
{
    if (is == Comparison::has) {
        const auto* whole = std::get_if<std::string>(&left);
        return whole && whole->find(scene::textOf(right)) != std::string::npos;
    }
    if (left.index() != right.index())
        return false;
    const double* number = within > 0 ? std::get_if<double>(&left) : nullptr;
    return number ? compareNumbers(*number, is, std::get<double>(right), within) : compareAlike(left, is, right);
}

namespace {

/// The group that counts is that of the visitor's shape, which may have one of its own.
const std::string& groupOfVisitor(const Surroundings& around)
{
    const world::World& world = around.world;
    if (around.event.part >= 0)
        return world.groups().nameOf(world.shapes()[static_cast<std::size_t>(around.event.part)].group);
    return world.groups().nameOf(world.piece(around.visitor).group);
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
    bool fine = left && right && compares(*left, condition.is, *right);
    if (fine && condition.is == Comparison::has && condition.left.ends_with(".tags")) // tags are whole words
        fine = (" " + std::get<std::string>(*left) + " ").find(" " + scene::textOf(*right) + " ") != std::string::npos;
    if (!fine && why) {
        const auto text = [](const std::optional<Scalar>& value) {
            return value ? scene::textOf(*value) : std::string("missing");
        };
        const std::string* path = condition.right.formula() ? scene::pathOf(*condition.right.formula()) : nullptr;
        const std::string wanted = path ? fmt::format("{}, which is {}", *path, text(right)) : text(right);
        *why = fmt::format("needs {} {} {}; it is {}", condition.left, scene::wordOf(condition.is), wanted, text(left));
    }
    return fine;
}

namespace {

std::optional<std::string> turnedAwayBySpeed(const scene::SpeedFilter& wanted, const Surroundings& around)
{
    const bool hit = around.event.kind == EventKind::hit;
    const double speed = hit ? around.event.speed
                         : isPointer(around.visitor)
                             ? glm::length(around.world.pointer().at - around.world.pointer().before) * around.rate()
                             : glm::length(around.world.piece(around.visitor).approach);
    if (wanted.min && speed < *wanted.min)
        return fmt::format("speed {:.4g} m/s is below {:.9g}", speed, *wanted.min);
    if (wanted.max && speed > *wanted.max)
        return fmt::format("speed {:.4g} m/s is above {:.9g}", speed, *wanted.max);
    return std::nullopt;
}

/// What is asked of the meeting: side and manner.
std::optional<std::string> turnedAwayByMeeting(const scene::Filter& filter, const Surroundings& around)
{
    if (!isContact(around.event.kind))
        return "there is no meeting";
    if (!filter.side.empty()) {
        std::vector<std::string_view> words;
        for (const scene::Side side : filter.side)
            words.push_back(scene::wordOf(side));
        const auto side = sideOf(around.event, around.world);
        if (!side)
            return fmt::format("came from no side, not from {}", fmt::join(words, " or "));
        if (std::ranges::find(filter.side, *side) == filter.side.end())
            return fmt::format("came from {}, not from {}", scene::wordOf(*side), fmt::join(words, " or "));
    }
    const bool stops = around.event.manner == Manner::stop;
    if (filter.manner && (*filter.manner == scene::MannerWord::stop) != stops)
        return stops ? "it stops, and only senses are wanted" : "it only senses, and a stop is wanted";
    return std::nullopt;
}

/// The pointer is in a group and has a name and a speed, but no tags and no template (P1).
std::optional<std::string> turnedAwayAsPointer(const scene::Filter& filter, const Surroundings& around)
{
    if (!filter.groups.empty() && !contains(filter.groups, "pointer"))
        return fmt::format("group pointer is not {}", fmt::join(filter.groups, " or "));
    if (!filter.pieces.empty() && !contains(filter.pieces, "pointer"))
        return fmt::format("pointer is not {}", fmt::join(filter.pieces, " or "));
    if (auto reason = turnedAwayByTags(filter.tags, world::LivePiece{}))
        return reason;
    if (!filter.templates.empty())
        return fmt::format("pointer has no template; {} is wanted", fmt::join(filter.templates, " or "));
    return turnedAwayBySpeed(filter.speed, around);
}

std::optional<std::string> turnedAwayByVisitor(const scene::Filter& filter, const Surroundings& around)
{
    if (isPointer(around.visitor))
        return turnedAwayAsPointer(filter, around);
    if (around.visitor < 0)
        return "there is no visitor";
    if (!filter.groups.empty() && !contains(filter.groups, groupOfVisitor(around)))
        return fmt::format("group {} is not {}", groupOfVisitor(around), fmt::join(filter.groups, " or "));
    const world::LivePiece& visitor = around.world.piece(around.visitor);
    if (auto reason = turnedAwayByTags(filter.tags, visitor))
        return reason;
    const auto isPart = [&](const std::string& name) { // the part of the same laid one as self (A2)
        const world::LivePiece* at = around.self >= 0 ? &around.world.piece(around.self) : nullptr;
        return at && name.starts_with("part:") && !visitor.laid.empty() && visitor.laid == at->laid &&
               std::string_view(name).substr(5) == visitor.part;
    };
    if (!filter.pieces.empty() && !contains(filter.pieces, visitor.id) && std::ranges::none_of(filter.pieces, isPart))
        return fmt::format("{} is not {}", visitor.id, fmt::join(filter.pieces, " or "));
    if (!filter.templates.empty() && !contains(filter.templates, visitor.templateName))
        return visitor.templateName.empty()
                   ? fmt::format("{} has no template; {} is wanted", visitor.id, fmt::join(filter.templates, " or "))
                   : fmt::format("template {} is not {}", visitor.templateName, fmt::join(filter.templates, " or "));
    return turnedAwayBySpeed(filter.speed, around);
}

/// Whether the visitor is in one of the groups and has one of the tags, if no more is asked for:
/// what most filters ask, answered without a reason.
bool isLetInAtOnce(const scene::Filter& filter, const Surroundings& around)
{
    const scene::TagFilter& tags = filter.tags;
    const bool asksMore = !filter.pieces.empty() || !filter.templates.empty() || filter.speed.min || filter.speed.max ||
                          !tags.all.empty() || !tags.none.empty() || !filter.side.empty() || filter.manner ||
                          !filter.when.empty() || !filter.script.empty();
    if (asksMore)
        return false;
    if (filter.groups.empty() && tags.any.empty())
        return true;
    if (around.visitor < 0)
        return false;
    if (!filter.groups.empty() && !contains(filter.groups, groupOfVisitor(around)))
        return false;
    const world::LivePiece& visitor = around.world.piece(around.visitor);
    return tags.any.empty() ||
           std::ranges::any_of(tags.any, [&](const std::string& tag) { return visitor.hasTag(tag); });
}

} // namespace

std::optional<std::string> turnedAway(const scene::Filter& filter, const Surroundings& around)
{
    if (isLetInAtOnce(filter, around))
        return std::nullopt;
    const bool asksVisitor = !filter.groups.empty() || !filter.pieces.empty() || !filter.templates.empty() ||
                             filter.tags != scene::TagFilter{} || filter.speed != scene::SpeedFilter{};
    if (asksVisitor)
        if (auto reason = turnedAwayByVisitor(filter, around))
            return reason;
    if (!filter.side.empty() || filter.manner)
        if (auto reason = turnedAwayByMeeting(filter, around))
            return reason;
    for (const scene::Condition& condition : filter.when)
        if (std::string why; !holds(condition, around, &why))
            return why;
    if (filter.script.empty())
        return std::nullopt;
    std::string fault;
    const auto answer = runScript(filter.script, around, &fault);
    if (!fault.empty())
        return fault;
    // As in Lua: everything but nil and false is true.
    const bool* flag = answer ? std::get_if<bool>(&*answer) : nullptr;
    return answer && (!flag || *flag) ? std::nullopt
                                      : std::optional(fmt::format("the script {} is not true", filter.script));
}

std::optional<scene::Side> sideOf(const Event& event, const world::World& world)
{
    if (event.shape < 0 || (event.visitor < 0 && !isPointer(event.visitor)))
        return std::nullopt;
    const auto self = static_cast<std::size_t>(event.self);
    const Vec from = !isPointer(event.visitor)        ? world.before()[static_cast<std::size_t>(event.visitor)].at
                     : world.piece(event.self).pinned ? world.pointer().before - world.viewCorner()
                                                      : world.pointer().before;
    const Vec centre = geometry::toLocal(world.before()[self], from);
    geometry::Bounds box;
    for (const geometry::Hull& part : world.partsOf(world.shapes()[static_cast<std::size_t>(event.shape)]))
        box.include(geometry::boundsOf(part));
    if (box.empty())
        return std::nullopt;
    using scene::Side;
    const std::array<std::pair<double, Side>, 4> beyond{{{box.low.x - centre.x, Side::left},
                                                         {centre.x - box.high.x, Side::right},
                                                         {box.low.y - centre.y, Side::below},
                                                         {centre.y - box.high.y, Side::above}}};
    const auto most = std::ranges::max_element(beyond, {}, &std::pair<double, Side>::first);
    return most->first > 0 ? std::optional(most->second) : std::nullopt;
}

} // namespace snare::rules
