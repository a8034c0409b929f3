// SPDX-License-Identifier: Apache-2.0
/// The keys that a scene listens to, and what they leave for the application.
#pragma once

#include "scene/scene.h"

#include <QString>

#include <string>
#include <vector>

namespace snare::app {

/// The keys that a scene listens to, by name: those that steer walkers, then those that snares
/// catch.
std::vector<std::string> keysOf(const scene::Scene& scene);

/// Whether Esc is one of them; then it does not stop a recording.
bool usesEscape(const scene::Scene& scene);

/// What stops a recording, as it is called: "Esc", else "Shift+Esc".
QString stopKeyLabel(const scene::Scene& scene);

} // namespace snare::app
