// SPDX-License-Identifier: Apache-2.0
/// The smallest parts of what the interface says: texts, numbers with units, lists, counts.
#pragma once

#include "scene/scene.h"

#include <QString>
#include <QStringList>

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace snare::app {

QString toText(std::string_view text);

/// "courier or cargo".
QString joined(const std::vector<std::string>& list, const QString& last);

/// How a target or place reads: "itself", "the visitor", "all tagged ring", "barrow".
QString targetText(std::string_view name);

/// A number with nine digits at most: more than a hand can mean, and without the dust of sums.
QString figure(double number);

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

} // namespace snare::app
