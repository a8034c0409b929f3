// SPDX-License-Identifier: Apache-2.0
/// Values that are worked out, as they are read and typed.
///
/// The grammar, loosest first; operators stand between spaces:
///   sum     = part { ("+" | "-") part }         with "-" only a number
///   part    = "one of" item { "," item } | "how many" name { "," name } | "anywhere in" name [", clear of solids"]
///           | "same as" path | bound [("to" | "..") bound ["at random"]] | quoted text
///   bound   = number | path | "(" sum ")" | "(=" Lua ")"
///   item    = sum, else a text up to the next comma
/// and "=" before all else: the rest is a Lua expression.
#pragma once

#include "io/json.h"

#include <optional>
#include <string>
#include <string_view>

namespace snare::words {

/// How a value reads; a literal as it is, without its unit.
std::string formulaText(const io::Json& value);

/// The JSON of the formula that was typed, or null if it is none: then it is a literal.
io::Json formulaFrom(std::string_view typed);

/// The same where texts are expected, which may begin like a formula: all texts in it must stand in
/// quotes, and pieces are counted only by a selector such as `tag:cask`.
io::Json formulaInText(std::string_view typed);

/// Where what was typed stops being understood, by byte: it begins as a formula or a path, and an
/// operator follows that leads nowhere ("self.load + bar": at "bar"). Nothing if it is a formula, a
/// path, or a literal as it stands. With `expectsNumber` a text is not understood either, from its
/// beginning.
std::optional<std::size_t> notUnderstoodAt(std::string_view typed, bool expectsNumber);

/// A text as it is typed where texts are expected: in quotes if it would be taken for a formula.
std::string typedInText(const std::string& text);

/// "self.load", "scene.parcels": words that a path is made of.
bool looksLikePath(std::string_view typed);

} // namespace snare::words
