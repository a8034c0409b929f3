// SPDX-License-Identifier: Apache-2.0
/// Strokes drawn on the gesture pad: which of a few known ones a drawn line is, how near it comes
/// to each, and why it counts as none.
///
/// A line is brought to the same number of points, evenly spaced, to the same size and place; its
/// distance to a known stroke is the mean distance of the points, in the order drawn and backwards,
/// whichever is nearer. Rings are compared from any point on. The method is our own, after the
/// common way of matching resampled paths.
#pragma once

#include "geometry/vec.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace snare::desk {

using geometry::Vec;

/// Nearness from which a stroke counts, and how far ahead of the next one it must be.
inline constexpr double nearEnough = 0.70;
inline constexpr double farAhead = 0.03;

/// A stroke that the pad knows.
struct Stroke {
    std::string_view name; ///< also of the call that it makes
    std::string_view about;
    std::vector<Vec> line;
    bool ring = false; ///< it may begin anywhere
};

/// Hitch, ring, wave, hook and peak.
const std::vector<Stroke>& knownStrokes();

/// How near a line comes to one stroke: 1 is the same, 0 as far as can be.
struct Nearness {
    std::string_view name;
    double near = 0;
};

struct Judgement {
    std::optional<std::string_view> stroke; ///< the one that it is
    std::vector<Nearness> nearness;         ///< to all, the nearest first
    std::string why;                        ///< in plain words, if it is none
};

/// Judges a line as it was drawn, in any unit. `smallest` is the size below which it is no stroke
/// at all.
Judgement judge(std::span<const Vec> drawn, double smallest);

} // namespace snare::desk
