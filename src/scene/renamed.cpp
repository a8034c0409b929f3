// SPDX-License-Identifier: Apache-2.0
#include "scene/renamed.h"

#include "scene/scene.h"

#include <fmt/format.h>

#include <cctype>

namespace snare::scene {

namespace {

constexpr std::string_view partPrefix = "part:";

bool isWordLetter(char letter)
{
    return std::isalnum(static_cast<unsigned char>(letter)) != 0 || letter == '_';
}

/// A path with the name changed: `barrow.x` for a piece or source, `self.load` and `self.held.load`
/// for a value.
std::optional<std::string> changedPath(Thing kind, std::string_view path, std::string_view from, std::string_view to)
{
    const auto dot = path.find('.');
    if (dot == std::string_view::npos)
        return std::nullopt;
    const std::string_view owner = path.substr(0, dot);
    if (kind == Thing::piece || kind == Thing::source)
        return owner == from ? std::optional(fmt::format("{}{}", to, path.substr(dot))) : std::nullopt;
    if (kind == Thing::parameter) {
        const auto end = std::min(path.find('.', dot + 1), path.size());
        return owner == "with" && path.substr(dot + 1, end - dot - 1) == from
                   ? std::optional(fmt::format("with.{}{}", to, path.substr(end)))
                   : std::nullopt;
    }
    if (kind != Thing::value || owner == "event" || owner == "signal" || owner == "with")
        return std::nullopt;
    std::string next{owner};
    bool found = false;
    for (std::size_t at = dot; at < path.size();) {
        const auto end = std::min(path.find('.', at + 1), path.size());
        const std::string_view part = path.substr(at + 1, end - at - 1);
        found = found || part == from;
        next += '.';
        next += part == from ? to : part;
        at = end;
    }
    return found ? std::optional(std::move(next)) : std::nullopt;
}

/// A text for people, with the paths in its braces changed.
std::optional<std::string> changedWords(Thing kind, std::string_view text, std::string_view from, std::string_view to)
{
    std::string next;
    bool found = false;
    std::size_t at = 0;
    while (at < text.size()) {
        const auto open = text.find('{', at);
        const auto close = open == std::string_view::npos ? open : text.find('}', open);
        if (close == std::string_view::npos)
            break;
        next += text.substr(at, open + 1 - at);
        const std::string_view path = text.substr(open + 1, close - open - 1);
        if (auto other = changedPath(kind, path, from, to)) {
            next += *other;
            found = true;
        } else {
            next += path;
        }
        at = close;
    }
    next += text.substr(std::min(at, text.size()));
    return found ? std::optional(std::move(next)) : std::nullopt;
}

/// Where a text or remark of Lua ends that begins at `at` with `[[` or `[=[`; `at` if none begins
/// there.
std::size_t endOfLongBracket(std::string_view lua, std::size_t at)
{
    std::size_t level = at + 1;
    while (level < lua.size() && lua[level] == '=')
        ++level;
    if (lua[at] != '[' || level >= lua.size() || lua[level] != '[')
        return at;
    const std::string closing = "]" + std::string(level - at - 1, '=') + "]";
    const auto end = lua.find(closing, level + 1);
    return end == std::string_view::npos ? lua.size() : end + closing.size();
}

/// A script with the paths in it changed. Texts in it stay as they are.
std::optional<std::string> changedScript(Thing kind, std::string_view lua, std::string_view from, std::string_view to)
{
    std::string next;
    bool found = false;
    for (std::size_t at = 0; at < lua.size();) {
        if (lua[at] == '"' || lua[at] == '\'') {
            const char quote = lua[at];
            std::size_t end = at + 1;
            while (end < lua.size() && lua[end] != quote)
                end += lua[end] == '\\' ? 2 : 1;
            end = std::min(end + 1, lua.size());
            next += lua.substr(at, end - at);
            at = end;
            continue;
        }
        if (const std::size_t end = endOfLongBracket(lua, at); end != at) {
            next += lua.substr(at, end - at);
            at = end;
            continue;
        }
        const bool begins = isWordLetter(lua[at]) && (at == 0 || (!isWordLetter(lua[at - 1]) && lua[at - 1] != '.'));
        if (!begins) {
            next += lua[at++];
            continue;
        }
        std::size_t end = at;
        while (end < lua.size() && (isWordLetter(lua[end]) || (lua[end] == '.' && end + 1 < lua.size() &&
                                                               isWordLetter(lua[end + 1]) && lua[end - 1] != '.')))
            ++end;
        const std::string_view path = lua.substr(at, end - at);
        const auto other = changedPath(kind, path, from, to);
        next += other ? std::string_view(*other) : path;
        found = found || other.has_value();
        at = end;
    }
    return found ? std::optional(std::move(next)) : std::nullopt;
}

} // namespace

std::optional<std::string> renamed(Thing kind, Refers refers, const std::string& text, std::string_view from,
                                   std::string_view to)
{
    const auto whole = [&](bool fits) { return fits && text == from ? std::optional(std::string(to)) : std::nullopt; };
    const bool place = refers == Refers::target || refers == Refers::place;
    const auto selector = [&](std::string_view prefix) {
        return place && text.starts_with(prefix) && std::string_view(text).substr(prefix.size()) == from
                   ? std::optional(fmt::format("{}{}", prefix, to))
                   : std::nullopt;
    };
    if (refers == Refers::words)
        return changedWords(kind, text, from, to);
    if (refers == Refers::script)
        return changedScript(kind, text, from, to);
    if (refers == Refers::property)
        return changedPath(kind, text, from, to);
    switch (kind) {
    case Thing::piece:
        if (const auto [owner, shape] = splitShape(text); place && owner == from && !isSelector(text))
            return shape.empty() ? std::string(to) : fmt::format("{}/{}", to, shape);
        return whole(refers == Refers::piece);
    case Thing::shape:
        if (const auto [owner, shape] = splitShape(text); place && !shape.empty() && shape == from && !isSelector(text))
            return fmt::format("{}/{}", owner, to);
        return whole(refers == Refers::shape);
    case Thing::source:
        return whole(refers == Refers::source || place);
    case Thing::tag:
        if (auto found = selector("tag:"))
            return found;
        return whole(refers == Refers::tag);
    case Thing::group:
        if (auto found = selector("group:"))
            return found;
        return whole(refers == Refers::group);
    case Thing::form:
        if (auto found = selector("template:"))
            return found;
        return whole(refers == Refers::form);
    case Thing::assembly:
        if (place && text.starts_with(partPrefix))
            if (const auto dot = text.find('.');
                dot != std::string::npos &&
                std::string_view(text).substr(partPrefix.size(), dot - partPrefix.size()) == from)
                return fmt::format("{}{}{}", partPrefix, to, std::string_view(text).substr(dot));
        return whole(refers == Refers::form);
    case Thing::laid:
        return whole(place || refers == Refers::piece);
    case Thing::phase:
        if (refers == Refers::during && text == fmt::format("scene:{}", from))
            return fmt::format("scene:{}", to);
        return whole(refers == Refers::phase || refers == Refers::during);
    case Thing::value:
        if (place)
            return changedPath(kind, text, from, to);
        return whole(refers == Refers::value);
    case Thing::parameter:
        return place ? changedPath(kind, text, from, to) : std::nullopt;
    case Thing::routine:
        return whole(refers == Refers::routine);
    case Thing::snare:
        return whole(refers == Refers::snare);
    case Thing::signal:
        return whole(refers == Refers::signal);
    case Thing::call:
        return whole(refers == Refers::call);
    case Thing::look:
        return whole(refers == Refers::look);
    }
    return std::nullopt;
}

} // namespace snare::scene
