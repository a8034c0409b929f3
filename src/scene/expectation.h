// SPDX-License-Identifier: Apache-2.0
/// What a take says must show in its run (E1 to E5).
#pragma once

#include "scene/condition.h"
#include "scene/event_kind.h"
#include "scene/log_words.h"
#include "scene/snare.h"

namespace snare::scene {

/// A span of the run, s, both ends counted in; from <= to.
struct Span {
    double from = 0;
    double to = 0;

    friend bool operator==(const Span&, const Span&) = default;
};

/// How many; as one number in files if both are the same.
struct Times {
    std::optional<int> min;
    std::optional<int> max;

    bool allows(int count) const { return count >= min.value_or(0) && (!max || count <= *max); }

    friend bool operator==(const Times&, const Times&) = default;
};

template <>
inline constexpr auto fieldsOf<Times> = fields(word("times", "how often"),
                                               field("min", &Times::min, "at least").atLeast(0),
                                               field("max", &Times::max, "at most").atLeast(0));

/// `at`: of an event where it is, of a value or a visit when it is.
struct PlaceOrTime {
    std::string place;
    std::optional<double> time; ///< s, >= 0

    friend bool operator==(const PlaceOrTime&, const PlaceOrTime&) = default;
};

/// Lines of the log that are alike (E1). What is not given does not matter. Which of `response`,
/// `event`, `signal`, `phase`, `snare` is given says what kind of lines they are.
struct LineMatch {
    std::optional<EventKind> event;
    PlaceOrTime at;
    std::string by;
    std::string shape;
    std::string part;
    std::optional<Cause> cause;
    std::optional<MannerWord> manner;
    SpeedFilter speed;
    std::string snare; ///< of a response: whose
    std::optional<Outcome> outcome;
    std::optional<SlipStage> stage;
    std::string self;
    std::string visitor;
    std::string signal;
    Named<Scalar> with;
    std::string response; ///< its word
    std::string on;       ///< of a response or a phase: at which piece
    std::string phase;
    std::optional<Span> between; ///< the whole run if left out

    friend bool operator==(const LineMatch&, const LineMatch&) = default;
};

template <>
inline constexpr auto fieldsOf<LineMatch> = fields(
    word("lines", "lines of the log that are alike"), field("event", &LineMatch::event, "what happens"),
    field("at", &LineMatch::at, "where it happens; of a value or a visit when, in s").names(Refers::piece),
    field("by", &LineMatch::by, "the visitor").names(Refers::piece),
    field("shape", &LineMatch::shape, "at which shape").names(Refers::shape),
    field("part", &LineMatch::part, "with which shape of the visitor"),
    field("cause", &LineMatch::cause, "why the meeting began or ended"),
    field("manner", &LineMatch::manner, "stops, or only senses"), field("speed", &LineMatch::speed, "how fast they hit"),
    field("response", &LineMatch::response, "what is done, by its word"),
    field("snare", &LineMatch::snare, "which snare").names(Refers::snare),
    field("outcome", &LineMatch::outcome, "whether it springs or slips"),
    field("stage", &LineMatch::stage, "where it slips"),
    field("self", &LineMatch::self, "at which piece").names(Refers::piece),
    field("visitor", &LineMatch::visitor, "with which visitor").names(Refers::piece),
    field("signal", &LineMatch::signal, "which signal is raised").names(Refers::signal),
    field("with", &LineMatch::with, "values that the signal carries"),
    field("phase", &LineMatch::phase, "which phase begins").names(Refers::phase),
    field("on", &LineMatch::on, "at which piece; the scene if left out, for a phase").names(Refers::piece),
    field("between", &LineMatch::between, "only in this span of the run").in(Unit::seconds));

/// One thing that must show. Exactly one of these is told: lines that come, lines that never come,
/// an order, a value, a visit.
struct Expectation {
    enum class Kind { comes, never, order, value, inside };

    LineMatch line;                 ///< of `comes`; of a value and a visit only its `at`
    std::optional<Times> times;     ///< at least once if left out
    std::optional<LineMatch> never; ///< E2
    std::vector<LineMatch> order;   ///< E2; two or more
    std::string value;              ///< a path (E3)
    Comparison is = Comparison::equal;
    std::optional<Scalar> to;
    std::optional<double> within;    ///< how far a number may be off, >= 0
    bool always = false;             ///< in every tick
    bool ever = false;               ///< in one tick at least
    std::vector<std::string> inside; ///< visitor and place (E4)
    std::string note;

    Kind kind() const
    {
        return never            ? Kind::never
               : !order.empty() ? Kind::order
               : !value.empty() ? Kind::value
               : !inside.empty() ? Kind::inside
                                 : Kind::comes;
    }

    friend bool operator==(const Expectation&, const Expectation&) = default;
};

template <>
inline constexpr auto fieldsOf<Expectation> = fields(
    word("expectation", "what must show in the run"), field("times", &Expectation::times, "how often; once at least"),
    field("never", &Expectation::never, "lines that must not come"),
    field("order", &Expectation::order, "lines that come one after the other"),
    field("value", &Expectation::value, "a value, as a path").names(Refers::property),
    field("is", &Expectation::is, "how it compares"), field("to", &Expectation::to, "with what"),
    field("within", &Expectation::within, "how far a number may be off").atLeast(0),
    field("always", &Expectation::always, "in every tick"), field("ever", &Expectation::ever, "in one tick at least"),
    field("inside", &Expectation::inside, "a visitor, and where it is inside").names(Refers::target),
    field("note", &Expectation::note, "a remark for people"));

} // namespace snare::scene
