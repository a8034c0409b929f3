// SPDX-License-Identifier: Apache-2.0
/// What all verbs do with texts and problems.
#pragma once

#include "io/json_node.h"

#include <string>
#include <vector>

namespace snare::cli {

/// Tells the problems, one a line, on standard error.
void tellProblems(const std::vector<io::Problem>& problems);

/// Writes to the file, or to standard output without a name and for `-`. Says on standard error why it cannot; false
/// then.
bool writeOut(const std::string& file, const std::string& text);

} // namespace snare::cli
