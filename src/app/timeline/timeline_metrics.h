// SPDX-License-Identifier: Apache-2.0
/// Lengths of the timeline, pixels.
#pragma once

namespace snare::app {

inline constexpr double labelWidth = 132;
inline constexpr double rulerHeight = 24;
inline constexpr double rowHeight = 20;
inline constexpr double laneGap = 3;
inline constexpr double rightMargin = 16;
inline constexpr double hitRadius = 7;
inline constexpr double foldedHeight = 9;
inline constexpr double grabPixels = 5; ///< how near the end of a press must be to stretch it

} // namespace snare::app
