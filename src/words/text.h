// SPDX-License-Identifier: Apache-2.0
/// The smallest parts of what is said to people: numbers with units, lists, names. UTF-8.
#pragma once

#include "scene/scene.h"

#include <string>
#include <string_view>
#include <vector>

namespace snare::words {

/// "courier, cargo or mule"; `last` is the word before the last one.
std::string joined(const std::vector<std::string>& list, std::string_view last);

/// The parts with `between` in between.
std::string joinedBy(const std::vector<std::string>& list, std::string_view between);

/// How a target or place reads: "itself", "the visitor", "all tagged ring", "barrow".
std::string targetText(std::string_view name);

/// A number with nine digits at most: more than a hand can mean, and without the dust of sums.
std::string figure(double number);

/// A length, time or other number with its unit: "2 m/s", "90°".
std::string numberText(double number, scene::Unit unit);

/// "3, 2": a place or an offset, as it can be typed.
std::string pair(const scene::Vec& v);

/// "1 piece", "3 pieces".
std::string counted(std::size_t count, std::string_view one, std::string_view many);

/// "a courier", "an oak": with the right article.
std::string withArticle(std::string_view noun);

/// Without white space at both ends.
std::string trimmed(std::string_view text);

/// What people call a key: "→", "Space", "E"; of `button:left` "left button". `name` is its X
/// keysym name.
std::string keyLabel(std::string_view name);

/// The X keysym names of keys that have a label of their own, those offered first.
std::vector<std::string> labelledKeys();

} // namespace snare::words
