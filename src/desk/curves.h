// SPDX-License-Identifier: Apache-2.0
/// What stand-in devices measure: a voice, and the tide. The same number for the same second,
/// always.
#pragma once

#include "scene/fields.h"

#include <array>

namespace snare::desk {

/// How someone speaks into the loudness meter.
enum class Voice { whisper, talk, shout };

struct VoiceWord {
    Voice value;
    std::string_view word;
    std::string_view about;
    double loudest;   ///< 0 to 1
    double syllables; ///< a second
};

inline constexpr std::array voices{
    VoiceWord{Voice::whisper, "whisper", "a low voice, close by", 0.25, 4.5},
    VoiceWord{Voice::talk, "talk", "a voice at a table", 0.6, 3.8},
    VoiceWord{Voice::shout, "shout", "a hail across the water", 1.0, 2.2},
};

/// How loud the voice is `seconds` after it began: syllables of unlike strength with breaths
/// between, 0 to 1.
double voiceLevel(Voice voice, double seconds);

/// A gauge in tidal water.
struct Tide {
    double low = 0;     ///< m
    double high = 1;    ///< m
    double period = 30; ///< s from high water to high water, > 0
    double start = 1;   ///< part of the range at which it begins: 1 is high water, 0 low water
};

/// The height of the water, with small waves on it, held between `low` and `high`; m.
double tideHeight(const Tide& tide, double seconds);

} // namespace snare::desk
