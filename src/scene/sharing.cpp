// SPDX-License-Identifier: Apache-2.0
#include "scene/sharing.h"

#include "scene/assemblies.h"
#include "scene/templates.h"

#include <fmt/format.h>

namespace snare::scene {

namespace {

/// The lists of a scene or of a kit.
template <class Home>
void putInto(Home& home, const Scene& scene, Thing kind, const std::string& name, const std::string& from)
{
    if (kind == Thing::snare)
        home.snares.push_back(*snareIn(scene, from, name));
    else if (kind == Thing::routine)
        home.routines.set(name, *routineIn(scene, from, name));
    else if (kind == Thing::form)
        home.templates.set(name, *templateIn(scene, from, name));
    else if (kind == Thing::assembly)
        home.assemblies.set(name, *assemblyIn(scene, from, name));
}

template <class Home> void takeOutOf(Home& home, Thing kind, const std::string& name)
{
    const auto isIt = [&](const auto& entry) { return entry.first == name; };
    const auto isSnare = [&](const Snare& snare) { return snare.id == name; };
    if (kind == Thing::snare)
        erase_if(home.snares, isSnare);
    else if (kind == Thing::routine)
        erase_if(home.routines.entries, isIt);
    else if (kind == Thing::form)
        erase_if(home.templates.entries, isIt);
    else if (kind == Thing::assembly)
        erase_if(home.assemblies.entries, isIt);
}

void takeOut(Scene& scene, Thing kind, const std::string& home, const std::string& name)
{
    if (home.empty())
        takeOutOf(scene, kind, name);
    else if (Kit* kit = kitToChange(scene, home))
        takeOutOf(*kit, kind, name);
}

} // namespace

std::optional<std::string> moveShared(Scene& scene, Thing kind, const std::string& name, const std::string& from,
                                      const std::string& to, bool copy)
{
    if (from == to || !isKeptIn(scene, kind, from, name))
        return fmt::format("there is no {} {} to move", wordOf(kind), name);
    if (isKeptIn(scene, kind, to, name))
        return fmt::format("{} has a {} {} already", to.empty() ? "the scene" : to, wordOf(kind), name);
    if (!to.empty()) {
        addKit(scene, to);
        if (const LoadedKit* kit = findKit(scene, to); !kit->problem.empty())
            return kit->problem;
    }
    const Scene before = scene;
    if (to.empty())
        putInto(scene, before, kind, name, from);
    else
        putInto(*kitToChange(scene, to), before, kind, name, from);
    if (!copy)
        takeOut(scene, kind, from, name);
    return std::nullopt;
}

void removeShared(Scene& scene, Thing kind, const std::string& home, const std::string& name)
{
    const bool isMeant = homeOf(scene, kind, name) == home;
    Scene without = scene;
    takeOut(without, kind, home, name);
    if (isMeant && !homeOf(without, kind, name)) {
        if (kind == Thing::form)
            for (const std::string& id : followersOf(scene, name))
                findPiece(scene, id)->templateName.clear();
        if (kind == Thing::assembly) {
            std::vector<std::string> laid;
            for (const Laid& one : scene.laid)
                if (one.assembly == name)
                    laid.push_back(one.id);
            for (const std::string& one : laid)
                dissolve(scene, one);
        }
    }
    takeOut(scene, kind, home, name);
}

} // namespace snare::scene
