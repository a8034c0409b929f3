// SPDX-License-Identifier: Apache-2.0
/// A run, or a scene, in formats of other programs. (Drawings: io/drawing.h.)
#pragma once

#include "sim/record.h"

#include <span>
#include <string>

namespace snare::io {

/// When a line of a run was, s: of an event with its part of the tick.
double secondsOf(const rules::Line& line, int rate);

/// A row of CSV (RFC 4180), with its end; cells are quoted where they must be.
std::string csvRow(std::span<const std::string> cells);

/// The lines of a run as CSV (RFC 4180): a heading, then a row a line. Times in seconds, with the
/// part of the tick at which an event was.
std::string csvOf(const sim::Record& record);

/// A run in the JSON trace event format: meetings, phases and captions as spans; events, snares and
/// responses as moments; numbers as counters. One track each for the scene, every piece and every
/// snare. Times in microseconds.
std::string traceOf(const sim::Record& record);

/// The phases of the scene and of its pieces as SCXML 1.0: one parallel state a piece, one state a
/// phase. A snare that changes a phase, itself or by a routine, is a transition on the event
/// `snare.ID`; the signals that it raises are raised as `signal.NAME`. What no id may be there
/// becomes `_`. Phases that are worked out while it runs are left to whoever plays it: a comment
/// names them.
std::string scxmlOf(const scene::Scene& scene);

} // namespace snare::io
