// SPDX-License-Identifier: Apache-2.0
/// Snares: the rules of a scene. Catch, then filter, then gate, then responses (S1).
#pragma once

#include "scene/event_kind.h"
#include "scene/response.h"
#include "scene/button.h"

namespace snare::scene {

/// Whether the visitors inside self are offered with an event that has none of its own (P11).
enum class Inside { no, any, nearest };

/// Whether the pointer must meet a piece on top of all others, or only be over it (P2).
enum class Reach { top, all };

template <>
inline constexpr auto wordsOf<Reach> = std::array{
    EnumWord<Reach>{Reach::top, "top", "where nothing covers it"},
    EnumWord<Reach>{Reach::all, "all", "also below others"},
};

/// Keys that are held while the pointer does something (P3).
enum class Modifier { shift, ctrl, alt, super };

template <>
inline constexpr auto wordsOf<Modifier> = std::array{
    EnumWord<Modifier>{Modifier::shift, "shift", "with Shift held"},
    EnumWord<Modifier>{Modifier::ctrl, "ctrl", "with Ctrl held"},
    EnumWord<Modifier>{Modifier::alt, "alt", "with Alt held"},
    EnumWord<Modifier>{Modifier::super, "super", "with the Super key held"},
};

/// Which events, and where.
struct Catch {
    OneOrMore<EventKind> event{{EventKind::enter}};
    /// A piece, `tag:…`, `group:…`, `template:…` or `scene`; the scene if left out, for events that
    /// have no place.
    std::string at;
    std::string shape;                  ///< one shape of the piece; else the piece as a whole (M9)
    std::string key;                    ///< X keysym name or `any`
    std::string source;                 ///< a set of keys, a timer or a dial
    std::string watch;                  ///< a path to a number, for `rises` and `falls`
    std::optional<double> level;        ///< for `rises` and `falls` (P9)
    double band = 0;                    ///< how far back it must go before the next (P9)
    std::string signal;                 ///< its name, for `heard`
    std::string name;                   ///< of the call, for `called`
    std::optional<Button> button = {};  ///< of pointer events; any if left out
    OneOrMore<Modifier> modifiers = {}; ///< all of these are held; others may be
    Reach reach = Reach::top;
    std::string phase;           ///< which phase begins or ends
    std::string value;           ///< which variable or property changes
    std::optional<double> every; ///< s, > 0: of `stay`, only this often
    Inside inside = Inside::no;

    friend bool operator==(const Catch&, const Catch&) = default;
};

template <>
inline constexpr auto fieldsOf<Catch> = fields(
    word("catch", "which events, and where"), field("event", &Catch::event, "what happens").required(),
    field("at", &Catch::at, "where it happens").names(Refers::target),
    field("shape", &Catch::shape, "at this shape only").names(Refers::shape), field("key", &Catch::key, "which key").names(Refers::key),
    field("source", &Catch::source, "which source").names(Refers::source),
    field("watch", &Catch::watch, "which number, as a path").names(Refers::property),
    field("level", &Catch::level, "the level it crosses"),
    field("band", &Catch::band, "how far back it must go before the next").atLeast(0),
    field("signal", &Catch::signal, "which signal").names(Refers::signal),
    field("name", &Catch::name, "which call").names(Refers::call),
    field("button", &Catch::button, "which button of the pointer"),
    field("modifiers", &Catch::modifiers, "with these keys held"),
    field("reach", &Catch::reach, "whether others may cover it"),
    field("phase", &Catch::phase, "which phase").names(Refers::phase),
    field("value", &Catch::value, "which variable or property").names(Refers::value),
    field("every", &Catch::every, "only this often while it stays").in(Unit::seconds).above(0),
    field("inside", &Catch::inside, "once for each visitor inside"));

/// Tags that a piece must have, or must not.
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

/// Where a visitor came from, relative to self (S3).
enum class Side { left, right, below, above };

template <>
inline constexpr auto wordsOf<Side> = std::array{
    EnumWord<Side>{Side::left, "left", "from the left"},
    EnumWord<Side>{Side::right, "right", "from the right"},
    EnumWord<Side>{Side::below, "below", "from below"},
    EnumWord<Side>{Side::above, "above", "from above"},
};

/// Whether a meeting stops or only senses (M2), as a filter asks for it.
enum class MannerWord { sense, stop };

template <>
inline constexpr auto wordsOf<MannerWord> = std::array{
    EnumWord<MannerWord>{MannerWord::sense, "sense", "it only senses"},
    EnumWord<MannerWord>{MannerWord::stop, "stop", "it stops the visitor"},
};

/// How fast, m/s.
struct SpeedFilter {
    std::optional<double> min, max;

