// SPDX-License-Identifier: Apache-2.0
/// Templates: pieces stamped from a model follow it in everything that is not their own.
///
/// A piece in memory has all its fields; what differs from its template is its own. So a run needs
/// no template, and a change of the template reaches exactly the fields that were not changed on
/// the piece. The shapes of the template are the first shapes of the piece, in the same order;
/// properties and looks are told apart by name.
#pragma once

#include "scene/scene.h"

namespace snare::scene {

/// The template of a piece, or null if it has none or it does not exist.
const Template* templateOf(const Scene& scene, const Piece& piece);

/// True if the first shapes of the piece are those of the model, by their names. Otherwise it
/// cannot be written as what differs from it.
bool follows(const Piece& piece, const Piece& model);

/// What is the piece's own: "group", "at", "shape plate", "value ring", "look lit", in the order of
/// the file. The name and the place are not counted.
std::vector<std::string> ownFields(const Piece& piece, const Piece& model);

/// Gives one of `ownFields` back to the template.
void resetOwn(Piece& piece, const Piece& model, std::string_view own);

/// A new piece of a template. The caller gives it its name and place.
Piece stamped(const Scene& scene, std::string_view templateName);

/// Makes a template of a piece's fields; the piece is the first to follow it. Returns the
/// template's name.
std::string makeTemplate(Scene& scene, std::string_view piece);

/// Replaces the model of what the scene means by the name, in a kit too; pieces that follow it take
/// over what is not their own.
void changeTemplate(Scene& scene, std::string_view templateName, const Piece& model);

/// What the template would be if the piece's own fields were its model.
Piece modelFrom(const Piece& piece);

/// Lets a piece follow a template; what differs from it is its own. Nothing if there is no such
/// template or piece, or the piece is a part of an assembly. A piece that leaves its template has
/// `templateName` emptied, and all it has.
void join(Scene& scene, std::string_view piece, std::string_view templateName);

/// The pieces that follow a template, in scene order.
std::vector<std::string> followersOf(const Scene& scene, std::string_view templateName);

} // namespace snare::scene
