// SPDX-License-Identifier: Apache-2.0
/// What scouting knows of the ways between the states of a scene, and from where something can no
/// longer be had.
#pragma once

#include <cstdint>
#include <unordered_map>
#include <vector>

#include <boost/dynamic_bitset.hpp>

namespace snare::check {

/// Snares that springs elsewhere in the same stage led to, and that no play from here did.
struct Lost {
    std::size_t state = 0; ///< the earliest of those from which it is so
    std::vector<std::size_t> snares;
    int tries = 0; ///< plays that went on from there
};

class ScoutMap {
  public:
    explicit ScoutMap(std::size_t snares) : snares_(snares) {}

    /// A new state, seen in that tick. Its number is how many there were before.
    void addState(std::uint64_t stage, std::int64_t tick);
    /// There is an earlier way to it.
    void setTick(std::size_t state, std::int64_t tick) { states_[state].tick = tick; }
    /// A play went on from the state. `sprang`: snares that sprang in it for the first time.
    void addTry(std::size_t state, const std::vector<std::size_t>& sprang);
    void addWay(std::size_t from, std::size_t to);
    /// From the state on a play sprang the snare, which had not sprung before.
    void addSpring(std::size_t state, std::size_t snare) { states_[state].leadsTo.set(snare); }

    int tries(std::size_t state) const { return states_[state].tries; }
    /// Of all states of its stage together.
    int triesOfStage(std::size_t state) const { return stages_.at(states_[state].stage).tries; }

    /// By time; at most `most`, one for the same snares and stage. States that lead to each other
    /// are looked at together. What elsewhere comes so seldom that chance may be why it did not
    /// come here is left out.
    std::vector<Lost> lost(std::size_t most) const;

  private:
    struct State {
        std::uint64_t stage;
        std::int64_t tick;
        int tries = 0;
        boost::dynamic_bitset<> leadsTo; ///< snares
    };
    struct Stage {
        int tries = 0;
        std::vector<int> sprang; ///< by snare: the plays from it that sprang it
    };

    std::size_t snares_;
    std::vector<State> states_;
    std::vector<std::pair<std::uint32_t, std::uint32_t>> ways_;
    std::unordered_map<std::uint64_t, Stage> stages_; ///< to look up, never to walk over
};

} // namespace snare::check
