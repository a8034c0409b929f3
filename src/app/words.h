// SPDX-License-Identifier: Apache-2.0
/// How things read: the words of sentences, shared by cards, moment and lists.
#pragma once

#include "scene/scene.h"

#include <QString>
#include <QStringList>

namespace snare::app {

QString toText(std::string_view text);

/// "courier or cargo".
QString joined(const std::vector<std::string>& list, const QString& last);

/// How a target or place reads: "itself", "the visitor", "all tagged ring", "barrow".
QString targetText(std::string_view name);

/// A length, time or other number with its unit: "2 m/s".
QString numberText(double number, scene::Unit unit);

/// "3, 2": a place or an offset, as it can be typed.
QString pair(const scene::Vec& v);
/// The numbers in "3, 2" or "3 × 2 m"; nothing if there are not so many.
std::optional<std::vector<double>> numbersIn(const QString& typed, int count);

/// Words with commas between, each once; and as they are typed.
std::vector<std::string> wordsIn(const QString& typed);
QString listed(const std::vector<std::string>& words);

/// "1 piece", "3 pieces".
QString counted(std::size_t count, const QString& one, const QString& many);

/// "1 piece", "3 pieces": what is counted most.
QString countedPieces(std::size_t count);

/// "a courier", "an oak": with the right article.
QString withArticle(const QString& noun);

/// "self.load >= 3".
QString conditionText(const scene::Condition& condition);
/// The condition that was typed like that, or nothing.
std::optional<scene::Condition> conditionFrom(const QString& typed);

/// Who the visitor of a catch is: "a courier", "anyone".
QString visitorText(const scene::Snare& snare);

/// Where it catches: "plate of scale", "the scene".
QString whereText(const scene::Catch& catches);

/// All that a snare says, to search in.
QString plainSentence(const scene::Snare& snare);

/// "enters or leaves".
QString eventText(const scene::Catch& catches);

} // namespace snare::app
