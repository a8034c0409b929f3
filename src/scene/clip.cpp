// SPDX-License-Identifier: Apache-2.0
#include "scene/clip.h"

#include "scene/assemblies.h"
#include "scene/kits.h"
#include "scene/mentions.h"
#include "scene/templates.h"

namespace snare::scene {

Scene clipOf(const Scene& scene, const std::vector<std::string>& pieces)
{
    Scene clip;
    clip.name = "clip";
    const std::vector<std::string> wholes = wholesAmong(scene, pieces);
    const auto isOfWhole = [&](const Piece& piece) {
        return piece.partOf && std::ranges::find(wholes, piece.partOf->laid) != wholes.end();
    };
    for (const std::string& whole : wholes) {
        clip.laid.push_back(*findLaid(scene, whole));
        if (const Assembly* assembly = findAssembly(scene, clip.laid.back().assembly))
            clip.assemblies.set(clip.laid.back().assembly, *assembly);
    }
    for (const Piece& piece : scene.pieces) {
        if (std::ranges::find(pieces, piece.id) == pieces.end())
            continue;
        clip.pieces.push_back(piece);
        if (piece.partOf && !isOfWhole(piece)) { // alone it is a plain piece
            Piece& plain = clip.pieces.back();
            plain.id = piece.partOf->laid + "-" + piece.partOf->part;
            plain.partOf.reset();
        }
        if (const Template* form = templateOf(scene, piece))
            clip.templates.set(piece.templateName, *form);
    }
    for (const Snare& snare : scene.snares)
        if (findPiece(clip, splitShape(snare.catches.at).first))
            clip.snares.push_back(snare);
    return clip;
}

namespace {

/// A name like `stem` that neither the scene nor the clip has.
std::string freeInBoth(const Scene& scene, const Scene& clip, const std::string& stem)
{
    std::string free = freeCopyId(scene, stem);
    while (freeId(clip, free) != free || freeId(scene, free) != free)
        free = freeCopyId(scene, freeCopyId(clip, free));
    return free;
}

/// Gives everything in the clip a name that the scene has not. What mentions it in the clip
/// follows.
void makeNamesFree(const Scene& scene, Scene& clip)
{
    // An assembly that the scene has already is the same one; another one of that name comes under
    // another.
    for (std::size_t i = 0; i < clip.assemblies.entries.size(); ++i) {
        const std::string old = clip.assemblies.entries[i].first;
        const Assembly form = clip.assemblies.entries[i].second;
        std::string free = old;
        const auto taken = [&] {
            const Assembly* there = findAssembly(scene, free);
            return (there && !(*there == form)) || findTemplate(scene, free);
        };
        for (int n = 2; taken(); ++n)
            free = old + "-" + std::to_string(n);
        if (free != old)
            rename(clip, Thing::assembly, old, free);
    }
    for (std::size_t i = 0; i < clip.laid.size(); ++i)
        if (const std::string old = clip.laid[i].id; freeId(scene, old) != old)
            rename(clip, Thing::laid, old, freeInBoth(scene, clip, old));
    for (std::size_t i = 0; i < clip.pieces.size(); ++i)
        if (const std::string old = clip.pieces[i].id; !clip.pieces[i].partOf && freeId(scene, old) != old)
            rename(clip, Thing::piece, old, freeInBoth(scene, clip, old));
    for (std::size_t i = 0; i < clip.snares.size(); ++i)
        if (const std::string old = clip.snares[i].id; freeId(scene, old) != old)
            rename(clip, Thing::snare, old, freeInBoth(scene, clip, old));
    // A template that the scene has already is the same one; another one of that name comes under
    // another.
    for (std::size_t i = 0; i < clip.templates.entries.size(); ++i) {
        const std::string old = clip.templates.entries[i].first;
        const Template form = clip.templates.entries[i].second;
        std::string free = old;
        const auto taken = [&] {
            const Template* there = findTemplate(scene, free);
            return there && !(*there == form);
        };
        for (int n = 2; taken(); ++n)
            free = old + "-" + std::to_string(n);
        if (free != old)
            rename(clip, Thing::form, old, free);
    }
}

/// Pieces of a template that only the scene has follow it from now on; what they have of their own
/// stays.
void takeTemplates(const Scene& scene, Scene& clip)
{
    for (Piece& piece : clip.pieces) {
        const Template* form = templateOf(scene, piece);
        if (!form || templateOf(clip, piece))
            continue;
        Scene alone;
        alone.templates.set(piece.templateName, Template{});
        alone.pieces.push_back(piece);
        changeTemplate(alone, piece.templateName, form->model);
        piece = std::as_const(alone.pieces)[0];
    }
}

} // namespace

std::vector<std::string> paste(Scene& scene, Scene clip, const Vec& by, bool withSnares)
{
    if (!withSnares)
        clip.snares.clear();
    makeNamesFree(scene, clip);
    takeTemplates(scene, clip);
    for (const auto& [name, form] : clip.templates.entries)
        if (!findTemplate(scene, name)) // one that is there, or in a kit, is the same
            scene.templates.set(name, form);
    for (const auto& [name, assembly] : clip.assemblies.entries)
        if (!findAssembly(scene, name))
            scene.assemblies.set(name, assembly);
    for (const Laid& laid : std::vector<Laid>(clip.laid)) {
        moveLaid(clip, laid.id, laid.at + by, laid.turn);
        scene.laid.push_back(*findLaid(clip, laid.id));
    }
    std::vector<std::string> made;
    for (Piece& piece : clip.pieces) {
        if (!piece.partOf)
            piece.at += by;
        made.push_back(piece.id);
        scene.pieces.push_back(std::move(piece));
    }
    scene.snares.append(clip.snares);
    return made;
}

Snare copiedTo(const Scene& scene, const Snare& snare, const std::string& piece)
{
    Scene alone;
    alone.snares.push_back(snare);
    Piece stand;
    stand.id = std::string(splitShape(snare.catches.at).first);
    alone.pieces.push_back(stand);
    rename(alone, Thing::piece, stand.id, piece);
    Snare copy = alone.snares.front();
    copy.catches.at = piece; // it may have caught at a selector, or at the scene
    const Piece* target = findPiece(scene, piece);
    if (target && !copy.catches.shape.empty() && !findShape(*target, copy.catches.shape))
        copy.catches.shape.clear();
    copy.id = freeId(scene, snare.id);
    return copy;
}

} // namespace snare::scene
