// SPDX-License-Identifier: Apache-2.0
/// Names that are mentioned all over a scene: finding them, and changing them everywhere at once.
///
/// What a text refers to is said by the field tables, so a new response with a target is renamed
/// along with the rest.
#pragma once

#include "scene/scene.h"
#include "scene/take.h"
#include "scene/thing.h"

namespace snare::scene {

/// Gives something another name and changes every mention of it. Returns how many mentions were
/// changed, the thing's own name not counted. Does nothing and returns 0 if there is nothing of
/// that name. A routine, template or assembly of a kit is renamed there, with the mentions in all
/// kits of the scene.
std::size_t rename(Scene& scene, Thing kind, std::string_view from, std::string_view to);

/// Gives a parameter of a routine another name, in the routine and where it is run by the scene and
/// its kits. Returns how many mentions were changed.
std::size_t renameParameter(Scene& scene, const std::string& home, const std::string& routine, const std::string& from,
                            const std::string& to);

/// The same as `rename` in a take: keys of dials and calls.
std::size_t rename(Take& take, Thing kind, std::string_view from, std::string_view to);

/// What a name of this sort names, if it can be renamed.
std::optional<Thing> thingOf(Refers refers);

/// How many mentions `rename` would change.
std::size_t countMentions(const Scene& scene, Thing kind, std::string_view name);

/// An entry of a scene that mentions a thing, and how often. `id` is empty for the scene's own
/// fields.
struct Use {
    enum class Where { scene, piece, form, snare, routine, assembly, source } where = Where::scene;
    std::string id;
    std::size_t times = 0;
    std::string home; ///< the file of the kit that it stands in; empty: the scene (scene/kits.h)

    friend bool operator==(const Use&, const Use&) = default;
};

/// All entries that mention a thing, in the order of the scene: snares, routines, pieces,
/// templates, assemblies, sources, the scene, then those of its kits. The times of all come to what
/// `countMentions` says; for values what `spawn` gives counts too.
std::vector<Use> usesOf(const Scene& scene, Thing kind, std::string_view name);

/// Why `to` cannot be the new name of `from`, or nothing: no id, reserved, taken.
std::optional<std::string> refuseName(const Scene& scene, Thing kind, std::string_view from, std::string_view to);

/// The snares that catch at a piece by its id, tags or group.
std::vector<std::string> snaresListeningAt(const Scene& scene, const Piece& piece);

/// The snares that act on a piece by its id, tags or group from elsewhere.
std::vector<std::string> snaresActingOn(const Scene& scene, const Piece& piece);

/// The snares that arm this one.
std::vector<std::string> armersOf(const Scene& scene, std::string_view snare);

} // namespace snare::scene
