// SPDX-License-Identifier: Apache-2.0
/// A scene told in sentences, for reading and for version control.
#pragma once

#include "scene/scene.h"

#include <string>

namespace snare::words {

/// All that a scene says: one fact a line, in the order of the file, each piece with the snares
/// that catch at it. The same scene gives the same text; what differs in the file and matters
/// differs in it. What comes from kits is named, not told.
std::string describe(const scene::Scene& scene);

} // namespace snare::words
