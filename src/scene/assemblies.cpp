// SPDX-License-Identifier: Apache-2.0
#include "scene/assemblies.h"

#include "geometry/pose.h"
#include "scene/kits.h"
#include "scene/mentions.h"
#include "scene/templates.h"
#include "scene/walk.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::scene {

namespace {

constexpr std::string_view partPrefix = "part:";

geometry::Pose poseOf(const Laid& laid)
{
    return {laid.at, laid.turn};
}

Vec* velocityOf(Body& body)
{
    if (auto* kinematic = std::get_if<KinematicBody>(&body))
        return &kinematic->velocity;
    auto* dynamic = std::get_if<DynamicBody>(&body);
    return dynamic ? &dynamic->velocity : nullptr;
}

std::vector<Vec>* routeOf(Body& body)
{
    auto* kinematic = std::get_if<KinematicBody>(&body);
    return kinematic && kinematic->route ? &kinematic->route->points : nullptr;
}

bool isPart(const Assembly& assembly, std::string_view name)
{
    return std::ranges::find(assembly.pieces, name, &Piece::id) != assembly.pieces.end();
}

/// To a thousandth of a micrometre: what was turned there and back is where it was.
Vec rounded(const Vec& at)
{
    constexpr double steps = 1e9;
    return {std::round(at.x * steps) / steps, std::round(at.y * steps) / steps};
}

/// Changes every mention in a snare for which `next` gives another text.
void changeMentions(Snare& snare, const std::function<std::optional<std::string>(Refers, const std::string&)>& next)
{
    const auto visit = [&](Refers refers, std::string& text) {
        if (std::optional<std::string> changed = next(refers, text))
            text = std::move(*changed);
    };
    walkNames(snare, visit);
}

bool isPlace(Refers refers)
{
    return refers == Refers::target || refers == Refers::place || refers == Refers::piece;
}

} // namespace

const Laid* findLaid(const Scene& scene, std::string_view id)
{
    const auto found = std::ranges::find(scene.laid, id, &Laid::id);
    return found == scene.laid.end() ? nullptr : &*found;
}

Piece placed(const Assembly& assembly, const Piece& part, const Laid& laid)
{
    Piece piece = part;
    const geometry::Pose pose = poseOf(laid);
    const geometry::Rotation turn = geometry::rotationOf(laid.turn);
    piece.id = fmt::format("{}.{}", laid.id, part.id);
    piece.partOf = PartOf{laid.assembly, laid.id, part.id};
    piece.at = geometry::toScene(pose, part.at);
    piece.turn = part.turn + laid.turn;
    if (Vec* velocity = velocityOf(piece.body))
        *velocity = turn.apply(*velocity);
    if (std::vector<Vec>* route = routeOf(piece.body))
        for (Vec& point : *route)
            point = geometry::toScene(pose, point);
    for (auto& [name, value] : piece.properties.entries)
        if (auto* text = std::get_if<std::string>(&value); text && isPart(assembly, *text))
            *text = fmt::format("{}.{}", laid.id, *text);
    return piece;
}

Piece unplaced(const Assembly& assembly, const Piece& model, const Piece& piece, const Laid& laid)
{
    Piece part = piece;
    Piece base = placed(assembly, model, laid);
    Piece old = model;
    const geometry::Pose pose = poseOf(laid);
    const geometry::Rotation turn = geometry::rotationOf(laid.turn);
    part.id = model.id;
    part.partOf.reset();
    part.at = piece.at == base.at ? model.at : rounded(geometry::toLocal(pose, piece.at));
    part.turn = piece.turn == base.turn ? model.turn : piece.turn - laid.turn;
    const auto isAsPlaced = [](const auto* mine, const auto* its) { return mine && its && *mine == *its; };
    if (Vec* velocity = velocityOf(part.body))
        *velocity = isAsPlaced(velocity, velocityOf(base.body)) ? *velocityOf(old.body) : rounded(turn.undo(*velocity));
    if (std::vector<Vec>* route = routeOf(part.body)) {
        if (isAsPlaced(route, routeOf(base.body)))
            *route = *routeOf(old.body);
        else
            for (Vec& point : *route)
                point = rounded(geometry::toLocal(pose, point));
    }
    const std::string prefix = laid.id + ".";
    for (auto& [name, value] : part.properties.entries)
        if (auto* text = std::get_if<std::string>(&value);
            text && text->starts_with(prefix) && isPart(assembly, std::string_view(*text).substr(prefix.size())))
            text->erase(0, prefix.size());
    return part;
}

