// SPDX-License-Identifier: Apache-2.0
#include "app/clip.h"

#include "scene/mentions.h"
#include "scene/templates.h"

namespace snare::app {

scene::Scene clipOf(const scene::Scene& scene, const std::vector<std::string>& pieces)
{
    scene::Scene clip;
    clip.name = "clip";
    for (const scene::Piece& piece : scene.pieces) {
        if (std::ranges::find(pieces, piece.id) == pieces.end())
            continue;
        clip.pieces.push_back(piece);
        if (const scene::Template* form = scene::templateOf(scene, piece))
            clip.templates.set(piece.templateName, *form);
    }
    for (const scene::Snare& snare : scene.snares)
        if (scene::findPiece(clip, scene::splitShape(snare.catches.at).first))
            clip.snares.push_back(snare);
    return clip;
}

namespace {

/// A name like `stem` that neither the scene nor the clip has.
std::string freeInBoth(const scene::Scene& scene, const scene::Scene& clip, const std::string& stem)
{
    std::string free = scene::freeId(scene, stem);
    for (int n = 2; scene::freeId(clip, free) != free || scene::freeId(scene, free) != free; ++n)
        free = stem + "-" + std::to_string(n);
    return free;
}

/// Gives everything in the clip a name that the scene has not. What mentions it in the clip follows.
void makeNamesFree(const scene::Scene& scene, scene::Scene& clip)
{
    for (std::size_t i = 0; i < clip.pieces.size(); ++i)
        if (const std::string old = clip.pieces[i].id; scene::freeId(scene, old) != old)
            scene::rename(clip, scene::Thing::piece, old, freeInBoth(scene, clip, old));
    for (std::size_t i = 0; i < clip.snares.size(); ++i)
        if (const std::string old = clip.snares[i].id; scene::freeId(scene, old) != old)
            scene::rename(clip, scene::Thing::snare, old, freeInBoth(scene, clip, old));
    // A template that the scene has already is the same one; another one of that name comes under another.
    for (std::size_t i = 0; i < clip.templates.entries.size(); ++i) {
        const auto [old, form] = clip.templates.entries[i];
        std::string free = old;
        const auto taken = [&] {
            const scene::Template* there = scene::findTemplate(scene, free);
            return there && !(*there == form);
        };
        for (int n = 2; taken(); ++n)
            free = old + "-" + std::to_string(n);
        if (free != old)
            scene::rename(clip, scene::Thing::form, old, free);
    }
}

} // namespace

std::vector<std::string> paste(scene::Scene& scene, scene::Scene clip, const scene::Vec& by, bool withSnares)
{
    if (!withSnares)
        clip.snares.clear();
    makeNamesFree(scene, clip);
    for (const auto& [name, form] : clip.templates.entries)
        if (!scene::findTemplate(scene, name)) // one that is there, or in a kit, is the same
            scene.templates.set(name, form);
    std::vector<std::string> made;
    for (scene::Piece& piece : clip.pieces) {
        piece.at += by;
        made.push_back(piece.id);
        scene.pieces.push_back(std::move(piece));
    }
    std::ranges::move(clip.snares, std::back_inserter(scene.snares));
    return made;
}

scene::Snare copiedTo(const scene::Scene& scene, const scene::Snare& snare, const std::string& piece)
{
    scene::Scene alone;
    alone.snares.push_back(snare);
    scene::Piece stand;
    stand.id = std::string(scene::splitShape(snare.catches.at).first);
    alone.pieces.push_back(stand);
    scene::rename(alone, scene::Thing::piece, stand.id, piece);
    scene::Snare copy = alone.snares.front();
    copy.catches.at = piece; // it may have caught at a selector, or at the scene
    const scene::Piece* target = scene::findPiece(scene, piece);
    if (target && !copy.catches.shape.empty() && !scene::findShape(*target, copy.catches.shape))
        copy.catches.shape.clear();
    copy.id = scene::freeId(scene, snare.id);
    return copy;
}

} // namespace snare::app
