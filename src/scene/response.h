// SPDX-License-Identifier: Apache-2.0
/// Responses: what a snare does when it springs. One struct and one table row each; `apply` in the rules floor does it.
#pragma once

#include "scene/condition.h"
#include "scene/piece.h"

namespace snare::scene {

/// What a caption stands at when nothing else is said.
inline constexpr double captionSeconds = 2;

struct Say {
    Target on = Target::self();
    Value<std::string> text{std::string{}};
    double duration = captionSeconds; ///< s
    bool wait = false;

    friend bool operator==(const Say&, const Say&) = default;
};

template <>
inline constexpr auto fieldsOf<Say> = fields(word("say", "shows a caption at a piece, or on the glass for the scene",
                                                  "{on} says {text} for {for}| and {wait}",
                                                  "caption label text message bubble show words tell"),
                                             field("on", &Say::on, "who says it").names(Refers::target),
                                             field("text", &Say::text, "the words").required(),
                                             field("for", &Say::duration, "how long").in(Unit::seconds).atLeast(0),
                                             field("wait", &Say::wait, "wait until it is gone"));

struct Note {
    Value<std::string> text{std::string{}};

    friend bool operator==(const Note&, const Note&) = default;
};

template <>
inline constexpr auto fieldsOf<Note> = fields(word("log", "writes a note into the log", "note {text}",
                                                   "print trace write debug"),
                                              field("text", &Note::text, "the words").required());

struct Show {
    Target on = Target::self();
    friend bool operator==(const Show&, const Show&) = default;
};

template <>
inline constexpr auto fieldsOf<Show> = fields(word("show", "makes a piece appear", "show {on}",
                                                   "appear visible reveal"),
                                              field("on", &Show::on, "what appears").names(Refers::target));

struct Hide {
    Target on = Target::self();
    friend bool operator==(const Hide&, const Hide&) = default;
};

template <>
inline constexpr auto fieldsOf<Hide> = fields(word("hide", "makes a piece disappear; it meets nothing meanwhile",
                                                   "hide {on}", "disappear invisible vanish"),
                                              field("on", &Hide::on, "what disappears").names(Refers::target));

struct Enable {
    Target on = Target::self();
    friend bool operator==(const Enable&, const Enable&) = default;
};

template <>
inline constexpr auto fieldsOf<Enable> = fields(word("enable", "lets a piece or shape take part in meetings",
                                                     "enable {on}", "on activate solid"),
                                                field("on", &Enable::on, "what takes part").names(Refers::target));

struct Disable {
    Target on = Target::self();
    friend bool operator==(const Disable&, const Disable&) = default;
};

template <>
inline constexpr auto fieldsOf<Disable> =
    fields(word("disable", "takes a piece or shape out of all meetings", "disable {on}", "off deactivate passable"),
           field("on", &Disable::on, "what no longer takes part").names(Refers::target));

struct Arm {
    std::vector<std::string> snares;
    friend bool operator==(const Arm&, const Arm&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Arm> = fields(word("arm", "lets snares listen", "arm {snares}", "activate switch on listen"),
                           field("snares", &Arm::snares, "which snares").names(Refers::snare).required());

struct Disarm {
    std::vector<std::string> snares;
    friend bool operator==(const Disarm&, const Disarm&) = default;
};

template <>
inline constexpr auto fieldsOf<Disarm> =
    fields(word("disarm", "stops snares from listening", "disarm {snares}", "deactivate switch off deafen"),
           field("snares", &Disarm::snares, "which snares").names(Refers::snare).required());

struct Set {
    Target on = Target::self();
    std::string name;
    Value<Scalar> value{Scalar{0.0}};
    friend bool operator==(const Set&, const Set&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Set> = fields(word("set", "gives a property or variable a value", "set {name} of {on} to {value}",
                                "assign variable property store"),
                           field("on", &Set::on, "whose value").names(Refers::target),
                           field("name", &Set::name, "name of the value").names(Refers::property).required(),
                           field("value", &Set::value, "the new value").required());

struct Add {
    Target on = Target::self();
    std::string name;
    Value<double> value{1.0};
    friend bool operator==(const Add&, const Add&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Add> = fields(word("add", "adds to a property or variable", "add {value} to {name} of {on}",
                                "count increase decrease score plus"),
                           field("on", &Add::on, "whose value").names(Refers::target),
                           field("name", &Add::name, "name of the value").names(Refers::property).required(),
                           field("value", &Add::value, "how much").required());

struct Tag {
    Target on = Target::self();
    std::string tag;
    friend bool operator==(const Tag&, const Tag&) = default;
};

template <>
inline constexpr auto fieldsOf<Tag> = fields(word("tag", "gives a piece a tag", "tag {on} as {tag}",
                                                  "mark label category"),
                                             field("on", &Tag::on, "who gets it").names(Refers::target),
                                             field("tag", &Tag::tag, "the tag").names(Refers::tag).required());

struct Untag {
    Target on = Target::self();
    std::string tag;
    friend bool operator==(const Untag&, const Untag&) = default;
};

template <>
inline constexpr auto fieldsOf<Untag> = fields(word("untag", "takes a tag from a piece", "take tag {tag} from {on}",
                                                    "unmark unlabel"),
                                               field("on", &Untag::on, "who loses it").names(Refers::target),
                                               field("tag", &Untag::tag, "the tag").names(Refers::tag).required());

struct Regroup {
    Target on = Target::self();
    std::string group;
    friend bool operator==(const Regroup&, const Regroup&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Regroup> = fields(word("regroup", "puts a piece or shape into another group",
                                    "put {on} into group {group}", "layer category collision"),
                               field("on", &Regroup::on, "what changes group").names(Refers::target),
                               field("group", &Regroup::group, "the new group").names(Refers::group).required());

/// A look by name, written out, or `next` in the order of `looks`.
struct LookChoice {
    std::variant<std::string, Look> held = std::string{"next"};
    friend bool operator==(const LookChoice&, const LookChoice&) = default;
};

struct ChangeLook {
    Target on = Target::self();
    LookChoice to;
    friend bool operator==(const ChangeLook&, const ChangeLook&) = default;
};

template <>
inline constexpr auto fieldsOf<ChangeLook> = fields(
    word("look", "changes how a piece is drawn", "{on} looks {to}", "colour image picture sprite light glow swap"),
    field("on", &ChangeLook::on, "what changes").names(Refers::target),
    field("to", &ChangeLook::to, "a named look, or the next one").names(Refers::look).required());

/// Moves a kinematic piece in a straight line (V3).
struct Move {
    Target on = Target::self();
    std::optional<Destination> to;
    std::optional<Vec> by;    ///< m, from where it is when the move starts
    double rise = 0;          ///< m, upwards, with `by` (M15)
    Value<double> speed{1.0}; ///< m/s, > 0
    double arrive = 0.001;    ///< m, near enough
    bool wait = false;
    friend bool operator==(const Move&, const Move&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Move> = fields(word("move", "moves a kinematic piece to a place or by an offset",
                                 "move {on} at {speed}| to {to}| by {by}|, near enough at {arrive}| and {wait}",
                                 "slide go travel walk roll drive send"),
                            field("on", &Move::on, "what moves").names(Refers::target),
                            field("to", &Move::to, "where to").names(Refers::place).in(Unit::metres),
                            field("by", &Move::by, "how far from here").in(Unit::metres).rising(&Move::rise),
                            field("speed", &Move::speed, "how fast").in(Unit::metresPerSecond).above(0),
                            field("arrive", &Move::arrive, "near enough").in(Unit::metres).atLeast(0),
                            field("wait", &Move::wait, "wait until it is there"));

struct Turn {
    Target on = Target::self();
    std::optional<double> to;
    std::optional<double> by;
    Value<double> speed{90.0}; ///< degrees/s, > 0
    bool wait = false;
    friend bool operator==(const Turn&, const Turn&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Turn> = fields(word("turn", "turns a kinematic piece to a direction or by an angle",
                                 "turn {on} at {speed}| to {to}| by {by}| and {wait}", "rotate spin swing point"),
                            field("on", &Turn::on, "what turns").names(Refers::target),
                            field("to", &Turn::to, "direction, the shorter way round").in(Unit::degrees),
                            field("by", &Turn::by, "angle, counter-clockwise").in(Unit::degrees),
                            field("speed", &Turn::speed, "how fast").in(Unit::degreesPerSecond).above(0),
                            field("wait", &Turn::wait, "wait until it is done"));

struct Stop {
    Target on = Target::self();
    friend bool operator==(const Stop&, const Stop&) = default;
};

template <>
inline constexpr auto fieldsOf<Stop> = fields(word("stop", "ends moves, turns and velocity of a piece", "stop {on}",
                                                   "halt freeze end brake"),
                                              field("on", &Stop::on, "what stops").names(Refers::target));

struct Put {
    Target on = Target::self();
    std::optional<Destination> at;
    std::optional<Vec> by;
    double rise = 0; ///< m, upwards, with `by` (M15)
    friend bool operator==(const Put&, const Put&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Put> = fields(word("put", "is there at once, without the way between", "put {on}| at {at}| by {by}",
                                "teleport place jump warp position"),
                           field("on", &Put::on, "what is put").names(Refers::target),
                           field("at", &Put::at, "where").names(Refers::place).in(Unit::metres),
                           field("by", &Put::by, "how far from here").in(Unit::metres).rising(&Put::rise));

/// Makes a piece larger or smaller; its shapes follow about the piece's place.
struct Size {
    Target on = Target::self();
    std::optional<Value<double>> to; ///< times what was drawn, > 0
    std::optional<Value<double>> by; ///< times what it is now, > 0
    friend bool operator==(const Size&, const Size&) = default;
};

template <>
inline constexpr auto fieldsOf<Size> = fields(word("size", "makes a piece larger or smaller",
                                                   "size {on}| to {to} times as drawn| by {by} times",
                                                   "grow shrink scale bigger smaller resize"),
                                              field("on", &Size::on, "what changes size").names(Refers::target),
                                              field("to", &Size::to, "times its size as drawn").above(0),
                                              field("by", &Size::by, "times its size now").above(0));

/// From now on it is carried along, keeping its place relative to the carrier, and does not meet it (M14, V4).
struct Attach {
    Target on = Target::self();
    Target to;
    friend bool operator==(const Attach&, const Attach&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Attach> = fields(word("attach", "lets a piece be carried along by another", "attach {on} to {to}",
                                   "carry hold ride join glue take pick up parent"),
                              field("on", &Attach::on, "what is carried").names(Refers::target),
                              field("to", &Attach::to, "who carries it").names(Refers::target).required());

struct Detach {
    Target on = Target::self();
    friend bool operator==(const Detach&, const Detach&) = default;
};

template <>
inline constexpr auto fieldsOf<Detach> = fields(word("detach", "lets go of what is carried", "detach {on}",
                                                     "drop release let go leave"),
                                                field("on", &Detach::on, "what is let go").names(Refers::target));

struct Remove {
    Target on = Target::self();
    friend bool operator==(const Remove&, const Remove&) = default;
};

template <>
inline constexpr auto fieldsOf<Remove> = fields(word("remove", "takes a piece out of the scene", "remove {on}",
                                                     "delete destroy kill take away"),
                                                field("on", &Remove::on, "what is taken out").names(Refers::target));

struct Signal {
    std::string name;
    Named<Value<Scalar>> with;
    std::optional<Target> to;
    bool wait = false;
    friend bool operator==(const Signal&, const Signal&) = default;
};

template <>
inline constexpr auto fieldsOf<Signal> =
    fields(word("signal", "raises a signal that other snares hear", "signal {name}| with {with}| to {to}| and {wait}",
                "emit send notify message broadcast trigger fire event"),
           field("name", &Signal::name, "name of the signal").names(Refers::signal).required(),
           field("with", &Signal::with, "values it carries"),
           field("to", &Signal::to, "only these hear it").names(Refers::target),
           field("wait", &Signal::wait, "wait until all who heard it are done"));

struct Wait {
    Value<double> duration{1.0}; ///< s, >= 0
    friend bool operator==(const Wait&, const Wait&) = default;
};

template <>
inline constexpr auto fieldsOf<Wait> =
    fields(word("wait", "waits before the next response", "wait {for}", "delay pause sleep after later"),
           field("for", &Wait::duration, "how long").in(Unit::seconds).atLeast(0).required());

struct Restart {
    friend bool operator==(const Restart&, const Restart&) = default;
};

template <>
inline constexpr auto fieldsOf<Restart> = fields(word("restart", "puts the whole scene back to its start state",
                                                      "restart the scene", "reset again retry begin"));

using ResponseKind =
    std::variant<Say, Note, Show, Hide, Enable, Disable, Arm, Disarm, Set, Add, Tag, Untag, Regroup, ChangeLook, Size,
                 Move, Turn, Stop, Put, Attach, Detach, Remove, Signal, Wait, Restart>;

/// One step of a snare: what is done, and on which condition.
struct Response {
    ResponseKind kind = Note{};
    std::vector<Condition> onlyIf;

    friend bool operator==(const Response&, const Response&) = default;
};

/// The table row of what a response does: key, meaning, sentence.
const Word& wordOfResponse(const ResponseKind& kind);

} // namespace snare::scene