void lay(Scene& scene, const Laid& laid)
{
    const Assembly* assembly = findAssembly(scene, laid.assembly);
    if (!assembly)
        return;
    scene.laid.push_back(laid);
    const Assembly copy = *assembly; // the scene changes
    for (const Piece& part : copy.pieces)
        scene.pieces.push_back(placed(copy, part, laid));
}

std::vector<std::size_t> partsOf(const Scene& scene, std::string_view laid)
{
    std::vector<std::size_t> parts;
    for (std::size_t i = 0; i < scene.pieces.size(); ++i)
        if (const Piece& piece = scene.pieces[i]; piece.partOf && piece.partOf->laid == laid)
            parts.push_back(i);
    return parts;
}

void moveLaid(Scene& scene, std::string_view id, const Vec& at, double turn)
{
    const auto found = std::ranges::find(scene.laid, id, &Laid::id);
    const Assembly* assembly = found == scene.laid.end() ? nullptr : findAssembly(scene, found->assembly);
    if (!assembly)
        return;
    Laid next = *found;
    next.at = at;
    next.turn = turn;
    const Laid before = *found;
    for (const std::size_t i : partsOf(scene, id)) {
        const Piece piece = std::as_const(scene.pieces)[i];
        const auto model = std::ranges::find(assembly->pieces, piece.partOf->part, &Piece::id);
        if (model == assembly->pieces.end())
            continue;
        scene.pieces[i] = placed(*assembly, unplaced(*assembly, *model, piece, before), next);
    }
    *found = next;
}

std::string copyLaid(Scene& scene, std::string_view id, const Vec& by)
{
    const Laid* laid = findLaid(scene, id);
    const Assembly* found = laid ? findAssembly(scene, laid->assembly) : nullptr;
    if (!found)
        return {};
    const Assembly assembly = *found;
    const Laid old = *laid;
    Laid copy = old;
    copy.at += by;
    for (int n = 1; copy.id == old.id || freeId(scene, copy.id) != copy.id; ++n)
        copy.id = fmt::format("{}-{}", old.assembly, n);
    for (const std::size_t i : partsOf(scene, old.id)) {
        const Piece piece = std::as_const(scene.pieces)[i];
        const auto model = std::ranges::find(assembly.pieces, piece.partOf->part, &Piece::id);
        if (model != assembly.pieces.end())
            scene.pieces.push_back(placed(assembly, unplaced(assembly, *model, piece, old), copy));
    }
    scene.laid.push_back(copy);
    return copy.id;
}

std::vector<std::string> wholeOf(const Scene& scene, const std::string& id)
{
    const Piece* piece = findPiece(scene, id);
    if (!piece || !piece->partOf)
        return {id};
    std::vector<std::string> whole;
    for (const std::size_t i : partsOf(scene, piece->partOf->laid))
        whole.push_back(scene.pieces[i].id);
    return whole;
}

std::vector<std::string> wholesAmong(const Scene& scene, const std::vector<std::string>& pieces)
{
    std::vector<std::string> wholes;
    for (const Laid& laid : scene.laid) {
        const std::vector<std::size_t> parts = partsOf(scene, laid.id);
        if (!parts.empty() && std::ranges::all_of(parts, [&](std::size_t i) {
                return std::ranges::find(pieces, scene.pieces[i].id) != pieces.end();
            }))
            wholes.push_back(laid.id);
    }
    return wholes;
}

std::vector<std::string> allStamps(const Scene& scene)
{
    std::vector<std::string> names = allShared(scene, Thing::form);
    for (std::string& name : allShared(scene, Thing::assembly))
        if (std::ranges::find(names, name) == names.end())
            names.push_back(std::move(name));
    return names;
}

