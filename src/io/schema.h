// SPDX-License-Identifier: Apache-2.0
/// The JSON Schema (draft 7) of the files, made from the field tables.
#pragma once

#include <string>

namespace snare::io {

/// The schema of scene files.
std::string sceneSchema();

/// The schema of kit files.
std::string kitSchema();

/// The schema of take files.
std::string takeSchema();

} // namespace snare::io
