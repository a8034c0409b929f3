// SPDX-License-Identifier: Apache-2.0
/// What stands in a snare's sentence after "only": its filter, its gate, and what narrows its
/// catch. One row each.
#pragma once

#include "io/field_access.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace snare::words {

/// Which part of a snare a row belongs to.
enum class SnarePart { snare, catches, filter, tags, speed, gate };

/// The word of the part's table: "filter".
std::string_view wordOf(SnarePart part);

struct ConditionRow {
    std::string_view key; ///< of its slot
    SnarePart part;
    std::string_view field;  ///< in that part
    std::string_view phrase; ///< "after {}"; of a flag, the whole phrase
    std::string_view offer;  ///< "after staying for a while"
    std::string_view words;  ///< everyday words that find it
};

/// A condition as it stands in the sentence.
struct Phrase {
    std::string key; ///< of the row; of a comparison `when.` and its number
    std::string text;
};
std::vector<Phrase> filterPhrases(const scene::Snare& snare);

/// The rows that could still be added, in their order; those of the gate begin with `limit`.
std::vector<const ConditionRow*> offeredRows(const scene::Snare& snare);

/// The row of a key, or null.
const ConditionRow* conditionRow(std::string_view key);

/// The field of a row as it stands.
io::FieldView fieldOf(const scene::Snare& snare, const ConditionRow& row);

/// Sets it from JSON; returns what is wrong, or nothing.
std::optional<std::string> setField(scene::Snare& snare, const ConditionRow& row, std::string_view json);

} // namespace snare::words
