// SPDX-License-Identifier: Apache-2.0
/// What stands in a snare's sentence after "only": the rows of words/conditions.h for slots.
#pragma once

#include "app/model/document.h"
#include "app/ui/slot_popup.h"
#include "words/conditions.h"

namespace snare::app {

using words::ConditionRow;
using words::fieldOf;
using words::setField;
using words::SnarePart;

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

} // namespace snare::app
