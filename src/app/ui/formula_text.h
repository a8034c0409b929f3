// SPDX-License-Identifier: Apache-2.0
/// Values that are worked out, as they are read and typed in slots; the grammar stands in
/// words/formulas.h.
#pragma once

#include "io/json.h"

#include <QString>

#include <optional>
#include <vector>

namespace snare::app {

/// How a value reads; a literal as it is, without its unit.
QString formulaText(const io::Json& value);

/// The JSON of the formula that was typed, or null if it is none: then it is a literal.
io::Json formulaFrom(const QString& typed);

/// The same where texts are expected, which may begin like a formula: all texts in it must stand in
/// quotes, and pieces are counted only by a selector such as `tag:cask`.
io::Json formulaInText(const QString& typed);

/// Where what was typed stops being understood, by character: it begins as a formula or a path, and
/// an operator follows that leads nowhere ("self.load + bar": at "bar"). Nothing if it is a
/// formula, a path, or a literal as it stands. With `expectsNumber` a text is not understood
/// either, from its beginning.
std::optional<int> notUnderstoodAt(const QString& typed, bool expectsNumber);

/// Says what of it is not understood; with `mayBeText` also how to say that it is a text.
QString notUnderstoodText(const QString& typed, int at, bool mayBeText);

/// A text as it is typed where texts are expected: in quotes if it would be taken for a formula.
QString typedInText(const std::string& text);

/// "self.load", "scene.parcels": words that a path is made of.
bool looksLikePath(const QString& typed);

/// All paths that make sense in a scene, with what they are.
struct PathChoice {
    QString path;
    QString about;
};
std::vector<PathChoice> pathChoices(const scene::Scene& scene);

} // namespace snare::app
