// SPDX-License-Identifier: Apache-2.0
/// Walking over everything in a document that names something, by the field tables. Renaming and
/// checking are made of it.
#pragma once

#include "scene/fields.h"

#include <functional>
#include <string>

namespace snare::scene {

/// Is called with each name: what it refers to, and the text, which may be changed.
using VisitName = std::function<void(Refers refers, std::string& text)>;

/// Calls `visit` for everything in a value that names something, in the order of the file. It is
/// compiled once, for the types that walk.cpp lists: entries of a scene, lists of responses, a
/// scene, the expectations of a take.
template <class T> void walkNames(T& value, const VisitName& visit);

/// The same for a response, a catch or a filter, with the key of the field in which the name
/// stands. For a response these are the fields of what it does, and `if`.
using VisitFieldName = std::function<void(std::string_view field, Refers refers, std::string& text)>;
template <class T> void walkNamesByField(T& value, const VisitFieldName& visit);

} // namespace snare::scene
