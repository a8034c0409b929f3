// SPDX-License-Identifier: Apache-2.0
/// Moving what is shared between a scene and its kits, and taking it away.
#pragma once

#include "scene/kits.h"

namespace snare::scene {

/// Moves something into another home, or copies it. A kit that is not named yet is named and made.
/// Says why not: the other home has one of that name, the kit cannot be read, or a snare's name is
/// taken in the scene.
std::optional<std::string> moveShared(Scene& scene, Thing kind, const std::string& name, const std::string& from,
                                      const std::string& to, bool copy = false);

/// Takes something out of its home. Pieces of a template keep their fields; laid ones of an
/// assembly become plain pieces, unless another home has one of that name.
void removeShared(Scene& scene, Thing kind, const std::string& home, const std::string& name);

} // namespace snare::scene
