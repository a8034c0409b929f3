// SPDX-License-Identifier: Apache-2.0
/// The chance of a run (T3): a small counter-based generator. The n-th number depends on the seed
/// and n alone, so a copy of a run goes on with the same numbers, and a restart goes on with the
/// next.
#pragma once

#include <cstdint>

namespace snare::rules {

/// The n-th number of a seed, each bit as likely: two rounds of SplitMix64's finaliser over both.
constexpr std::uint64_t counterNumber(std::uint64_t seed, std::uint64_t n)
{
    const auto mix = [](std::uint64_t x) {
        x ^= x >> 30;
        x *= 0xbf58476d1ce4e5b9ULL;
        x ^= x >> 27;
        x *= 0x94d049bb133111ebULL;
        return x ^ (x >> 31);
    };
    return mix(mix(seed + 0x9e3779b97f4a7c15ULL) + (n + 1) * 0x9e3779b97f4a7c15ULL);
}

class CounterGenerator {
  public:
    explicit CounterGenerator(std::uint64_t seed) : seed_(seed) {}

    /// The next number, 0 <= x < 1, of 2^53 equally likely ones.
    double next() { return static_cast<double>(counterNumber(seed_, count_++) >> 11) * 0x1p-53; }

    /// A number from `low` up to, but not at, `high`; `low` if they are the same.
    double between(double low, double high)
    {
        const double x = low + (high - low) * next();
        return x < high ? x : low; // rounding may reach it
    }

    /// One of `count` things, count > 0.
    std::size_t choose(std::size_t count) { return static_cast<std::size_t>(next() * static_cast<double>(count)); }

  private:
    std::uint64_t seed_;
    std::uint64_t count_ = 0;
};

} // namespace snare::rules