    friend bool operator==(const SpeedFilter&, const SpeedFilter&) = default;
};

template <>
inline constexpr auto
    fieldsOf<SpeedFilter> = fields(word("speed", "how fast the visitor is; of a hit, how fast they close in"),
                                   field("min", &SpeedFilter::min, "at least").in(Unit::metresPerSecond).atLeast(0),
                                   field("max", &SpeedFilter::max, "at most").in(Unit::metresPerSecond).atLeast(0));

/// Which visitors, in which situation (S2). An empty list is no condition.
struct Filter {
    std::vector<std::string> groups;
    TagFilter tags;
    std::vector<std::string> pieces;
    std::vector<Condition> when;
    std::vector<std::string> templates = {};
    std::vector<Side> side = {};
    std::optional<MannerWord> manner = {};
    SpeedFilter speed = {};  ///< before anything was stopped
    std::string script = {}; ///< a Lua expression that must be true

    friend bool operator==(const Filter&, const Filter&) = default;
};

template <>
inline constexpr auto fieldsOf<Filter> =
    fields(word("filter", "which visitors, in which situation"),
           field("groups", &Filter::groups, "in one of these groups").names(Refers::group),
           field("tags", &Filter::tags, "with these tags"),
           field("pieces", &Filter::pieces, "one of these pieces").names(Refers::piece),
           field("templates", &Filter::templates, "made from one of these templates").names(Refers::form),
           field("side", &Filter::side, "came from one of these sides"),
           field("manner", &Filter::manner, "stops, or only senses"), field("speed", &Filter::speed, "how fast"),
           field("when", &Filter::when, "only while these hold"),
           field("script", &Filter::script, "a Lua expression that must be true").names(Refers::script));

enum class Each { snare, visitor };

template <>
inline constexpr auto wordsOf<Each> = std::array{
    EnumWord<Each>{Each::snare, "snare", "counted for all visitors together"},
    EnumWord<Each>{Each::visitor, "visitor", "counted for each visitor"},
};

/// When a gate forgets how often it sprang (S5).
enum class GateReset { restart, vacated, never };

template <>
inline constexpr auto wordsOf<GateReset> = std::array{
    EnumWord<GateReset>{GateReset::restart, "restart", "when the scene restarts"},
    EnumWord<GateReset>{GateReset::vacated, "vacated", "also when the place is empty"},
    EnumWord<GateReset>{GateReset::never, "never", "not even when the scene restarts"},
};

/// How often, and how long a visitor must stay (S4).
struct Gate {
    std::optional<int> limit;
    std::optional<double> cooldown; ///< s
    std::optional<double> dwell;    ///< s
    Each each = Each::snare;
    bool catchUp = false;
    std::optional<double> chance = {}; ///< 0 to 1
    GateReset reset = GateReset::restart;

    friend bool operator==(const Gate&, const Gate&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Gate> = fields(word("gate", "how often"),
                            field("limit", &Gate::limit, "at most this many times").atLeast(1),
                            field("cooldown", &Gate::cooldown, "not again for this long").in(Unit::seconds).atLeast(0),
                            field("dwell", &Gate::dwell, "only after staying this long").in(Unit::seconds).atLeast(0),
                            field("chance", &Gate::chance, "only this part of the times").atLeast(0).atMost(1),
                            field("each", &Gate::each, "what limit and cooldown count"),
                            field("reset", &Gate::reset, "when it forgets how often"),
                            field("catchUp", &Gate::catchUp, "when armed, also for those already inside"));

/// What springing again does while the responses of the last time still run (S8).
enum class Again { restart, stack, ignore };

template <>
inline constexpr auto wordsOf<Again> = std::array{
    EnumWord<Again>{Again::restart, "restart", "begin anew"},
    EnumWord<Again>{Again::stack, "stack", "run beside it"},
    EnumWord<Again>{Again::ignore, "ignore", "let the first one finish"},
};

/// A rule: which events it catches, which of them it lets by, how often, and what it does then
/// (S1).
struct Snare {
    std::string id;
    std::string note;
    bool armed = true;
    Catch catches;
    Filter filter;
    Gate gate;
    Again again = Again::restart;
    std::vector<Response> responses;
    OneOrMore<std::string> during = {}; ///< phases of self, or `scene:NAME`, in which it listens; always if empty
    bool claims = false;                ///< keeps the events it sprang on from the snares after it (S12)

    friend bool operator==(const Snare&, const Snare&) = default;
};

template <>
inline constexpr auto fieldsOf<Snare> =
    fields(word("snare", "a rule: catch, filter, gate, responses"),
           field("id", &Snare::id, "name of the snare").required(), field("note", &Snare::note, "a remark for people"),
           field("armed", &Snare::armed, "whether it listens at the start"),
           field("during", &Snare::during, "listens only in these phases").names(Refers::during),
           field("catch", &Snare::catches, "which events, and where").required(),
           field("filter", &Snare::filter, "which visitors"), field("gate", &Snare::gate, "how often"),
           field("again", &Snare::again, "springing again while it runs"),
           field("claims", &Snare::claims, "keeps what it sprang on from the snares after it"),
           field("responses", &Snare::responses, "what it does, in this order"));

} // namespace snare::scene
