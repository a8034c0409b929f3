// SPDX-License-Identifier: Apache-2.0
#include "app/cards/card_key.h"

#include "scene/assemblies.h"

#include <algorithm>

namespace snare::app {

namespace {

constexpr std::string_view routinePrefix = "routine:";
constexpr std::string_view assemblyPrefix = "assembly:";

template <class Snares> auto* findIn(Snares& snares, const std::string& name)
{
    const auto found = std::ranges::find(snares, name, &scene::Snare::id);
    return found == snares.end() ? nullptr : &*found;
}

} // namespace

std::string CardKey::text() const
{
    const std::string place = home.empty() ? std::string() : home + '>';
    switch (kind) {
    case Kind::routine:
        return place + std::string(routinePrefix) + name;
    case Kind::ofAssembly:
        return place + std::string(assemblyPrefix) + assembly + '/' + name;
    case Kind::snare:
        break;
    }
    return place + name;
}

CardKey keyOf(const std::string& text)
{
    CardKey key;
    const auto mark = text.rfind('>');
    if (mark != std::string::npos)
        key.home = text.substr(0, mark);
    key.name = mark == std::string::npos ? text : text.substr(mark + 1);
    if (key.name.starts_with(routinePrefix)) {
        key.kind = CardKey::Kind::routine;
        key.name.erase(0, routinePrefix.size());
    } else if (key.name.starts_with(assemblyPrefix)) {
        key.kind = CardKey::Kind::ofAssembly;
        const auto slash = key.name.find('/');
        key.assembly = key.name.substr(assemblyPrefix.size(), slash - assemblyPrefix.size());
        key.name.erase(0, slash == std::string::npos ? key.name.size() : slash + 1);
    }
    return key;
}

const scene::Snare* snareOf(const scene::Scene& scene, const CardKey& key)
{
    if (key.kind == CardKey::Kind::snare)
        return scene::snareIn(scene, key.home, key.name);
    const scene::Assembly* assembly =
        key.kind == CardKey::Kind::ofAssembly ? scene::assemblyIn(scene, key.home, key.assembly) : nullptr;
    return assembly ? findIn(assembly->snares, key.name) : nullptr;
}

scene::Snare* snareToChange(scene::Scene& scene, const CardKey& key)
{
    if (key.kind == CardKey::Kind::snare)
        return scene::snareToChange(scene, key.home, key.name);
    scene::Assembly* assembly =
        key.kind == CardKey::Kind::ofAssembly ? scene::assemblyToChange(scene, key.home, key.assembly) : nullptr;
    return assembly ? findIn(assembly->snares, key.name) : nullptr;
}

std::vector<std::string> cardsWithin(const scene::Scene& scene, const std::string& assembly)
{
    std::vector<std::string> cards;
    const auto home = scene::homeOf(scene, scene::Thing::assembly, assembly);
    if (!home)
        return cards;
    for (const scene::Snare& snare : scene::assemblyIn(scene, *home, assembly)->snares)
        cards.push_back(CardKey{*home, CardKey::Kind::ofAssembly, assembly, snare.id}.text());
    return cards;
}

std::string nameInRun(const scene::Scene& scene, const CardKey& key)
{
    return key.kind == CardKey::Kind::ofAssembly ? scene::nameInRun(scene, key.assembly, key.name) : key.name;
}

std::string cardOf(const scene::Scene& scene, const std::string& name)
{
    if (const auto home = scene::homeOf(scene, scene::Thing::snare, name))
        return CardKey{*home, CardKey::Kind::snare, {}, name}.text();
    for (const std::string& assembly : scene::allShared(scene, scene::Thing::assembly))
        for (const std::string& card : cardsWithin(scene, assembly))
            if (nameInRun(scene, keyOf(card)) == name)
                return card;
    return {};
}

std::string cardOfRoutine(const scene::Scene& scene, const std::string& name)
{
    const auto home = scene::homeOf(scene, scene::Thing::routine, name);
    return home ? CardKey{*home, CardKey::Kind::routine, {}, name}.text() : std::string();
}

} // namespace snare::app