void removeLaid(Scene& scene, std::string_view id)
{
    const std::string name{id};
    erase_if(scene.pieces, [&](const Piece& piece) { return piece.partOf && piece.partOf->laid == name; });
    std::erase_if(scene.laid, [&](const Laid& one) { return one.id == name; });
}

void dissolve(Scene& scene, std::string_view id)
{
    const std::string name{id};
    const auto laid = std::ranges::find(scene.laid, name, &Laid::id);
    if (laid == scene.laid.end())
        return;
    const std::string assembly = laid->assembly;
    const Assembly* model = findAssembly(scene, assembly);
    const std::vector<Snare> snares = model ? model->snares : std::vector<Snare>{};
    for (const std::size_t i : partsOf(scene, name)) {
        const PartOf part = *std::as_const(scene.pieces)[i].partOf;
        const std::string before = std::as_const(scene.pieces)[i].id;
        scene.pieces[i].partOf.reset();
        rename(scene, Thing::piece, before, freeId(scene, fmt::format("{}-{}", part.laid, part.part)));
    }
    std::erase_if(scene.laid, [&](const Laid& one) { return one.id == name; });
    // Its pieces go on doing what they did together.
    for (Snare snare : snares) {
        snare.id = freeId(scene, fmt::format("{}-{}", name, snare.id));
        changeMentions(snare, [&](Refers refers, const std::string& text) -> std::optional<std::string> {
            if (!isPlace(refers) || !text.starts_with(partPrefix))
                return std::nullopt;
            const auto [part, shape] = splitShape(std::string_view(text).substr(partPrefix.size()));
            return fmt::format("{}-{}{}{}", name, part, shape.empty() ? "" : "/", shape);
        });
        scene.snares.push_back(std::move(snare));
    }
}

std::string makeAssembly(Scene& scene, const std::vector<std::string>& ids)
{
    Assembly assembly;
    Laid laid;
    geometry::Bounds box;
    for (const Piece& piece : std::as_const(scene.pieces))
        if (!piece.partOf && std::ranges::find(ids, piece.id) != ids.end()) {
            assembly.pieces.push_back(piece);
            box.include(piece.at);
        }
    if (assembly.pieces.empty())
        return {};
    laid.at = {std::round(box.centre().x * 10) / 10, std::round(box.centre().y * 10) / 10};
    const auto isOurs = [&](std::string_view name) {
        const auto [piece, shape] = splitShape(name);
        return name == "self" || name == "visitor" || isPart(assembly, piece);
    };
    // The snares that catch at one of them and name no other piece go along.
    std::vector<std::string> taken;
    for (const Snare& snare : std::as_const(scene.snares)) {
        if (snare.catches.at.empty() || !isPart(assembly, snare.catches.at))
            continue;
        bool within = true;
        Snare copy = snare;
        changeMentions(copy, [&](Refers refers, const std::string& text) -> std::optional<std::string> {
            if (isPlace(refers) && findPiece(scene, splitShape(text).first))
                within = within && isOurs(text);
            return std::nullopt;
        });
        if (!within)
            continue;
        changeMentions(copy, [&](Refers refers, const std::string& text) -> std::optional<std::string> {
            return isPlace(refers) && isPart(assembly, splitShape(text).first)
                       ? std::optional(fmt::format("{}{}", partPrefix, text))
                       : std::nullopt;
        });
        // A path such as `plate.count` means that one piece, not the part of each.
        Scene alone;
        alone.snares.push_back(copy);
        const bool namesOne = std::ranges::any_of(
            assembly.pieces, [&](const Piece& piece) { return countMentions(alone, Thing::piece, piece.id) > 0; });
        if (namesOne)
            continue;
        taken.push_back(snare.id);
        assembly.snares.push_back(std::move(copy));
    }
    std::string name = assembly.pieces.front().id;
    for (int n = 2; findAssembly(scene, name); ++n)
        name = fmt::format("{}-{}", assembly.pieces.front().id, n);
    const auto where = std::ranges::find(std::as_const(scene.pieces), assembly.pieces.front().id, &Piece::id) -
                       std::as_const(scene.pieces).begin();
    for (Piece& piece : assembly.pieces)
        piece.at = rounded(piece.at - laid.at);
    laid.assembly = name;
    erase_if(scene.pieces, [&](const Piece& piece) { return isPart(assembly, piece.id); });
    erase_if(scene.snares, [&](const Snare& snare) { return std::ranges::find(taken, snare.id) != taken.end(); });
    laid.id = freeCopyId(scene, name + "-1");
    scene.assemblies.set(name, assembly);
    // What is left mentions the parts by their new names.
    std::size_t at = std::min(static_cast<std::size_t>(where), scene.pieces.size());
    for (const Piece& part : assembly.pieces) {
        rename(scene, Thing::piece, part.id, fmt::format("{}.{}", laid.id, part.id));
        scene.pieces.insert(std::as_const(scene.pieces).begin() + static_cast<std::ptrdiff_t>(at++),
                            placed(assembly, part, laid));
    }
    scene.laid.push_back(laid);
    return laid.id;
}

