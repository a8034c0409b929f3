// SPDX-License-Identifier: Apache-2.0
/// What all verbs do with texts and problems.
#pragma once

#include "io/json_node.h"
#include "scene/take.h"

#include <optional>
#include <string>
#include <vector>

namespace snare::cli {

/// Tells the problems, one a line, on standard error.
void tellProblems(const std::vector<io::Problem>& problems);

/// Writes to the file, or to standard output without a name and for `-`. Says on standard error why
/// it cannot; false then.
bool writeOut(const std::string& file, const std::string& text);

/// The takes of the files; without files one without inputs. Nothing if one cannot be read, which
/// is told on standard error.
std::optional<std::vector<scene::Take>> takesOf(const std::vector<std::string>& files);

} // namespace snare::cli
