// SPDX-License-Identifier: Apache-2.0
/// The log of a run as JSON Lines, and its final state as JSON.
#pragma once

#include "sim/record.h"

namespace snare::sim {
class Run;
} // namespace snare::sim

#include <string>

namespace snare::io {

/// One line of the log, without the line end. Times with 6 decimals, other numbers with 9
/// significant digits.
std::string logLine(const sim::Record& record, const rules::Line& line, bool withCauses = false);

/// The whole log. `withCauses`: each line has its number `n`, from 1, and that of the line that led
/// to it, `because`, if one did (C1).
std::string logText(const sim::Record& record, bool withCauses = false);

/// `{"tick", "t", "variables", "pieces"}` of the pieces still there.
std::string finalText(const sim::Run& run);

} // namespace snare::io