namespace {

const Piece* partIn(const Assembly& assembly, std::string_view name)
{
    const auto found = std::ranges::find(assembly.pieces, name, &Piece::id);
    return found == assembly.pieces.end() ? nullptr : &*found;
}

/// What a part that lies in the scene is of; nothing if it is no part, or its assembly is not
/// there.
struct PartModel {
    const Assembly* assembly;
    const Laid* laid;
    const Piece* model;
};

std::optional<PartModel> modelOf(const Scene& scene, const Piece& piece)
{
    const Laid* laid = piece.partOf ? findLaid(scene, piece.partOf->laid) : nullptr;
    const Assembly* assembly = laid ? findAssembly(scene, laid->assembly) : nullptr;
    const Piece* model = assembly ? partIn(*assembly, piece.partOf->part) : nullptr;
    return model ? std::optional(PartModel{assembly, laid, model}) : std::nullopt;
}

} // namespace

void changeAssembly(Scene& scene, const std::string& name, Assembly next)
{
    const auto home = homeOf(scene, Thing::assembly, name);
    if (!home)
        return;
    const Assembly before = *assemblyIn(scene, *home, name);
    // A field of a laid one that was as in the assembly follows; what is its own stays.
    for (std::size_t i = 0; i < scene.pieces.size(); ++i) {
        const Piece piece = std::as_const(scene.pieces)[i];
        if (!piece.partOf || piece.partOf->assembly != name)
            continue;
        const Laid* of = findLaid(scene, piece.partOf->laid);
        const Piece* was = partIn(before, piece.partOf->part);
        const Piece* is = partIn(next, piece.partOf->part);
        if (!of || !was || !is)
            continue;
        Piece part = unplaced(before, *was, piece, *of);
        forEachField<Piece>([&](const auto& field) {
            if (part.*field.member == (*was).*field.member)
                part.*field.member = (*is).*field.member;
        });
        scene.pieces[i] = placed(next, part, *of);
    }
    const std::vector<Laid> laid = scene.laid;
    for (const Laid& one : laid) {
        if (one.assembly != name)
            continue;
        erase_if(scene.pieces, [&](const Piece& piece) {
            return piece.partOf && piece.partOf->laid == one.id && !partIn(next, piece.partOf->part);
        });
        const std::vector<std::size_t> parts = partsOf(scene, one.id);
        std::size_t at = parts.empty() ? scene.pieces.size() : parts.back() + 1;
        for (const Piece& part : next.pieces)
            if (!partIn(before, part.id))
                scene.pieces.insert(std::as_const(scene.pieces).begin() + static_cast<std::ptrdiff_t>(at++),
                                    placed(next, part, one));
    }
    *assemblyToChange(scene, *home, name) = std::move(next);
}

