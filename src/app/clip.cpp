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

std::vector<std::string> paste(scene::Scene& scene, scene::Scene clip, const scene::Vec& by, bool withSnares)
{
    // A template of the same name that is another one comes under another name.
    for (const auto& [name, form] : std::vector(clip.templates.entries)) {
        const scene::Template* there = scene.templates.find(name);
        if (there && *there == form)
            continue;
        std::string free = name;
        for (int n = 2; scene.templates.find(free); ++n)
            free = name + "-" + std::to_string(n);
        if (free != name)
            scene::rename(clip, scene::Thing::form, name, free);
        scene.templates.set(free, form);
    }
    if (!withSnares)
        clip.snares.clear();
    std::vector<std::string> made;
    const std::size_t count = clip.pieces.size();
    for (std::size_t i = 0; i < count; ++i) {
        const std::string old = clip.pieces[i].id;
        const std::string free = scene::freeId(scene, old);
        if (free != old) {
            // Out of the way of another piece of the clip that has this name already.
            if (scene::findPiece(clip, free))
                scene::rename(clip, scene::Thing::piece, free, scene::freeId(scene, free + "-b"));
            scene::rename(clip, scene::Thing::piece, old, free);
        }
        scene::Piece piece = clip.pieces[i];
        piece.at += by;
        made.push_back(piece.id);
        scene.pieces.push_back(std::move(piece));
    }
    for (std::size_t i = 0; i < clip.snares.size(); ++i) {
        const std::string old = clip.snares[i].id;
        if (const std::string free = scene::freeId(scene, old); free != old)
            scene::rename(clip, scene::Thing::snare, old, free);
        scene.snares.push_back(clip.snares[i]);
    }
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
    const scene::Piece* target = scene::findPiece(scene, piece);
    if (target && !copy.catches.shape.empty() && !scene::findShape(*target, copy.catches.shape))
        copy.catches.shape.clear();
    copy.id = scene::freeId(scene, snare.id);
    return copy;
}

} // namespace snare::app
