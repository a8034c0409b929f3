// SPDX-License-Identifier: Apache-2.0
#include "app/model/kit_files.h"

#include "scene/kits.h"

#include <algorithm>

namespace snare::app {

QString KitFiles::pathOf(const std::string& name) const
{
    return QString::fromStdString((folder_ / name).string());
}

void KitFiles::know(const std::string& name, const scene::LoadedKit& loaded)
{
    Known& known = known_[name];
    known.isThere = std::filesystem::exists(folder_ / name);
    known.problem = loaded.problem;
    known.kit = loaded.kit;
    files_.remember(pathOf(name));
}

int KitFiles::readingOf(const std::string& name) const
{
    const auto found = known_.find(name);
    return found == known_.end() ? 0 : found->second.reading;
}

void KitFiles::begin(const std::filesystem::path& folder, const scene::Scene& scene)
{
    folder_ = folder;
    known_.clear();
    files_.clear();
    if (scene.loaded.list)
        for (const scene::LoadedKit& kit : *scene.loaded.list)
            know(kit.file, kit);
}

io::KitFinder KitFiles::finderFor(const scene::Scene& scene)
{
    return [this, list = scene.loaded.list](const std::string& name) {
        if (list)
            for (const scene::LoadedKit& kit : *list)
                if (kit.file == name && kit.reading == readingOf(name))
                    return kit;
        scene::LoadedKit loaded = io::kitsIn(folder_)(name);
        know(name, loaded);
        loaded.reading = readingOf(name);
        return loaded;
    };
}

bool KitFiles::isStale(const scene::Scene& scene) const
{
    static const std::vector<scene::LoadedKit> none;
    const auto& loaded = scene.loaded.list ? *scene.loaded.list : none;
    return !std::ranges::equal(loaded, scene.kits, {}, &scene::LoadedKit::file) ||
           std::ranges::any_of(loaded, [&](const scene::LoadedKit& kit) { return kit.reading != readingOf(kit.file); });
}

std::vector<std::string> KitFiles::edited(const scene::Scene& scene) const
{
    std::vector<std::string> names;
    if (!scene.loaded.list)
        return names;
    for (const scene::LoadedKit& kit : *scene.loaded.list) {
        const auto known = known_.find(kit.file);
        const bool isAsRead = known != known_.end() && known->second.isThere && known->second.kit == kit.kit;
        if (kit.problem.empty() && !isAsRead)
            names.push_back(kit.file);
    }
    return names;
}

KitFiles::News KitFiles::lookAgain(const scene::Scene& scene)
{
    News news;
    const std::vector<std::string> ours = edited(scene);
    for (const std::string& name : scene.kits) {
        const scene::LoadedKit now = io::kitsIn(folder_)(name);
        const auto known = known_.find(name);
        if (known != known_.end() && known->second.problem == now.problem && known->second.kit == now.kit)
            continue;
        if (std::ranges::find(ours, name) != ours.end()) {
            news.both.push_back(name); // its file is not remembered: saving asks
            Known& entry = known_[name];
            entry.problem = now.problem;
            entry.kit = now.kit;
            continue;
        }
        know(name, now);
        ++known_[name].reading;
        news.changed = true;
    }
    return news;
}

bool KitFiles::isForeign(const std::filesystem::path& file) const
{
    return files_.isForeign(QString::fromStdString(file.string()));
}

void KitFiles::wasWritten(const std::string& name, const scene::Kit& kit)
{
    Known& known = known_[name];
    known.isThere = true;
    known.problem.clear();
    known.kit = kit;
    files_.remember(pathOf(name));
}

} // namespace snare::app
