// SPDX-License-Identifier: Apache-2.0
/// What happened, in words: the lines of a record.
#pragma once

#include "sim/record.h"

#include <string>

namespace snare::words {

/// An event: what it is ("courier hit barrow"), and how (" at 2.40 m/s").
struct EventSaid {
    std::string what;
    std::string how;
};
EventSaid eventSaid(const sim::Record& record, const rules::Line& event);

/// What a response did: "move barrow", "set scene parcels = 3".
std::string doneText(const sim::Record& record, const rules::Line& response);

/// Any line as a step of what led to what: "courier entered plate of scale", "weigh", "move
/// barrow".
std::string stepText(const sim::Record& record, const rules::Line& line);

} // namespace snare::words
