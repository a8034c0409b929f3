// SPDX-License-Identifier: Apache-2.0
/// How often a take went along the edges of a flow.
#pragma once

#include "check/flow.h"
#include "sim/record.h"

#include <vector>

namespace snare::check {

/// By edge: how often the event came at the snare, or what is done was done. -1 where nothing can
/// be counted, as for a condition. What is done to a selector is counted as a whole.
std::vector<int> timesOf(const Flow& flow, const sim::Record& record);

} // namespace snare::check
