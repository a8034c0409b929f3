// SPDX-License-Identifier: Apache-2.0
#include "scene/mentions.h"

#include "scene/kits.h"
#include "scene/renamed.h"
#include "scene/walk.h"

#include <fmt/format.h>

namespace snare::scene {

namespace {

template <class T> void renameKey(Named<T>& named, std::string_view from, std::string_view to)
{
    for (auto& entry : named.entries)
        if (entry.first == from)
            entry.first = to;
}

/// What is called so at one piece: its looks, phases, values or shapes.
void renameAt(Piece& piece, Thing kind, std::string_view from, std::string_view to)
{
    if (kind == Thing::look)
        renameKey(piece.looks, from, to);
    if (kind == Thing::value)
        renameKey(piece.properties, from, to);
    if (kind == Thing::phase)
        for (PiecePhase& phase : piece.phases)
            if (phase.id == from)
                phase.id = to;
    if (kind == Thing::shape)
        for (Shape& shape : piece.shapes)
            if (shape.id == from)
                shape.id = to;
}

/// Whether something at a piece is called so.
bool isAt(const Piece& piece, Thing kind, std::string_view name)
{
    switch (kind) {
    case Thing::look:
        return piece.looks.find(name) != nullptr;
    case Thing::value:
        return piece.properties.find(name) != nullptr;
    case Thing::phase:
        return findPhase(piece, name).has_value();
    case Thing::shape:
        return std::ranges::find(piece.shapes, name, &Shape::id) != piece.shapes.end();
    default:
        return false;
    }
}

/// Values that responses give to what they spawn.
void renameSpawned(std::vector<Response>& responses, std::string_view from, std::string_view to)
{
    for (Response& response : responses)
        if (auto* spawn = std::get_if<Spawn>(&response.kind))
            renameKey(spawn->set, from, to);
}

std::size_t renameMentions(auto& document, Thing kind, const std::string& from, std::string_view to)
{
    std::size_t count = 0;
    const auto visit = [&](Refers refers, std::string& text) {
        if (auto next = renamed(kind, refers, text, from, to)) {
            text = std::move(*next);
            ++count;
        }
    };
    walkNames(document, visit);
    return count;
}

/// The laid ones of an assembly, and their parts, name it.
void renameAssembly(Scene& scene, const std::string& from, std::string_view to)
{
    for (Laid& laid : scene.laid)
        if (laid.assembly == from)
            laid.assembly = to;
    for (std::size_t i = 0; i < scene.pieces.size(); ++i)
        if (const auto& part = std::as_const(scene.pieces)[i].partOf; part && part->assembly == from)
            scene.pieces[i].partOf->assembly = to;
}

/// The parts of a laid one are called after it, also where their properties name each other (A5).
std::size_t renameParts(Scene& scene, const std::string& from, std::string_view to)
{
    std::size_t count = 0;
    const std::string prefix = from + '.';
    for (std::size_t i = 0; i < scene.pieces.size(); ++i) {
        if (const auto& part = std::as_const(scene.pieces)[i].partOf; !part || part->laid != from)
            continue;
        Piece& piece = scene.pieces[i];
        const std::string old = piece.id;
        piece.partOf->laid = to;
        piece.id = fmt::format("{}.{}", to, piece.partOf->part);
        for (auto& entry : piece.properties.entries)
            if (auto* text = std::get_if<std::string>(&entry.second); text && text->starts_with(prefix))
                *text = fmt::format("{}.{}", to, std::string_view(*text).substr(prefix.size()));
        const std::string now = piece.id;
        count += renameMentions(scene, Thing::piece, old, now);
    }
    for (Laid& laid : scene.laid)
        if (laid.id == from)
            laid.id = to;
    return count;
}

/// What the kit that holds it, and the other kits, say of it.
std::size_t renameInKits(Scene& scene, Thing kind, const std::string& from, std::string_view to)
{
    const auto home = homeOf(scene, kind, from);
    if (!home || home->empty())
        return 0;
    std::size_t count = 0;
    for (const LoadedKit& loaded : std::vector<LoadedKit>(*scene.loaded.list)) {
        Kit changed = loaded.kit;
        const std::size_t here = renameMentions(changed, kind, from, to);
        if (loaded.file == *home) {
            renameKey(changed.routines, kind == Thing::routine ? from : std::string(), to);
            renameKey(changed.templates, kind == Thing::form ? from : std::string(), to);
            renameKey(changed.assemblies, kind == Thing::assembly ? from : std::string(), to);
        }
        if (changed == loaded.kit)
            continue;
        count += here;
        *kitToChange(scene, loaded.file) = std::move(changed);
    }
    return count;
}

} // namespace

std::size_t rename(Scene& scene, Thing kind, std::string_view from, std::string_view to)
{
    const std::string old{from};
    std::size_t count = 0;
    const bool isKept = kind == Thing::routine || kind == Thing::form || kind == Thing::assembly;
    if (isKept)
        count += renameInKits(scene, kind, old, to);
    count += renameMentions(scene, kind, old, to);
    if (kind == Thing::piece)
        if (Piece* piece = findPiece(scene, old))
            piece->id = to;
    if (kind == Thing::snare)
        if (Snare* snare = findSnare(scene, old))
            snare->id = to;
    if (kind == Thing::form)
        renameKey(scene.templates, old, to);
    if (kind == Thing::routine)
        renameKey(scene.routines, old, to);
    if (kind == Thing::assembly) {
        renameKey(scene.assemblies, old, to);
        renameAssembly(scene, old, to);
    }
    if (kind == Thing::laid)
        count += renameParts(scene, old, to);
    if (kind == Thing::source)
        for (Source& source : scene.sources)
            if (source.id == old)
                source.id = to;
    const bool isAtPieces = kind == Thing::look || kind == Thing::value || kind == Thing::phase || kind == Thing::shape;
    if (!isAtPieces)
        return count;
    for (std::size_t i = 0; i < scene.pieces.size(); ++i)
        if (isAt(std::as_const(scene.pieces)[i], kind, old)) // the others stay shared
            renameAt(scene.pieces[i], kind, old, to);
    for (auto& entry : scene.templates.entries)
        renameAt(entry.second.model, kind, old, to);
    for (auto& entry : scene.assemblies.entries)
        for (Piece& part : entry.second.pieces)
            renameAt(part, kind, old, to);
    if (kind != Thing::value)
        return count;
    renameKey(scene.variables, old, to);
    for (std::size_t i = 0; i < scene.snares.size(); ++i)
        if (std::ranges::any_of(std::as_const(scene.snares)[i].responses,
                                [](const Response& response) { return std::holds_alternative<Spawn>(response.kind); }))
            renameSpawned(scene.snares[i].responses, old, to);
    for (auto& entry : scene.routines.entries)
        renameSpawned(entry.second.responses, old, to);
    for (auto& entry : scene.assemblies.entries)
        for (Snare& snare : entry.second.snares)
            renameSpawned(snare.responses, old, to);
    return count;
}

std::size_t renameParameter(Scene& scene, const std::string& home, const std::string& name, const std::string& from,
                            const std::string& to)
{
    Routine* routine = routineToChange(scene, home, name);
    if (!routine)
        return 0;
    std::size_t count = renameMentions(*routine, Thing::parameter, from, to);
    renameKey(routine->with, from, to);
    const auto inResponses = [&](std::vector<Response>& responses) {
        for (Response& response : responses)
            if (auto* run = std::get_if<RunRoutine>(&response.kind);
                run && run->routine == name && run->with.find(from)) {
                renameKey(run->with, from, to);
                ++count;
            }
    };
    const auto inAll = [&](auto& of) {
        for (auto& entry : of.routines.entries)
            inResponses(entry.second.responses);
        for (auto& entry : of.assemblies.entries)
            for (Snare& snare : entry.second.snares)
                inResponses(snare.responses);
    };
    for (std::size_t i = 0; i < scene.snares.size(); ++i) // NOLINT: changed by index
        inResponses(scene.snares[i].responses);
    inAll(scene);
    for (const std::string& kit : std::vector<std::string>(scene.kits))
        if (Kit* changed = kitToChange(scene, kit)) {
            inAll(*changed);
            for (Snare& snare : changed->snares)
                inResponses(snare.responses);
        }
    return count;
}

std::size_t rename(Take& take, Thing kind, std::string_view from, std::string_view to)
{
    std::size_t count = 0;
    for (Input& input : take.inputs) {
        std::string* name = nullptr;
        if (auto* set = input.as<DialInput>(); set && kind == Thing::source)
            name = &set->dial;
        else if (auto* made = input.as<CallInput>(); made && kind == Thing::call)
            name = &made->call;
        else if (auto* place = input.as<TrackPlace>(); place && kind == Thing::piece)
            name = &place->piece;
        if (!name || *name != from)
            continue;
        *name = to;
        ++count;
    }
    const auto visit = [&](Refers refers, std::string& text) {
        if (auto next = renamed(kind, refers, text, from, to)) {
            text = std::move(*next);
            ++count;
        }
    };
    walkNames(take.expect, visit);
    return count;
}

std::optional<Thing> thingOf(Refers refers)
{
    switch (refers) {
    case Refers::piece:
        return Thing::piece;
    case Refers::group:
        return Thing::group;
    case Refers::tag:
        return Thing::tag;
    case Refers::snare:
        return Thing::snare;
    case Refers::signal:
        return Thing::signal;
    case Refers::source:
        return Thing::source;
    case Refers::form:
        return Thing::form;
    case Refers::routine:
        return Thing::routine;
    case Refers::call:
        return Thing::call;
    case Refers::shape:
        return Thing::shape;
    case Refers::look:
        return Thing::look;
    case Refers::phase:
        return Thing::phase;
    case Refers::value:
        return Thing::value;
    default:
        return std::nullopt;
    }
}

std::size_t countMentions(const Scene& scene, Thing kind, std::string_view name)
{
    Scene copy = scene;
    return rename(copy, kind, name, name);
}

namespace {

/// How often one entry of a scene mentions a thing.
template <class Entry> std::size_t timesIn(Entry entry, Thing kind, std::string_view name)
{
    std::size_t times = 0;
    const auto visit = [&](Refers refers, std::string& text) {
        times += renamed(kind, refers, text, name, name).has_value() ? 1 : 0;
    };
    walkNames(entry, visit);
    return times;
}

std::size_t timesSpawned(const std::vector<Response>& responses, Thing kind, std::string_view name)
{
    return static_cast<std::size_t>(std::ranges::count_if(responses, [&](const Response& response) {
        const auto* spawn = std::get_if<Spawn>(&response.kind);
        return kind == Thing::value && spawn && spawn->set.find(name);
    }));
}

} // namespace

std::vector<Use> usesOf(const Scene& scene, Thing kind, std::string_view name)
{
    std::vector<Use> uses;
    std::string home;
    const auto add = [&](Use::Where where, const std::string& id, std::size_t times) {
        if (times > 0)
            uses.push_back({where, id, times, home});
    };
    const auto addSnares = [&](const auto& snares) {
        for (const Snare& snare : snares)
            add(Use::Where::snare, snare.id, timesIn(snare, kind, name) + timesSpawned(snare.responses, kind, name));
    };
    const auto addShared = [&](const auto& of) {
        for (const auto& [id, form] : of.templates.entries)
            add(Use::Where::form, id, timesIn(form, kind, name));
        for (const auto& [id, assembly] : of.assemblies.entries)
            add(Use::Where::assembly, id, timesIn(assembly, kind, name));
    };
    const auto addRoutines = [&](const auto& of) {
        for (const auto& [id, routine] : of.routines.entries)
            add(Use::Where::routine, id, timesIn(routine, kind, name) + timesSpawned(routine.responses, kind, name));
    };
    addSnares(scene.snares);
    addRoutines(scene);
    for (const Piece& piece : scene.pieces)
        add(Use::Where::piece, piece.id,
            timesIn(piece, kind, name) +
                (kind == Thing::assembly && piece.partOf && piece.partOf->assembly == name ? 1 : 0));
    addShared(scene);
    for (const Source& source : scene.sources)
        add(Use::Where::source, source.id, timesIn(source, kind, name));
    Scene rest = scene;
    rest.snares = {};
    rest.pieces = {};
    rest.routines = {};
    rest.templates = {};
    rest.assemblies = {};
    rest.sources = {};
    add(Use::Where::scene, {}, timesIn(std::move(rest), kind, name));
    if (scene.loaded.list)
        for (const LoadedKit& kit : *scene.loaded.list) {
            home = kit.file;
            addSnares(kit.kit.snares);
            addRoutines(kit.kit);
            addShared(kit.kit);
        }
    return uses;
}

std::optional<std::string> refuseName(const Scene& scene, Thing kind, std::string_view from, std::string_view to)
{
    const bool isWord = kind == Thing::tag || kind == Thing::signal || kind == Thing::call;
    if (to.empty())
        return "a name is needed";
    if (!isWord && !isId(to))
        return "letters, digits, - and _ only";
    if (!isWord && isReserved(to))
        return fmt::format("{} stands for something else", to);
    if (from == to)
        return std::nullopt;
    if (const Piece* piece = kind == Thing::piece ? findPiece(scene, from) : nullptr; piece && piece->partOf)
        return fmt::format("{} has its name from the assembly {}", from, piece->partOf->assembly);
    if (kind == Thing::look && (to == "next" || to == "plain"))
        return fmt::format("{} stands for something else", to);
    if (kind == Thing::phase && to == "next")
        return fmt::format("{} stands for something else", to);
    if (kind == Thing::value && (isBuiltInOfPiece(to) || isBuiltInOfScene(to)))
        return fmt::format("{} is a built-in value", to);
    // Two that become one would be mixed up for good.
    const bool isThere = std::ranges::any_of(scene.pieces, [&](const Piece& piece) { return isAt(piece, kind, to); }) ||
                         std::ranges::any_of(scene.templates.entries,
                                             [&](const auto& entry) { return isAt(entry.second.model, kind, to); }) ||
                         (kind == Thing::value && scene.variables.find(to)) ||
                         (kind == Thing::phase && std::ranges::find(scene.phases, to) != scene.phases.end());
    if (isThere)
        return fmt::format("{} is there already", to);
    const bool taken =
        (kind == Thing::snare && findSnare(scene, to)) || (kind == Thing::routine && findRoutine(scene, to)) ||
        ((kind == Thing::form || kind == Thing::assembly) && (findTemplate(scene, to) || findAssembly(scene, to))) ||
        ((kind == Thing::piece || kind == Thing::source || kind == Thing::laid) &&
         (findPiece(scene, to) || findSource(scene, to) ||
          std::ranges::find(scene.laid, to, &Laid::id) != scene.laid.end()));
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
