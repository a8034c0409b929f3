// SPDX-License-Identifier: Apache-2.0
#include "scene/mentions.h"

#include <fmt/format.h>

namespace snare::scene {

namespace {

/// Walks over everything in a value that names something: `visit(refers, text)`.
template <class Visit> class Walk {
  public:
    explicit Walk(Visit& visit) : visit_(visit) {}

    template <class T> void over(T& value, Refers refers)
    {
        if constexpr (std::is_same_v<T, std::string>) {
            if (refers != Refers::nothing)
                visit_(refers, value);
        } else if constexpr (std::is_same_v<T, Target>) {
            for (std::string& name : value.names)
                visit_(Refers::target, name);
        } else if constexpr (std::is_same_v<T, Destination>) {
            if (auto* name = std::get_if<std::string>(&value.held))
                visit_(Refers::place, *name);
        } else if constexpr (std::is_same_v<T, LookChoice>) {
            if (auto* name = std::get_if<std::string>(&value.held))
                visit_(Refers::look, *name);
        } else if constexpr (std::is_same_v<T, ContactRule>) {
            visit_(Refers::group, value.first);
            visit_(Refers::group, value.second);
        } else if constexpr (std::is_same_v<T, Template>) {
            over(value.model, Refers::nothing);
        } else if constexpr (std::is_same_v<T, Response>) {
            std::visit([&](auto& kind) { over(kind, Refers::nothing); }, value.kind);
            over(value.onlyIf, Refers::nothing);
        } else if constexpr (requires { value.literal(); }) {
            if (auto* get = std::get_if<Get>(&value.held))
                visit_(Refers::property, get->path);
        } else if constexpr (requires { value.entries; }) {
            for (auto& entry : value.entries)
                over(entry.second, refers);
        } else if constexpr (requires { value.items; }) {
            over(value.items, refers);
        } else if constexpr (requires { value.has_value(); }) {
            if (value)
                over(*value, refers);
        } else if constexpr (requires { value.push_back(value.front()); }) {
            for (auto& item : value)
                over(item, refers);
        } else if constexpr (requires { value.valueless_by_exception(); }) {
            std::visit([&](auto& held) { over(held, refers); }, value);
        } else if constexpr (hasFields<T>) {
            forEachField<T>([&](const auto& field) { overField(value, field); });
        }
    }

  private:
    template <class T, class Member> void overField(T& value, const Field<T, Member>& field)
    {
        over(value.*field.member, field.refers);
    }
    template <class T, class Member> void overField(T& value, const KeyedField<T, Member>& field)
    {
        over(value.*field.member, Refers::nothing);
    }

    Visit& visit_;
};

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

namespace {

/// What is wrong with one name, or nothing.
std::optional<std::string> faultOfName(const Scene& scene, Refers refers, const std::string& name)
{
    if (name.empty())
        return std::nullopt;
    const auto nobody = [&](std::string_view prefix, std::string_view what) -> std::optional<std::string> {
        if (std::ranges::any_of(scene.pieces, [&](const Piece& piece) { return isNamedBy(piece, name); }))
            return std::nullopt;
        return fmt::format("no piece {} {}", what, name.substr(prefix.size()));
    };
    switch (refers) {
    case Refers::target:
    case Refers::place: {
        if (name.starts_with("tag:"))
            return std::nullopt; // tags come and go
        if (name.starts_with("group:"))
            return std::nullopt;
        if (name.starts_with("template:"))
            return nobody("template:", "follows template");
        const auto [owner, shape] = splitShape(name);
        if (isReserved(owner) || owner == "home" || findSource(scene, owner))
            return std::nullopt;
        const Piece* piece = findPiece(scene, owner);
        if (!piece)
            return fmt::format("there is no piece {}", owner);
        if (!shape.empty() && !findShape(*piece, shape))
            return fmt::format("{} has no shape {}", owner, shape);
        return std::nullopt;
    }
    case Refers::piece:
        return findPiece(scene, name) ? std::nullopt : std::optional(fmt::format("there is no piece {}", name));
    case Refers::snare:
        return findSnare(scene, name) ? std::nullopt : std::optional(fmt::format("there is no snare {}", name));
    case Refers::source:
        return findSource(scene, name) ? std::nullopt : std::optional(fmt::format("there is no source {}", name));
    default:
        return std::nullopt;
    }
}

} // namespace

std::vector<std::string> problemsOf(const Scene& scene, const Snare& snare)
{
    std::vector<std::string> problems;
    const auto add = [&](std::string text) {
        if (std::ranges::find(problems, text) == problems.end())
            problems.push_back(std::move(text));
    };
    const auto look = [&](Refers refers, std::string& name) {
        if (auto fault = faultOfName(scene, refers, name))
            add(std::move(*fault));
    };
    Snare copy = snare;
    Walk<decltype(look)> walk{look};
    walk.over(copy, Refers::nothing);
    const Catch& catches = snare.catches;
    const Piece* at = findPiece(scene, catches.at);
    if (at && !catches.shape.empty() && !findShape(*at, catches.shape))
        add(fmt::format("{} has no shape {}", at->id, catches.shape));
    for (const EventKind kind : catches.event.items) {
        if (familyOf(kind) == EventFamily::contact && catches.at.empty())
            add("it says not where it catches");
        if (familyOf(kind) == EventFamily::timer && catches.source.empty())
            add("it says not which timer");
        if (familyOf(kind) == EventFamily::signal && catches.signal.empty())
            add("it says not which signal");
        if (kind == EventKind::hit && at && !at->shapes.empty() &&
            std::ranges::all_of(at->shapes, [](const Shape& shape) { return shape.role == Role::zone; }))
            add("nothing can hit a zone");
    }
    if (snare.responses.empty())
        add("it has no response");
    return problems;
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
