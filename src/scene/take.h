// SPDX-License-Identifier: Apache-2.0
/// A take: a recorded play-through, every input with its time.
#pragma once

#include "scene/fields.h"
#include "scene/values.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace snare::scene {

/// A key pressed or let go at time `t`. Belongs to the tick of T2.
struct Input {
    double t = 0; ///< s, >= 0
    std::string key;
    bool down = false;

    friend bool operator==(const Input&, const Input&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Input> = fields(word("input", "something a player did"),
                             field("t", &Input::t, "when").in(Unit::seconds).atLeast(0).required(),
                             field("key", &Input::key, "X keysym name of the key").names(Refers::key).required(),
                             field("down", &Input::down, "pressed, or let go").required());

struct Take {
    std::string scene; ///< file name of the scene, relative to the take
    std::optional<std::uint32_t> seed;
    std::optional<double> length; ///< s
    std::vector<Input> inputs;

    friend bool operator==(const Take&, const Take&) = default;
};

template <>
inline constexpr auto fieldsOf<Take> = fields(word("take", "a recorded play-through"),
                                              field("scene", &Take::scene, "file of the scene"),
                                              field("seed", &Take::seed, "seed of the random values; else the scene's"),
                                              field("length", &Take::length, "how long").in(Unit::seconds).atLeast(0),
                                              field("inputs", &Take::inputs, "what the player did").required());

} // namespace snare::scene