void makeAllLike(Scene& scene, std::string_view id)
{
    const Laid* laid = findLaid(scene, id);
    const Assembly* old = laid ? findAssembly(scene, laid->assembly) : nullptr;
    if (!old)
        return;
    Assembly next = *old;
    for (const std::size_t i : partsOf(scene, id)) {
        const Piece& piece = std::as_const(scene.pieces)[i];
        const auto model = std::ranges::find(next.pieces, piece.partOf->part, &Piece::id);
        if (model != next.pieces.end())
            *model = unplaced(*old, *partIn(*old, model->id), piece, *laid);
    }
    const std::string name = laid->assembly;
    changeAssembly(scene, name, std::move(next));
}

std::vector<std::string> ownOfPart(const Scene& scene, const Piece& piece)
{
    const auto of = modelOf(scene, piece);
    if (!of)
        return {};
    const Piece part = unplaced(*of->assembly, *of->model, piece, *of->laid);
    std::vector<std::string> own;
    // Where it stands is its own too, unlike that of a piece of a template.
    if (!(part.at == of->model->at) || part.z != of->model->z)
        own.emplace_back("at");
    for (std::string& field : ownFields(part, *of->model))
        own.push_back(std::move(field));
    return own;
}

void resetPart(Scene& scene, std::string_view id, std::string_view own)
{
    Piece* piece = findPiece(scene, id);
    const auto of = piece ? modelOf(scene, *piece) : std::nullopt;
    if (!of)
        return;
    Piece part = unplaced(*of->assembly, *of->model, *piece, *of->laid);
    if (own == "at") {
        part.at = of->model->at;
        part.z = of->model->z;
    } else {
        resetOwn(part, *of->model, own);
    }
    *piece = placed(*of->assembly, part, *of->laid);
}

bool addToAssembly(Scene& scene, std::string_view laidId, const std::string& id)
{
    const Laid* found = findLaid(scene, laidId);
    const Assembly* old = found ? findAssembly(scene, found->assembly) : nullptr;
    const Piece* piece = findPiece(std::as_const(scene), id);
    if (!old || !piece || piece->partOf || partIn(*old, id))
        return false;
    const Laid laid = *found;
    Assembly next = *old;
    Piece part = *piece;
    const geometry::Pose pose = poseOf(laid);
    part.at = rounded(geometry::toLocal(pose, part.at));
    part.turn -= laid.turn;
    if (Vec* velocity = velocityOf(part.body))
        *velocity = rounded(geometry::rotationOf(laid.turn).undo(*velocity));
    if (std::vector<Vec>* route = routeOf(part.body))
        for (Vec& point : *route)
            point = rounded(geometry::toLocal(pose, point));
    next.pieces.push_back(std::move(part));
    erase_if(scene.pieces, [&](const Piece& one) { return one.id == id; });
    rename(scene, Thing::piece, id, fmt::format("{}.{}", laid.id, id));
    changeAssembly(scene, laid.assembly, std::move(next));
    return true;
}

void takeOutOfAssembly(Scene& scene, const std::string& name, std::string_view part)
{
    const Assembly* old = findAssembly(scene, name);
    if (!old || old->pieces.size() < 2)
        return;
    Assembly next = *old;
    std::erase_if(next.pieces, [&](const Piece& piece) { return piece.id == part; });
    changeAssembly(scene, name, std::move(next));
}

