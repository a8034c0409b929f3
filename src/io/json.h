// SPDX-License-Identifier: Apache-2.0
/// JSON values that are built and laid out. What needs their members includes <nlohmann/json.hpp>:
/// it is large.
#pragma once

#include <nlohmann/json_fwd.hpp>

#include <string>

namespace snare::io {

using Json = nlohmann::ordered_json;

/// The text of a document: short values on one line, members and the elements of long lists one a
/// line, so that version control diffs are small. Numbers as short as they can be read back
/// exactly.
std::string layOut(const Json& document);

/// One line, no spaces wasted: `{"id": "plate", "box": [3, 2]}`.
std::string compact(const Json& value);

} // namespace snare::io
