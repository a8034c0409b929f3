// SPDX-License-Identifier: Apache-2.0
/// Snares: the rules of a scene. Catch, then filter, then gate, then responses (S1).
#pragma once

#include "scene/event_kind.h"
#include "scene/response.h"

namespace snare::scene {

/// Which events, and where.
struct Catch {
    OneOrMore<EventKind> event{{EventKind::enter}};
    std::string at; ///< a piece, `tag:…`, `group:…` or `scene`; for keys, timers and signals the scene if left out
    std::string shape;  ///< one shape of the piece; else the piece as a whole (M9)
    std::string key;    ///< X keysym name or `any`
    std::string source; ///< a set of keys or a timer
    std::string signal; ///< its name, for `heard`

    friend bool operator==(const Catch&, const Catch&) = default;
};

template <>
inline constexpr auto fieldsOf<Catch> = fields(word("catch", "which events, and where"),
                                               field("event", &Catch::event, "what happens").required(),
                                               field("at", &Catch::at, "where it happens").names(Refers::target),
                                               field("shape", &Catch::shape, "at this shape only"),
                                               field("key", &Catch::key, "which key").names(Refers::key),
                                               field("source", &Catch::source, "which source").names(Refers::source),
                                               field("signal", &Catch::signal, "which signal").names(Refers::signal));

struct TagFilter {
    std::vector<std::string> any, all, none;

    friend bool operator==(const TagFilter&, const TagFilter&) = default;
};

template <>
inline constexpr auto
    fieldsOf<TagFilter> = fields(word("tags", "which tags the visitor must have"),
                                 field("any", &TagFilter::any, "at least one of these").names(Refers::tag),
                                 field("all", &TagFilter::all, "all of these").names(Refers::tag),
                                 field("none", &TagFilter::none, "none of these").names(Refers::tag));

/// Which visitors, in which situation (S2). An empty list is no condition.
struct Filter {
    std::vector<std::string> groups;
    TagFilter tags;
    std::vector<std::string> pieces;
    std::vector<Condition> when;

    friend bool operator==(const Filter&, const Filter&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Filter> = fields(word("filter", "which visitors, in which situation"),
                              field("groups", &Filter::groups, "in one of these groups").names(Refers::group),
                              field("tags", &Filter::tags, "with these tags"),
                              field("pieces", &Filter::pieces, "one of these pieces").names(Refers::piece),
                              field("when", &Filter::when, "only while these hold"));

enum class Each { snare, visitor };

template <>
inline constexpr auto wordsOf<Each> = std::array{
    EnumWord<Each>{Each::snare, "snare", "counted for all visitors together"},
    EnumWord<Each>{Each::visitor, "visitor", "counted for each visitor"},
};

/// How often, and how long a visitor must stay (S4).
struct Gate {
    std::optional<int> limit;
    std::optional<double> cooldown; ///< s
    std::optional<double> dwell;    ///< s
    Each each = Each::snare;
    bool catchUp = false;

    friend bool operator==(const Gate&, const Gate&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Gate> = fields(word("gate", "how often"),
                            field("limit", &Gate::limit, "at most this many times").atLeast(1),
                            field("cooldown", &Gate::cooldown, "not again for this long").in(Unit::seconds).atLeast(0),
                            field("dwell", &Gate::dwell, "only after staying this long").in(Unit::seconds).atLeast(0),
                            field("each", &Gate::each, "what limit and cooldown count"),
                            field("catchUp", &Gate::catchUp, "when armed, also for those already inside"));

/// What springing again does while the responses of the last time still run (S8).
enum class Again { restart, stack, ignore };

template <>
inline constexpr auto wordsOf<Again> = std::array{
    EnumWord<Again>{Again::restart, "restart", "begin anew"},
    EnumWord<Again>{Again::stack, "stack", "run beside it"},
    EnumWord<Again>{Again::ignore, "ignore", "let the first one finish"},
};

struct Snare {
    std::string id;
    std::string note;
    bool armed = true;
    Catch catches;
    Filter filter;
    Gate gate;
    Again again = Again::restart;
    std::vector<Response> responses;

    friend bool operator==(const Snare&, const Snare&) = default;
};

template <>
inline constexpr auto fieldsOf<Snare> = fields(word("snare", "a rule: catch, filter, gate, responses"),
                                               field("id", &Snare::id, "name of the snare").required(),
                                               field("note", &Snare::note, "a remark for people"),
                                               field("armed", &Snare::armed, "whether it listens at the start"),
                                               field("catch", &Snare::catches, "which events, and where").required(),
                                               field("filter", &Snare::filter, "which visitors"),
                                               field("gate", &Snare::gate, "how often"),
                                               field("again", &Snare::again, "springing again while it runs"),
                                               field("responses", &Snare::responses, "what it does, in this order"));

} // namespace snare::scene
