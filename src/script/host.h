// SPDX-License-Identifier: Apache-2.0
/// What a script sees of the run that calls it, and what a call may use up (S14).
#pragma once

#include "scene/values.h"

#include <functional>

namespace snare::script {

/// What a call may use up (S14).
inline constexpr int mostInstructions = 1'000'000;
inline constexpr std::size_t mostMemory = 16u << 20; ///< bytes
/// The longest text that a script can make, bytes.
inline constexpr std::size_t longestText = 64u << 10;

/// The tables that a script sees: `scene`, `self`, `visitor`, `event`, `signal`, `with`.
struct Host {
    /// The value called `name` in a table; nothing becomes nil.
    std::function<std::optional<scene::Answer>(std::string_view table, std::string_view name)> get;
    /// Assigns to it. Returns why that cannot be, or nothing.
    std::function<std::optional<std::string>(std::string_view table, std::string_view name, scene::Scalar value)> set;
    /// The next number of the run's chance, 0 <= x < 1.
    std::function<double()> random;
    /// Writes a note.
    std::function<void(std::string text)> note;
};

} // namespace snare::script
