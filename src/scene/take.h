// SPDX-License-Identifier: Apache-2.0
/// A take: a recorded play-through, every input with its time.
#pragma once

#include "scene/button.h"
#include "scene/expectation.h"
#include "scene/fields.h"
#include "scene/values.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace snare::scene {

/// A key or button pressed or let go, the pointer moved, a dial set, a call, or a place of a driven piece, at time `t`.
/// Belongs to the tick of T2; a place is led to by then (V10).
struct Input {
    double t = 0;    ///< s, >= 0
    std::string key; ///< X keysym name; empty for the others
    bool down = false;
    std::string dial = {};             ///< a source
    double value = 0;                  ///< of the dial
    std::string call = {};             ///< its name
    Named<Scalar> with = {};           ///< values of the call
    std::optional<Vec> pointer = {};   ///< m, where it is in the scene
    std::optional<Vec> glass = {};     ///< m of the view, from its lower left corner (P6)
    std::optional<Button> button = {}; ///< pressed or let go
    std::string piece = {};            ///< a driven one
    Vec at{0, 0};                      ///< m, where that is at `t`
    std::optional<double> turn = {};   ///< degrees; if left out it keeps its turn

    /// Which key it is: one of those that parts its alternatives.
    std::string_view kind() const
    {
        return !dial.empty()   ? "dial"
               : !call.empty() ? "call"
               : pointer       ? "pointer"
               : glass         ? "glass"
               : button        ? "button"
               : !piece.empty() ? "piece"
                               : "key";
    }

    friend bool operator==(const Input&, const Input&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Input> = fields(word("input", "something a player did, or that came from outside"),
                             field("t", &Input::t, "when").in(Unit::seconds).atLeast(0).required(),
                             field("key", &Input::key, "X keysym name of a key").names(Refers::key),
                             field("pointer", &Input::pointer, "the pointer is here in the scene").in(Unit::metres),
                             field("glass", &Input::glass, "the pointer is here on the glass").in(Unit::metres),
                             field("button", &Input::button, "a button of the pointer"),
                             field("down", &Input::down, "pressed, or let go"),
                             field("dial", &Input::dial, "a dial that is set").names(Refers::source),
                             field("value", &Input::value, "what the dial is set to"),
                             field("call", &Input::call, "a named event from outside").names(Refers::call),
                             field("with", &Input::with, "values of the call"),
                             field("piece", &Input::piece, "a driven piece that is led").names(Refers::piece),
                             field("at", &Input::at, "where it is then").in(Unit::metres),
                             field("turn", &Input::turn, "how it is turned then; as before if left out").in(Unit::degrees));

/// No take lasts longer, s.
inline constexpr double longestTake = 86'400;

/// A take that does not say how long it is lasts so long, s (T1).
inline constexpr double usualTake = 10;

struct Take {
    std::string schema = {}; ///< where editors find the schema of the file; means nothing here
    std::string scene; ///< file name of the scene, relative to the take
    std::optional<std::uint32_t> seed;
    std::optional<double> length; ///< s; see `lengthOf`
    std::string note;   ///< what it is for
    bool stops = false; ///< its run is meant to stop (E5)
    std::vector<Input> inputs;
    std::vector<Expectation> expect; ///< judged in this order

    friend bool operator==(const Take&, const Take&) = default;
};

/// How long a take is, s.
inline double lengthOf(const Take& take)
{
    return take.length.value_or(usualTake);
}

template <>
inline constexpr auto fieldsOf<Take> = fields(
    word("take", "a recorded play-through"),
    field("$schema", &Take::schema, "for editors: where the schema of the file is"), field("scene", &Take::scene, "file of the scene"),
    field("note", &Take::note, "what it is for"), field("seed", &Take::seed, "seed of the random values; else the scene's"),
    field("length", &Take::length, "how long").in(Unit::seconds).atLeast(0).atMost(longestTake),
    field("stops", &Take::stops, "its run is meant to stop"),
    field("inputs", &Take::inputs, "what the player did").required(),
    field("expect", &Take::expect, "what must show in the run"));

} // namespace snare::scene
