// SPDX-License-Identifier: Apache-2.0
#include "scene/kits.h"

namespace snare::scene {

namespace {

/// The list of named things of one kind in a scene or a kit.
template <class Held, class Home> auto& listIn(Home& home)
{
    if constexpr (std::is_same_v<Held, Routine>)
        return home.routines;
    else if constexpr (std::is_same_v<Held, Template>)
        return home.templates;
    else
        return home.assemblies;
}

template <class Held> const Held* heldIn(const Scene& scene, std::string_view home, std::string_view name)
{
    if (home.empty())
        return listIn<Held>(scene).find(name);
    const LoadedKit* kit = findKit(scene, home);
    return kit ? listIn<Held>(kit->kit).find(name) : nullptr;
}

template <class Held> Held* heldToChange(Scene& scene, std::string_view home, std::string_view name)
{
    if (home.empty())
        return listIn<Held>(scene).find(name);
    Kit* kit = kitToChange(scene, home);
    return kit ? listIn<Held>(*kit).find(name) : nullptr;
}

template <class Held> const Held* foundIn(const Scene& scene, std::string_view name)
{
    if (const Held* own = listIn<Held>(scene).find(name))
        return own;
    if (scene.loaded.list)
        for (const LoadedKit& kit : *scene.loaded.list)
            if (const Held* found = listIn<Held>(kit.kit).find(name))
                return found;
    return nullptr;
}

/// Calls `use` with the type of a named thing of that kind. Nothing for snares.
template <class Use> void withHeld(Thing kind, Use&& use)
{
    if (kind == Thing::routine)
        use(static_cast<const Routine*>(nullptr));
    else if (kind == Thing::form)
        use(static_cast<const Template*>(nullptr));
    else if (kind == Thing::assembly)
        use(static_cast<const Assembly*>(nullptr));
}

template <class Held> using Plain = std::remove_const_t<std::remove_pointer_t<Held>>;

} // namespace

const LoadedKit* findKit(const Scene& scene, std::string_view file)
{
    if (!scene.loaded.list)
        return nullptr;
    const auto found = std::ranges::find(*scene.loaded.list, file, &LoadedKit::file);
    return found == scene.loaded.list->end() ? nullptr : &*found;
}

Kit* kitToChange(Scene& scene, std::string_view file)
{
    const LoadedKit* kit = findKit(scene, file);
    if (!kit || !kit->problem.empty())
        return nullptr;
    auto own = std::make_shared<std::vector<LoadedKit>>(*scene.loaded.list);
    const auto found = std::ranges::find(*own, file, &LoadedKit::file);
    scene.loaded.list = own;
    return &found->kit;
}

void addKit(Scene& scene, const std::string& file)
{
    if (std::ranges::find(scene.kits, file) == scene.kits.end())
        scene.kits.push_back(file);
    if (findKit(scene, file))
        return;
    auto own = scene.loaded.list ? std::make_shared<std::vector<LoadedKit>>(*scene.loaded.list)
                                 : std::make_shared<std::vector<LoadedKit>>();
    own->push_back({file, {}, {}, 0});
    scene.loaded.list = std::move(own);
}

bool isKeptIn(const Scene& scene, Thing kind, std::string_view home, std::string_view name)
{
    if (kind == Thing::snare)
        return snareIn(scene, home, name) != nullptr;
    bool found = false;
    withHeld(kind, [&](auto* held) { found = heldIn<Plain<decltype(held)>>(scene, home, name) != nullptr; });
    return found;
}

std::optional<std::string> homeOf(const Scene& scene, Thing kind, std::string_view name)
{
    if (isKeptIn(scene, kind, {}, name))
        return std::string();
    if (scene.loaded.list)
        for (const LoadedKit& kit : *scene.loaded.list)
            if (isKeptIn(scene, kind, kit.file, name))
                return kit.file;
    return std::nullopt;
}

std::vector<std::string> keptIn(const Scene& scene, Thing kind, std::string_view home)
{
    std::vector<std::string> names;
    const LoadedKit* kit = home.empty() ? nullptr : findKit(scene, home);
    if (!home.empty() && !kit)
        return names;
    if (kind == Thing::snare) {
        if (kit)
            for (const Snare& snare : kit->kit.snares)
                names.push_back(snare.id);
        else
            for (const Snare& snare : scene.snares)
                names.push_back(snare.id);
        return names;
    }
    withHeld(kind, [&](auto* held) {
        using Held = Plain<decltype(held)>;
        for (const auto& entry : (kit ? listIn<Held>(kit->kit) : listIn<Held>(scene)).entries)
            names.push_back(entry.first);
    });
    return names;
}

std::vector<std::string> allShared(const Scene& scene, Thing kind)
{
    std::vector<std::string> names = keptIn(scene, kind, {});
    if (scene.loaded.list)
        for (const LoadedKit& kit : *scene.loaded.list)
            for (std::string& name : keptIn(scene, kind, kit.file))
                if (std::ranges::find(names, name) == names.end())
                    names.push_back(std::move(name));
    return names;
}

const Routine* findRoutine(const Scene& scene, std::string_view name)
{
    return foundIn<Routine>(scene, name);
}

const Template* findTemplate(const Scene& scene, std::string_view name)
{
    return foundIn<Template>(scene, name);
}

const Assembly* findAssembly(const Scene& scene, std::string_view name)
{
    return foundIn<Assembly>(scene, name);
}

const Routine* routineIn(const Scene& scene, std::string_view home, std::string_view name)
{
    return heldIn<Routine>(scene, home, name);
}

Routine* routineToChange(Scene& scene, std::string_view home, std::string_view name)
{
    return heldToChange<Routine>(scene, home, name);
}

const Template* templateIn(const Scene& scene, std::string_view home, std::string_view name)
{
    return heldIn<Template>(scene, home, name);
}

Template* templateToChange(Scene& scene, std::string_view home, std::string_view name)
{
    return heldToChange<Template>(scene, home, name);
}

const Assembly* assemblyIn(const Scene& scene, std::string_view home, std::string_view name)
{
    return heldIn<Assembly>(scene, home, name);
}

Assembly* assemblyToChange(Scene& scene, std::string_view home, std::string_view name)
{
    return heldToChange<Assembly>(scene, home, name);
}

const Snare* snareIn(const Scene& scene, std::string_view home, std::string_view name)
{
    if (home.empty())
        return findSnare(scene, name);
    const LoadedKit* kit = findKit(scene, home);
    if (!kit)
        return nullptr;
    const auto found = std::ranges::find(kit->kit.snares, name, &Snare::id);
    return found == kit->kit.snares.end() ? nullptr : &*found;
}

Snare* snareToChange(Scene& scene, std::string_view home, std::string_view name)
{
    if (home.empty())
        return findSnare(scene, name);
    Kit* kit = kitToChange(scene, home);
    if (!kit)
        return nullptr;
    const auto found = std::ranges::find(kit->snares, name, &Snare::id);
    return found == kit->snares.end() ? nullptr : &*found;
}

} // namespace snare::scene
