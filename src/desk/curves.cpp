// SPDX-License-Identifier: Apache-2.0
#include "desk/curves.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <numbers>

namespace snare::desk {

namespace {

/// A number from 0 to 1 that belongs to a whole number: no two neighbours are alike.
double strengthOf(std::int64_t number)
{
    auto bits = static_cast<std::uint64_t>(number) * 0x9E3779B97F4A7C15ULL + 0x632BE59BD9B4E019ULL;
    bits = (bits ^ (bits >> 31)) * 0xBF58476D1CE4E5B9ULL;
    bits ^= bits >> 29;
    return static_cast<double>(bits >> 11) * 0x1.0p-53;
}

constexpr double phraseSeconds = 3.2; ///< from breath to breath
constexpr double breathSeconds = 0.7;
constexpr double waveShare = 0.015; ///< of the tide's range

} // namespace

double voiceLevel(Voice voice, double seconds)
{
    const VoiceWord& word = voices[static_cast<std::size_t>(voice)];
    const double phrase = std::fmod(std::max(seconds, 0.0), phraseSeconds);
    const double spoken = phraseSeconds - breathSeconds;
    if (phrase >= spoken)
        return 0.02 * word.loudest;
    const double place = seconds * word.syllables;
    const double syllable = std::sin(std::numbers::pi * (place - std::floor(place)));
    const double strength = 0.45 + 0.55 * strengthOf(static_cast<std::int64_t>(std::floor(place)));
    const double edge = std::min(1.0, std::min(phrase, spoken - phrase) / 0.15); // the phrase begins and ends softly
    return std::clamp(word.loudest * syllable * strength * edge, 0.0, 1.0);
}

double tideHeight(const Tide& tide, double seconds)
{
    const double middle = (tide.low + tide.high) / 2;
    const double half = (tide.high - tide.low) / 2;
    const double first = std::acos(std::clamp(2 * tide.start - 1, -1.0, 1.0));
    const double water = middle + half * std::cos(2 * std::numbers::pi * seconds / tide.period + first);
    const double waves = half * waveShare * (std::sin(seconds * 5.3) + std::sin(seconds * 3.1 + 1.7));
    return std::clamp(water + waves, std::min(tide.low, tide.high), std::max(tide.low, tide.high));
}

} // namespace snare::desk
