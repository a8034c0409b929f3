// SPDX-License-Identifier: Apache-2.0
/// Three versions of a file made into one: what two people did to a scene, a take or a kit.
#pragma once

#include "io/json_node.h"

#include <string>
#include <vector>

namespace snare::io {

struct Merged {
    std::string text;                   ///< the file; where both changed the same thing, as `ours` has it
    std::vector<std::string> conflicts; ///< "snare weigh, gate, dwell: 0.6 in ours, 0.7 in theirs, it was 0.5"
};

/// Things are told apart by their ids, wherever they stand in their list; what only one side
/// changed is taken from it. Errors: a text that is no JSON.
tl::expected<Merged, Problem> merge(const std::string& base, const std::string& ours, const std::string& theirs);

} // namespace snare::io
