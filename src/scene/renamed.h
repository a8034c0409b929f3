// SPDX-License-Identifier: Apache-2.0
/// A name that is changed within one text of the document: alone, in a path, in words for people,
/// in Lua.
#pragma once

#include "scene/fields.h"
#include "scene/thing.h"

#include <optional>
#include <string>
#include <string_view>

namespace snare::scene {

/// `text`, which means what `refers` says, with each mention of a thing named `from` changed to
/// `to`. Nothing if it has none. What is no mention, such as words outside braces or strings and
/// comments in Lua, stays.
std::optional<std::string> renamed(Thing kind, Refers refers, const std::string& text, std::string_view from,
                                   std::string_view to);

} // namespace snare::scene
