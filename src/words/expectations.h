// SPDX-License-Identifier: Apache-2.0
/// What a take expects, in sentences.
#pragma once

#include "scene/expectation.h"

#include <string>

namespace snare::words {

/// "courier enters plate of scale", "weigh slips at its filter", "signal weighed is raised".
std::string linesText(const scene::LineMatch& lines);

/// "between 2 and 4 s"; empty for the whole run.
std::string spanText(const scene::LineMatch& lines);

/// "once", "2 times at most"; empty for at least once.
std::string timesText(const std::optional<scene::Times>& times);

/// "courier enters scale between 2 and 4 s, once", "at 6 s scene.parcels is 0".
std::string expectationText(const scene::Expectation& expectation);

} // namespace snare::words
