// SPDX-License-Identifier: Apache-2.0
/// Literal values as they are typed: 3, true, "003", west pier.
#pragma once

#include "scene/scene.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace snare::words {

/// The number that the whole text is; nothing if it is none or not finite. White space around it
/// does not matter.
std::optional<double> numberIn(std::string_view typed);

/// How a value is written so that `literalFrom` reads the same again: a text stands in quotes where
/// it would be taken for a number, for true or false, or where it has a comma, a quote, a
/// parenthesis or an equals sign.
std::string literalText(const scene::Scalar& value);

/// A number, true or false, else a text; what stands in double quotes is a text in any case.
scene::Scalar literalFrom(std::string_view typed);

/// "load = 3, berth = west": as they are typed, and read; nothing if a part is no `name = value`.
std::string valuesText(const scene::Named<scene::Scalar>& values);
std::optional<scene::Named<scene::Scalar>> valuesFrom(std::string_view typed);

/// Where the first part that is no `name = value` begins, by byte; nothing if all are.
std::optional<std::size_t> valuesFaultAt(std::string_view typed);

/// A part of a list, and where it begins, by byte.
struct ListPart {
    std::size_t at = 0;
    std::string text;
};

/// Parts between commas that stand outside double quotes and parentheses, trimmed, without empty
/// ones.
std::vector<ListPart> placedPartsOf(std::string_view typed);

} // namespace snare::words
