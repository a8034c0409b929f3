// SPDX-License-Identifier: Apache-2.0
#include "scene/mentions.h"

#include "scene/walk.h"

#include <fmt/format.h>

namespace snare::scene {

namespace {

template <class Visit> void forEachMention(Scene& scene, Visit&& visit)
{
    Walk<Visit> walk{visit};
    walk.over(scene, Refers::nothing);
}

/// `text` with the name changed if it is a mention of it, else nothing.
std::optional<std::string> changed(Thing kind, Refers refers, const std::string& text, std::string_view from,
                                   std::string_view to)
{
    const auto whole = [&](bool fits) { return fits && text == from ? std::optional(std::string(to)) : std::nullopt; };
    const bool place = refers == Refers::target || refers == Refers::place;
    const auto selector = [&](std::string_view prefix) {
        return place && text.starts_with(prefix) && std::string_view(text).substr(prefix.size()) == from
                   ? std::optional(fmt::format("{}{}", prefix, to))
                   : std::nullopt;
    };
    const auto path = [&]() -> std::optional<std::string> {
        const auto dot = text.find('.');
        if (refers != Refers::property || dot == std::string::npos || text.substr(0, dot) != from)
            return std::nullopt;
        return fmt::format("{}{}", to, text.substr(dot));
    };
    switch (kind) {
    case Thing::piece: {
        if (const auto [owner, shape] = splitShape(text); place && owner == from && !isSelector(text))
            return shape.empty() ? std::string(to) : fmt::format("{}/{}", to, shape);
        if (auto found = path())
            return found;
        return whole(refers == Refers::piece);
    }
    case Thing::source:
        if (auto found = path())
            return found;
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
    case Thing::routine:
        return whole(refers == Refers::routine);
    case Thing::snare:
        return whole(refers == Refers::snare);
    case Thing::signal:
        return whole(refers == Refers::signal);
    }
    return std::nullopt;
}

} // namespace

std::size_t rename(Scene& scene, Thing kind, std::string_view from, std::string_view to)
{
    const std::string old{from};
    std::size_t count = 0;
    forEachMention(scene, [&](Refers refers, std::string& text) {
        if (auto next = changed(kind, refers, text, old, to)) {
            text = std::move(*next);
            ++count;
        }
    });
    if (kind == Thing::piece)
        if (Piece* piece = findPiece(scene, old))
            piece->id = to;
    if (kind == Thing::snare)
        if (Snare* snare = findSnare(scene, old))
            snare->id = to;
    if (kind == Thing::form)
        for (auto& entry : scene.templates.entries)
            if (entry.first == old)
                entry.first = to;
    if (kind == Thing::routine)
        for (auto& entry : scene.routines.entries)
            if (entry.first == old)
                entry.first = to;
    if (kind == Thing::source)
        for (Source& source : scene.sources)
            if (source.id == old)
                source.id = to;
    return count;
}

std::size_t countMentions(const Scene& scene, Thing kind, std::string_view name)
{
    Scene copy = scene;
    return rename(copy, kind, name, name);
}

std::optional<std::string> refuseName(const Scene& scene, Thing kind, std::string_view from, std::string_view to)
{
    const bool isWord = kind == Thing::tag || kind == Thing::signal;
    if (to.empty())
        return "a name is needed";
    if (!isWord && !isId(to))
        return "letters, digits, - and _ only";
    if (!isWord && isReserved(to))
        return fmt::format("{} stands for something else", to);
    if (from == to)
        return std::nullopt;
    const bool taken =
        (kind == Thing::snare && findSnare(scene, to)) || (kind == Thing::form && scene.templates.find(to)) ||
        (kind == Thing::routine && findRoutine(scene, to)) ||
        ((kind == Thing::piece || kind == Thing::source) && (findPiece(scene, to) || findSource(scene, to)));
    if (taken)
        return fmt::format("{} is there already", to);
    return std::nullopt;
}

std::vector<std::string> snaresListeningAt(const Scene& scene, const Piece& piece)
{
    std::vector<std::string> result;
    for (const Snare& snare : scene.snares)
        if (isNamedBy(piece, snare.catches.at))
            result.push_back(snare.id);
    return result;
}

std::vector<std::string> snaresActingOn(const Scene& scene, const Piece& piece)
{
    std::vector<std::string> result;
    for (const Snare& snare : scene.snares) {
        if (isNamedBy(piece, snare.catches.at))
            continue;
        const bool acts = std::ranges::any_of(snare.responses, [&](const Response& response) {
            return std::visit(
                [&](const auto& kind) {
                    if constexpr (requires { kind.on; })
                        return std::ranges::any_of(kind.on.names,
                                                   [&](const std::string& name) { return isNamedBy(piece, name); });
                    return false;
                },
                response.kind);
        });
        if (acts)
            result.push_back(snare.id);
    }
    return result;
}

std::vector<std::string> armersOf(const Scene& scene, std::string_view snare)
{
    std::vector<std::string> result;
    for (const Snare& other : scene.snares)
        for (const Response& response : other.responses)
            if (const auto* arm = std::get_if<Arm>(&response.kind);
                arm && std::ranges::find(arm->snares, snare) != arm->snares.end())
                result.push_back(other.id);
    return result;
}

} // namespace snare::scene