void renamePart(Scene& scene, const std::string& name, const std::string& from, const std::string& to)
{
    const auto home = homeOf(scene, Thing::assembly, name);
    Assembly* assembly = home ? assemblyToChange(scene, *home, name) : nullptr;
    if (!assembly || !partIn(*assembly, from) || partIn(*assembly, to))
        return;
    for (Piece& part : assembly->pieces) {
        if (part.id == from)
            part.id = to;
        for (auto& entry : part.properties.entries) // they may name each other (A5)
            if (entry.second == Scalar{from})
                entry.second = to;
    }
    for (Snare& snare : assembly->snares)
        changeMentions(snare, [&](Refers refers, const std::string& text) -> std::optional<std::string> {
            if (!isPlace(refers) || !text.starts_with(partPrefix))
                return std::nullopt;
            const auto [part, shape] = splitShape(std::string_view(text).substr(partPrefix.size()));
            return part == from
                       ? std::optional(fmt::format("{}{}{}{}", partPrefix, to, shape.empty() ? "" : "/", shape))
                       : std::nullopt;
        });
    const std::string selector = fmt::format("{}{}.{}", partPrefix, name, from);
    for (std::size_t i = 0; i < scene.snares.size(); ++i) // NOLINT: changed by index
        changeMentions(scene.snares[i], [&](Refers refers, const std::string& text) -> std::optional<std::string> {
            return isPlace(refers) && (text == selector || text.starts_with(selector + '/'))
                       ? std::optional(fmt::format("{}{}.{}{}", partPrefix, name, to,
                                                   std::string_view(text).substr(selector.size())))
                       : std::nullopt;
        });
    for (std::size_t i = 0; i < scene.pieces.size(); ++i) {
        const auto of = std::as_const(scene.pieces)[i].partOf;
        if (!of || of->assembly != name)
            continue;
        const std::string old = fmt::format("{}.{}", of->laid, from);
        const std::string now = fmt::format("{}.{}", of->laid, to);
        for (auto& entry : scene.pieces[i].properties.entries)
            if (entry.second == Scalar{old})
                entry.second = now;
        if (of->part != from)
            continue;
        scene.pieces[i].partOf->part = to;
        rename(scene, Thing::piece, old, now);
    }
}

void renameSnare(Assembly& assembly, const std::string& from, const std::string& to)
{
    for (Snare& snare : assembly.snares) {
        changeMentions(snare, [&](Refers refers, const std::string& text) {
            return refers == Refers::snare && text == from ? std::optional(to) : std::nullopt;
        });
        if (snare.id == from)
            snare.id = to;
    }
}

std::string nameInRun(const Scene& scene, const std::string& assembly, const std::string& snare)
{
    bool taken = homeOf(scene, Thing::snare, snare).has_value();
    for (const std::string& other : allShared(scene, Thing::assembly)) {
        if (taken || other == assembly)
            break;
        const std::vector<Snare>& snares = findAssembly(scene, other)->snares;
        taken = std::ranges::find(snares, snare, &Snare::id) != snares.end();
    }
    return taken ? fmt::format("{}.{}", assembly, snare) : snare;
}

Scene withAssemblies(Scene scene)
{
    const auto bring = [&](const std::string& name, const Assembly& assembly) {
        std::vector<std::pair<std::string, std::string>> called; // as there, and here
        for (const Snare& snare : assembly.snares)
            called.emplace_back(snare.id, findSnare(scene, snare.id) ? fmt::format("{}.{}", name, snare.id) : snare.id);
        for (std::size_t i = 0; i < assembly.snares.size(); ++i) {
            Snare snare = assembly.snares[i];
            snare.id = called[i].second;
            changeMentions(snare, [&](Refers refers, const std::string& text) -> std::optional<std::string> {
                if (isPlace(refers) && text.starts_with(partPrefix) && text.find('.') == std::string::npos)
                    return fmt::format("{}{}.{}", partPrefix, name, std::string_view(text).substr(partPrefix.size()));
                if (refers == Refers::snare)
                    for (const auto& [there, here] : called)
                        if (text == there)
                            return here;
                return std::nullopt;
            });
            scene.snares.push_back(std::move(snare));
        }
    };
    for (const std::string& name : allShared(scene, Thing::assembly))
        bring(name, Assembly{*findAssembly(scene, name)}); // a copy: the scene changes
    return scene;
}

std::optional<std::pair<std::size_t, std::string>> faultOf(const Assembly& assembly)
{
    for (std::size_t i = 0; i < assembly.snares.size(); ++i) {
        const Catch& catches = assembly.snares[i].catches;
        const bool hasPlace = std::ranges::any_of(catches.event.items, [](EventKind kind) {
            return familyOf(kind) == EventFamily::contact || familyOf(kind) == EventFamily::pointer;
        });
        if (hasPlace && catches.at.empty())
            return std::pair{
                i, fmt::format("the snare {} of an assembly needs a place: \"at\": \"part:…\"", assembly.snares[i].id)};
    }
    return std::nullopt;
}

} // namespace snare::scene
