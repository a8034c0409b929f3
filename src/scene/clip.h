// SPDX-License-Identifier: Apache-2.0
/// Copying and pasting: a clip is a small scene as text, so it can go to another scene, a mail or a
/// file.
#pragma once

#include "scene/scene.h"

namespace snare::scene {

/// The pieces with their templates and the snares that catch at them by name. Assemblies that are
/// laid stay so if all of their parts are among the pieces; other parts become plain pieces.
Scene clipOf(const Scene& scene, const std::vector<std::string>& pieces);

/// Adds what is in the clip, its pieces moved by `by`. What has a name that is taken gets a free
/// one, and what mentions it in the clip follows. Returns the names of the new pieces.
std::vector<std::string> paste(Scene& scene, Scene clip, const Vec& by, bool withSnares);

/// One snare again, at another piece: `self` and the piece's own name follow.
Snare copiedTo(const Scene& scene, const Snare& snare, const std::string& piece);

} // namespace snare::scene
