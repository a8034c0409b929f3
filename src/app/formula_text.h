// SPDX-License-Identifier: Apache-2.0
/// Values that are worked out, as they are read and typed in slots: "1 to 3 at random", "same as self.load", "how many
/// tag:cask", "anywhere in yard, clear of solids", "one of red, blue", "self.load + 1", "= self.load * 2".
#pragma once

#include "io/writer.h"

#include <QString>

#include <vector>

namespace snare::app {

/// How a value reads; a literal as it is, without its unit.
QString formulaText(const io::Json& value);

/// The JSON of the formula that was typed, or null if it is none: then it is a literal.
io::Json formulaFrom(const QString& typed);

/// "self.load", "scene.parcels": words that a path is made of.
bool looksLikePath(const QString& typed);

/// All paths that make sense in a scene, with what they are.
struct PathChoice {
    QString path;
    QString about;
};
std::vector<PathChoice> pathChoices(const scene::Scene& scene);

} // namespace snare::app
