// SPDX-License-Identifier: Apache-2.0
/// Kits: what scenes share, where it is kept, and changing it.
///
/// What is shared has a home: the scene itself, said by an empty text, or the file of a kit, as the
/// scene names it. The scene's own stands in for what a kit has under the same name; of two kits
/// the first counts.
#pragma once

#include "scene/scene.h"
#include "scene/thing.h"

namespace snare::scene {

/// The kit of that file as it is loaded for the scene, or null.
const LoadedKit* findKit(const Scene& scene, std::string_view file);

/// The same to be changed: whoever shares it keeps his. Null if it is not loaded or could not be
/// read.
Kit* kitToChange(Scene& scene, std::string_view file);

/// Names a kit that does not exist yet, or is not named yet; it is empty until it is read.
void addKit(Scene& scene, const std::string& file);

/// The kinds of things that a kit can hold: routines, templates, assemblies, snares.
inline constexpr std::array shareable{Thing::form, Thing::assembly, Thing::routine, Thing::snare};

/// Where that of this kind is kept which the scene means by the name; nothing if there is none.
std::optional<std::string> homeOf(const Scene& scene, Thing kind, std::string_view name);

/// The names of one kind in one home, in its order.
std::vector<std::string> keptIn(const Scene& scene, Thing kind, std::string_view home);

/// Whether a home has something of that name.
bool isKeptIn(const Scene& scene, Thing kind, std::string_view home, std::string_view name);

/// What a home has under a name, to be read or changed. Null if it has none.
const Routine* routineIn(const Scene& scene, std::string_view home, std::string_view name);
Routine* routineToChange(Scene& scene, std::string_view home, std::string_view name);
const Snare* snareIn(const Scene& scene, std::string_view home, std::string_view name);
Snare* snareToChange(Scene& scene, std::string_view home, std::string_view name);
const Template* templateIn(const Scene& scene, std::string_view home, std::string_view name);
Template* templateToChange(Scene& scene, std::string_view home, std::string_view name);
const Assembly* assemblyIn(const Scene& scene, std::string_view home, std::string_view name);
Assembly* assemblyToChange(Scene& scene, std::string_view home, std::string_view name);

/// What the scene means by a name: its own, or that of the first of its kits that has one; else
/// null.
const Routine* findRoutine(const Scene& scene, std::string_view name);
const Template* findTemplate(const Scene& scene, std::string_view name);
const Assembly* findAssembly(const Scene& scene, std::string_view name);

/// The names of all things of one kind that the scene can use, its own first, each once.
std::vector<std::string> allShared(const Scene& scene, Thing kind);

} // namespace snare::scene
