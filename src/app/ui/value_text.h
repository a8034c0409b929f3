// SPDX-License-Identifier: Apache-2.0
/// Literal values as they are typed: 3, true, "003", west pier.
#pragma once

#include "scene/scene.h"

#include <QString>

#include <optional>
#include <vector>

namespace snare::app {

/// How a value is written so that `literalFrom` reads the same again: a text stands in quotes where
/// it would be taken for a number, for true or false, or where it has a comma, a quote, a
/// parenthesis or an equals sign.
QString literalText(const scene::Scalar& value);

/// A number, true or false, else a text; what stands in double quotes is a text in any case.
scene::Scalar literalFrom(const QString& typed);

/// "load = 3, berth = west": as they are typed, and read; nothing if a part is no `name = value`.
QString valuesText(const scene::Named<scene::Scalar>& values);
std::optional<scene::Named<scene::Scalar>> valuesFrom(const QString& typed);

/// The letter of a text, counted as QString does, that begins at this byte of its UTF-8.
int letterAt(const std::string& text, std::size_t byte);

/// Where the first part that is no `name = value` begins, by character; nothing if all are.
std::optional<int> valuesFaultAt(const QString& typed);

/// A part of a list, and where it begins, by character.
struct ListPart {
    int at = 0;
    QString text;
};

/// Parts between commas that stand outside double quotes and parentheses, trimmed, without empty
/// ones.
std::vector<ListPart> placedPartsOf(const QString& typed);
QStringList partsOf(const QString& typed);

} // namespace snare::app
