// SPDX-License-Identifier: Apache-2.0
#include "check/problems.h"

#include "scene/kits.h"
#include "scene/walk.h"
#include "script/sandbox.h"

#include <fmt/format.h>

namespace snare::check {

using namespace scene;

namespace {

bool isTimerOfAPiece(const Scene& scene, const std::string& name)
{
    const auto has = [&](const Piece& piece) {
        return std::ranges::find(piece.timers, name, &PieceTimer::id) != piece.timers.end();
    };
    return std::ranges::any_of(scene.pieces, has) ||
           std::ranges::any_of(scene.templates.entries, [&](const auto& entry) { return has(entry.second.model); });
}

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
            return findTemplate(scene, name.substr(9)) ? std::nullopt : nobody("template:", "follows template");
        if (name.starts_with("part:")) {
            const bool isThere = std::ranges::any_of(scene.assemblies.entries, [&](const auto& entry) {
                return std::ranges::any_of(entry.second.pieces, [&](const Piece& part) {
                    const std::string_view wanted = splitShape(std::string_view(name).substr(5)).first;
                    return wanted == part.id || wanted == entry.first + "." + part.id;
                });
            });
            return isThere ? std::nullopt : nobody("part:", "is a part called");
        }
        if (name.starts_with("inside:"))
            return faultOfName(scene, refers, name.substr(7));
        if (name.find('.') != std::string::npos) // whom a property names is known only when it runs
            return std::nullopt;
        const auto [owner, shape] = splitShape(name);
        if (isReserved(owner) || owner == "home" || owner == "assembly" || findSource(scene, owner))
            return std::nullopt;
        if (std::ranges::find(scene.laid, owner, &Laid::id) != scene.laid.end())
            return std::nullopt; // all its parts
        const Piece* piece = findPiece(scene, owner);
        if (!piece)
            return fmt::format("there is no piece {}", owner);
        if (!shape.empty() && !findShape(*piece, shape))
            return fmt::format("{} has no shape {}", owner, shape);
        return std::nullopt;
    }
    case Refers::piece:
        return findPiece(scene, name) || name == "pointer" // a visitor too (P1)
                   ? std::nullopt
                   : std::optional(fmt::format("there is no piece {}", name));
    case Refers::snare:
        return findSnare(scene, name) ? std::nullopt : std::optional(fmt::format("there is no snare {}", name));
    case Refers::source:
        return findSource(scene, name) || isTimerOfAPiece(scene, name)
                   ? std::nullopt
                   : std::optional(fmt::format("there is no source {}", name));
    case Refers::form:
        return findTemplate(scene, name) ? std::nullopt : std::optional(fmt::format("there is no template {}", name));
    case Refers::routine:
        return findRoutine(scene, name) ? std::nullopt : std::optional(fmt::format("there is no routine {}", name));
    case Refers::phase:
    case Refers::during: {
        const bool ofScene = name.starts_with("scene:");
        const std::string bare = ofScene ? name.substr(6) : name;
        const auto& known = ofScene ? scene.phases : allPhases(scene);
        const bool fine = bare == "next" || std::ranges::find(known, bare) != known.end();
        return fine ? std::nullopt
                    : std::optional(fmt::format("there is no phase {}{}", bare, ofScene ? " of the scene" : ""));
    }
    default:
        return std::nullopt;
    }
}

} // namespace

std::vector<std::string> problemsOf(const scene::Scene& scene, const scene::Snare& snare)
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
        if (familyOf(kind) == EventFamily::watch && catches.source.empty() && catches.watch.empty())
            add("it says not which number it watches");
        if (familyOf(kind) == EventFamily::watch && !catches.level)
            add("it says not which level the number crosses");
        if (familyOf(kind) == EventFamily::call && catches.name.empty())
            add("it says not which call");
        if (familyOf(kind) == EventFamily::value && catches.value.empty())
            add("it says not which value changes");
        if (familyOf(kind) == EventFamily::signal && catches.signal.empty())
            add("it says not which signal");
        if (kind == EventKind::hit && at && !at->shapes.empty() &&
            std::ranges::all_of(at->shapes, [](const Shape& shape) { return shape.role == Role::zone; }))
            add("nothing can hit a zone");
    }
    const auto read = [&](const std::string& script, bool isExpression, const std::string& where) {
        if (script.empty())
            return;
        if (const auto fault = script::Sandbox::check(script, isExpression))
            add(fmt::format("the script of {} cannot be read, line {}: {}", where, fault->line, fault->text));
    };
    read(snare.filter.script, true, "its filter");
    for (std::size_t i = 0; i < snare.responses.size(); ++i)
        if (const auto* script = std::get_if<Script>(&snare.responses[i].kind))
            read(script->lua, false, fmt::format("response {}", i + 1));
    if (snare.responses.empty())
        add("it has no response");
    return problems;
}

std::vector<std::string> problemsOf(const scene::Scene&, const scene::Piece& piece)
{
    std::vector<std::string> problems;
    for (std::size_t i = 0; i < piece.shapes.size(); ++i) {
        const auto* traced = std::get_if<Traced>(&piece.shapes[i].geometry);
        if (!traced)
            continue;
        const std::string& image = traced->image.empty() ? piece.look.image : traced->image;
        const TracedArea* area = traced->tracing.of(image);
        if (image.empty())
            problems.push_back(fmt::format("shape {} is traced from a look without a picture", shapeName(piece, i)));
        else if (!area || !area->found)
            problems.push_back(fmt::format("the picture {} cannot be read", image));
        else if (area->rings.empty())
            problems.push_back(fmt::format("nothing in {} can be traced for shape {}: no pixel has its colour, or the "
                                           "outline has more than 2,000 corners",
                                           image, shapeName(piece, i)));
    }
    return problems;
}

} // namespace snare::check
