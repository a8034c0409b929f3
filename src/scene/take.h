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
#include <string_view>
#include <variant>
#include <vector>

namespace snare::scene {

/// A key goes down or up.
struct KeyInput {
    std::string key; ///< X keysym name
    bool down = false;

    friend bool operator==(const KeyInput&, const KeyInput&) = default;
};

template <>
inline constexpr auto fieldsOf<KeyInput> =
    fields(word("key", "a key goes down or up"),
           field("key", &KeyInput::key, "X keysym name of a key").names(Refers::key).required(),
           field("down", &KeyInput::down, "pressed, or let go").required());

/// A button of the pointer goes down or up.
struct ButtonInput {
    Button button = Button::left;
    bool down = false;

    friend bool operator==(const ButtonInput&, const ButtonInput&) = default;
};

template <>
inline constexpr auto fieldsOf<ButtonInput> =
    fields(word("button", "a button of the pointer goes down or up"),
           field("button", &ButtonInput::button, "a button of the pointer").required(),
           field("down", &ButtonInput::down, "pressed, or let go").required());

/// The pointer moves to a place in the scene.
struct PointerMove {
    Vec at{0, 0}; ///< m

    friend bool operator==(const PointerMove&, const PointerMove&) = default;
};

template <>
inline constexpr auto fieldsOf<PointerMove> =
    fields(word("pointer", "the pointer moves in the scene"),
           field("pointer", &PointerMove::at, "the pointer is here in the scene").in(Unit::metres).required());

/// The pointer moves to a place on the glass (P6).
struct GlassMove {
    Vec at{0, 0}; ///< m, from the lower left corner of the view

    friend bool operator==(const GlassMove&, const GlassMove&) = default;
};

template <>
inline constexpr auto fieldsOf<GlassMove> =
    fields(word("glass", "the pointer moves on the glass"),
           field("glass", &GlassMove::at, "the pointer is here on the glass").in(Unit::metres).required());

/// A dial is set (P9).
struct DialInput {
    std::string dial; ///< a source
    double value = 0;

    friend bool operator==(const DialInput&, const DialInput&) = default;
};

template <>
inline constexpr auto fieldsOf<DialInput> =
    fields(word("dial", "a dial is set"),
           field("dial", &DialInput::dial, "a dial that is set").names(Refers::source).required(),
           field("value", &DialInput::value, "what the dial is set to").required());

/// A call comes in (P10).
struct CallInput {
    std::string call; ///< its name
    Named<Scalar> with = {};

    friend bool operator==(const CallInput&, const CallInput&) = default;
};

template <>
inline constexpr auto fieldsOf<CallInput> =
    fields(word("call", "a call comes in"),
           field("call", &CallInput::call, "a named event from outside").names(Refers::call).required(),
           field("with", &CallInput::with, "values of the call"));

/// Where a driven piece has been led by the time of the input (V10).
struct TrackPlace {
    std::string piece; ///< a driven one
    Vec at{0, 0};      ///< m
    std::optional<double> turn = {}; ///< degrees; if left out it keeps its turn

    friend bool operator==(const TrackPlace&, const TrackPlace&) = default;
};

template <>
inline constexpr auto fieldsOf<TrackPlace> =
    fields(word("piece", "a driven piece is led"),
           field("piece", &TrackPlace::piece, "a driven piece that is led").names(Refers::piece).required(),
           field("at", &TrackPlace::at, "where it is then").in(Unit::metres).required(),
           field("turn", &TrackPlace::turn, "how it is turned then; as before if left out").in(Unit::degrees));

using AnyInput = std::variant<KeyInput, PointerMove, GlassMove, ButtonInput, DialInput, CallInput, TrackPlace>;

/// What a player did, or what came from outside, at time `t`. It belongs to the tick of T2. A new
/// kind is an alternative here with its field table, and an overload of `rules::Engine::queue`.
struct Input {
    double t = 0; ///< s, >= 0
    OneOf<AnyInput> what = {};

    Input() = default;
    template <class Kind> Input(double when, Kind kind) : t(when), what(std::move(kind)) {}

    /// It as one of the kinds; null if it is another.
    template <class Kind> const Kind* as() const { return std::get_if<Kind>(&what); }
    template <class Kind> Kind* as() { return std::get_if<Kind>(&what); }

    friend bool operator==(const Input&, const Input&) = default;
};

template <>
inline constexpr auto fieldsOf<Input> =
    fields(word("input", "something a player did, or that came from outside"),
           field("t", &Input::t, "when").in(Unit::seconds).atLeast(0).required(), oneOfStructs(&Input::what));

/// What an input of a kind is about: the key, dial, call or piece. Empty if it is of another kind.
template <class Kind> std::string_view nameOf(const Input& input)
{
    const Kind* one = input.as<Kind>();
    return one ? std::string_view{one->*std::get<0>(fieldsOf<Kind>.fields).member} : std::string_view{};
}

/// The place where an input puts the pointer or a driven piece, m; null if it puts nothing.
inline Vec* placeOf(Input& input)
{
    Vec* place = nullptr;
    std::visit(
        [&](auto& one) {
            if constexpr (requires { one.at; })
                place = &one.at;
        },
        input.what);
    return place;
}

/// No take lasts longer, s.
inline constexpr double longestTake = 86'400;

/// A take that does not say how long it is lasts so long, s (T1).
inline constexpr double usualTake = 10;

/// What was played once, and what must come of it. Inputs may stand in any order; the same tick
/// keeps theirs.
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
