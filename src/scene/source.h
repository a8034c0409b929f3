// SPDX-License-Identifier: Apache-2.0
/// Sources: where input comes from that has no place in the scene. Timers can also belong to a
/// piece.
#pragma once

#include "scene/fields.h"
#include "scene/values.h"

namespace snare::scene {

/// `elapsed` each `every` seconds (P8).
struct TimerSource {
    double every = 1; ///< s, > 0
    bool repeat = true;
    bool runs = true;

    friend bool operator==(const TimerSource&, const TimerSource&) = default;
};

template <>
inline constexpr auto fieldsOf<TimerSource> = fields(
    word("timer", "elapses once or again and again"),
    field("every", &TimerSource::every, "time between").in(Unit::seconds).above(0).required(),
    field("repeat", &TimerSource::repeat, "again and again"), field("runs", &TimerSource::runs, "from the start"));

/// A number that is set from outside, held between `low` and `high` (P9).
struct DialSource {
    double low = 0;
    double high = 1;
    double value = 0; ///< at the start

    friend bool operator==(const DialSource&, const DialSource&) = default;
};

template <>
inline constexpr auto fieldsOf<DialSource> = fields(word("dial", "a number set from outside"),
                                                    field("low", &DialSource::low, "lowest value"),
                                                    field("high", &DialSource::high, "highest value"),
                                                    field("value", &DialSource::value, "value at the start"));

/// Makes the name of a call known, with values to raise it with by hand (P10).
struct CallSource {
    std::string name;
    Named<Scalar> values;

    friend bool operator==(const CallSource&, const CallSource&) = default;
};

template <>
inline constexpr auto
    fieldsOf<CallSource> = fields(word("call", "a named event from outside"),
                                  field("name", &CallSource::name, "name of the call").names(Refers::call).required(),
                                  field("values", &CallSource::values, "values that it carries"));

/// A named set of keys.
struct KeySource {
    std::vector<std::string> keys;

    friend bool operator==(const KeySource&, const KeySource&) = default;
};

template <>
inline constexpr auto
    fieldsOf<KeySource> = fields(word("key", "a named set of keys"),
                                 field("keys", &KeySource::keys, "the keys").names(Refers::key).required());

/// A source under its name.
struct Source {
    std::string id;
    std::variant<TimerSource, DialSource, CallSource, KeySource> kind;

    friend bool operator==(const Source&, const Source&) = default;
};

template <>
inline constexpr auto fieldsOf<Source> = fields(word("source", "where input comes from"),
                                                field("id", &Source::id, "name of the source").required(),
                                                oneOfKeys(&Source::kind, "what it is"));

/// A timer of each piece that has it: self of its events is that piece, and it ends with it (P8).
struct PieceTimer {
    std::string id;
    TimerSource timer;

    friend bool operator==(const PieceTimer&, const PieceTimer&) = default;
};

template <>
inline constexpr auto fieldsOf<PieceTimer> = fields(word("timer", "a timer of its own"),
                                                    field("id", &PieceTimer::id, "name of the timer").required(),
                                                    field("timer", &PieceTimer::timer, "when it elapses").required());

} // namespace snare::scene
