// SPDX-License-Identifier: Apache-2.0
/// The filter stage of a snare (S2): which visitors, in which situation.
#pragma once

#include "rules/evaluator.h"

namespace snare::rules {

/// Why the filter turns the event away, in words, or nothing if it lets it through.
std::optional<std::string> turnedAway(const scene::Filter& filter, const Surroundings& around);

/// Whether a condition holds; comparing unlike or missing values fails (S2). `why` gets the values
/// that decided.
bool holds(const scene::Condition& condition, const Surroundings& around, std::string* why = nullptr);

/// Whether two values compare so; unlike ones do not (S2). Numbers may be off by `within`, which
/// makes every comparison wider and `!=` narrower (E3).
bool compares(const scene::Scalar& left, scene::Comparison is, const scene::Scalar& right, double within = 0);

} // namespace snare::rules
