// SPDX-License-Identifier: Apache-2.0
/// What stands in a snare's sentence after "only": its filter, its gate, and what narrows its catch. One row each.
#pragma once

#include "app/model/document.h"
#include "app/ui/slot_popup.h"
#include "io/field_access.h"

namespace snare::app {

/// Which part of a snare a row belongs to.
enum class SnarePart { snare, catches, filter, tags, speed, gate };

/// The word of the part's table: "filter".
std::string_view wordOf(SnarePart part);

struct ConditionRow {
    const char* key; ///< of its slot
    SnarePart part;
    const char* field;  ///< in that part
    const char* phrase; ///< "after %1"; of a flag, the whole phrase
    const char* offer;  ///< "after staying for a while"
    const char* words;  ///< everyday words that find it
};

/// A condition as it stands in the sentence.
struct Phrase {
    QString key;
    QString text;
};
std::vector<Phrase> filterPhrases(const scene::Snare& snare);

/// All that a snare says, to search in.
QString plainSentence(const scene::Snare& snare);

/// Everything that could still be added there.
struct Offer {
    QString key;
    QString text;
    QString words;
};
std::vector<Offer> filterOffers(const scene::Snare& snare);

/// The row of a key, or null.
const ConditionRow* conditionRow(const QString& key);

/// The field of a row as it stands.
io::FieldView fieldOf(const scene::Snare& snare, const ConditionRow& row);

/// Sets it from JSON; returns what is wrong, or nothing.
std::optional<std::string> setField(scene::Snare& snare, const ConditionRow& row, std::string_view json);

} // namespace snare::app
