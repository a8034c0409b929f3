// SPDX-License-Identifier: Apache-2.0
/// Scenes and takes as files.
#pragma once

#include "io/json_node.h"
#include "scene/scene.h"
#include "scene/take.h"

#include <filesystem>
#include <functional>

namespace snare::io {

using Problems = std::vector<Problem>;

/// Finds a kit by the name that a scene gives it. Problems are told in the kit, not thrown.
using KitFinder = std::function<scene::LoadedKit(const std::string& name)>;

/// The kits that stand beside a scene in this folder.
KitFinder kitsIn(std::filesystem::path folder);

/// The scenes in a folder that name a kit, by their files' names, sorted. Files that cannot be read
/// are passed over.
std::vector<std::string> scenesNaming(const std::filesystem::path& folder, const std::string& kit);

/// Lays aside what followed an assembly: the parts go, what is their own is kept as text for when
/// it is there again.
void layAside(scene::Scene& scene, std::string_view laid);

/// Reads a scene from JSON text; `file` is named in problems. Errors: format.md's list of what
/// stops loading. Templates of its kits are looked up with `kits`.
tl::expected<scene::Scene, Problems> readScene(std::string_view text, const std::string& file,
                                               const KitFinder& kits = {});
tl::expected<scene::Kit, Problems> readKit(std::string_view text, const std::string& file);
tl::expected<scene::Take, Problems> readTake(std::string_view text, const std::string& file);

/// Reads a scene's file and traces its pictures, which stand beside it (`io/pictures.h`).
tl::expected<scene::Scene, Problems> loadScene(const std::filesystem::path& path);
tl::expected<scene::Take, Problems> loadTake(const std::filesystem::path& path);

/// The text of a file: the keys in order, defaults left out. Reading it back gives an equal value.
std::string sceneText(const scene::Scene& scene);
std::string takeText(const scene::Take& take);
std::string kitText(const scene::Kit& kit);

/// The whole file as text. Errors: it cannot be read, or is larger than 256 MiB.
tl::expected<std::string, Problem> loadText(const std::filesystem::path& path);

/// Whether the path means standard output: `-`, or what standard output goes to.
bool isStandardOutput(const std::filesystem::path& path);

/// A device or a pipe is written into. Any other file is replaced in one step: after a crash or a
/// full disk there is either the old file or the new one, whole.
tl::expected<void, Problem> saveText(const std::filesystem::path& path, std::string_view text);

} // namespace snare::io
