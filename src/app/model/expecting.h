// SPDX-License-Identifier: Apache-2.0
/// Expectations made from what a record shows, and made right again.
#pragma once

#include "app/model/document.h"
#include "check/expectations.h"
#include "scene/take.h"

#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace snare::app {

/// What is said of a line: that one like it must come, must never come, or must come about then.
enum class Wish { comes, never, aboutThen };

/// Lines like this one of the record; nothing for notes and inputs, which nobody expects.
std::optional<scene::LineMatch> linesLike(const sim::Record& record, std::int32_t line);

/// What is expected if a line is wished so.
std::optional<scene::Expectation> expectationOf(const sim::Record& record, std::int32_t line, Wish wish);

/// That a value is then as it is now; `path` as `scene.parcels`.
scene::Expectation valueAsNow(const sim::Record& record, world::PieceIndex owner, const std::string& name,
                              std::int64_t tick);

/// That a visitor is inside a piece then.
scene::Expectation visitThen(const sim::Record& record, const std::string& visitor, const std::string& place,
                             std::int64_t tick);

/// A new expectation of a kind, about something that is in the scene; `kind` is one of `event`,
/// `snare`, `signal`, `response`, `phase`, `never`, `order`, `value`, `inside`. `seconds`: when,
/// where a moment is wanted.
scene::Expectation plainExpectation(const std::string& kind, const scene::Scene& scene, double seconds);

/// Adds an expectation to the take that is shown, or takes one away. One undo step.
void addExpectation(Document& document, scene::Expectation expectation);
void removeExpectation(Document& document, std::size_t index);

/// What it takes to make right what did not hold: times and spans as they are now, values as they
/// were, what came after all no longer forbidden.
struct Acceptance {
    scene::Take take;
    std::vector<std::pair<std::string, std::string>> changes; ///< before and after; after empty: it goes
};
Acceptance accepted(const sim::Record& record, const check::Judgement& judgement, std::optional<std::size_t> only = {});

} // namespace snare::app
