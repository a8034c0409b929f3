// SPDX-License-Identifier: Apache-2.0
/// Laying assemblies: where their parts are, what of a part is its own, and the snares that they
/// bring (A1–A6).
#pragma once

#include "scene/scene.h"

namespace snare::scene {

/// The one that is laid under that name, or null.
const Laid* findLaid(const Scene& scene, std::string_view id);

/// A part as it lies in the scene: `ID.PART`, placed and turned with the whole, its velocity and
/// route too. A property that holds the name of a part holds that of this one's part (A5).
Piece placed(const Assembly& assembly, const Piece& part, const Laid& laid);

/// A part that lies in the scene, about the assembly's origin again; what is as `placed` made it is
/// as in `model`.
Piece unplaced(const Assembly& assembly, const Piece& model, const Piece& piece, const Laid& laid);

/// Lays an assembly that is there; its parts come last among the pieces. The name must be free.
void lay(Scene& scene, const Laid& laid);

/// The pieces of a laid one, by index, in the order of the assembly.
std::vector<std::size_t> partsOf(const Scene& scene, std::string_view laid);

/// Moves and turns a laid one as a whole; what its parts have of their own goes with it. Nothing if
/// it is not there.
void moveLaid(Scene& scene, std::string_view laid, const Vec& at, double turn);

/// Lays a copy of a laid one, with what is its own, `by` metres away. Gives back its name; empty if
/// there is none.
std::string copyLaid(Scene& scene, std::string_view laid, const Vec& by);

/// The names of all parts of the laid one that a piece is a part of; of a plain piece its own.
std::vector<std::string> wholeOf(const Scene& scene, const std::string& piece);

/// The laid ones of which all parts are among the pieces.
std::vector<std::string> wholesAmong(const Scene& scene, const std::vector<std::string>& pieces);

/// What can be stamped: templates, then assemblies, of the scene and its kits.
std::vector<std::string> allStamps(const Scene& scene);

/// Takes a laid one away, or makes plain pieces of its parts (`ID-PART`); mentions of them follow.
void removeLaid(Scene& scene, std::string_view laid);
void dissolve(Scene& scene, std::string_view laid);

/// Makes an assembly of pieces that are no parts yet, with the snares that catch at them and act
/// only within, and lays it in their place. Gives back the name of the laid one; empty if there is
/// no such piece.
std::string makeAssembly(Scene& scene, const std::vector<std::string>& pieces);

/// Replaces an assembly, in a kit too. What is not their own follows in all laid ones; parts that
/// are new are laid in each, parts that are gone go from each. Nothing if there is no such
/// assembly.
void changeAssembly(Scene& scene, const std::string& name, Assembly next);

/// What of a part is its own: "at", else as `ownFields` of templates.h. And giving one of those
/// back.
std::vector<std::string> ownOfPart(const Scene& scene, const Piece& piece);
void resetPart(Scene& scene, std::string_view piece, std::string_view own);

/// Makes a piece that is no part yet a part of a laid one, and so of all laid ones of its assembly.
/// False if it cannot be: the assembly has a part of that name.
bool addToAssembly(Scene& scene, std::string_view laid, const std::string& piece);
/// Takes a part out of an assembly, and so out of all laid ones. The last part stays.
void takeOutOfAssembly(Scene& scene, const std::string& assembly, std::string_view part);

/// Gives a part of an assembly another name: its snares, the laid ones and what mentions those
/// follow.
void renamePart(Scene& scene, const std::string& assembly, const std::string& from, const std::string& to);

/// Makes all laid ones of its assembly like this one, but for where they are and what is their own
/// elsewhere.
void makeAllLike(Scene& scene, std::string_view laid);

/// Gives a snare of an assembly another name; what arms or disarms it within follows.
void renameSnare(Assembly& assembly, const std::string& from, const std::string& to);

/// What a run calls a snare of an assembly (A2): as there if the scene, its kits and the assemblies
/// before have none of that name, else `ASSEMBLY.NAME`.
std::string nameInRun(const Scene& scene, const std::string& assembly, const std::string& snare);

/// The scene as it runs: with the snares of its assemblies. They are called as there if the scene
/// has none of that name, else `ASSEMBLY.NAME`; `part:NAME` in them is `part:ASSEMBLY.NAME` (A2).
Scene withAssemblies(Scene scene);

/// Why the snares of an assembly cannot be: one catches contact or pointer events without a place
/// (A2). With the number of the snare.
std::optional<std::pair<std::size_t, std::string>> faultOf(const Assembly& assembly);

} // namespace snare::scene
