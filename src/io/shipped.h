// SPDX-License-Identifier: Apache-2.0
/// What ships with the program: examples, schemas and the guide.
#pragma once

#include <filesystem>
#include <string_view>

namespace snare::io {

/// A file that ships, such as `demo/weigh-in.snare.json`: below `share/fresh-snare` of the place in
/// which the program is installed, else in a folder above the program, as in a build tree or a
/// copied folder. Empty if it is in neither.
std::filesystem::path shippedFile(std::string_view name);

} // namespace snare::io
