// SPDX-License-Identifier: Apache-2.0
#include "app/model/scene_keys.h"

#include <QObject>

#include <algorithm>

namespace snare::app {

std::vector<std::string> keysOf(const scene::Scene& scene)
{
    std::vector<std::string> keys;
    const auto add = [&](const std::vector<std::string>& more) {
        for (const std::string& key : more)
            if (!key.empty() && key != "any" && std::ranges::find(keys, key) == keys.end())
                keys.push_back(key);
    };
    for (const scene::Piece& piece : scene.pieces)
        if (const auto* walker = std::get_if<scene::WalkerBody>(&piece.body)) {
            const scene::KeyLists lists = scene::keysOf(walker->steer);
            for (const auto* list : {&lists.left, &lists.right, &lists.up, &lists.down, &lists.jump})
                add(*list);
        }
    for (const scene::Source& source : scene.sources)
        if (const auto* set = std::get_if<scene::KeySource>(&source.kind))
            add(set->keys);
    for (const scene::Snare& snare : scene.snares)
        add({snare.catches.key});
    return keys;
}

bool usesEscape(const scene::Scene& scene)
{
    const std::vector<std::string> keys = keysOf(scene);
    return std::ranges::find(keys, "Escape") != keys.end();
}

QString stopKeyLabel(const scene::Scene& scene)
{
    return usesEscape(scene) ? QObject::tr("Shift+Esc") : QObject::tr("Esc");
}

} // namespace snare::app
