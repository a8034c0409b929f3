// SPDX-License-Identifier: Apache-2.0
/// Responses: what a snare does when it springs. One struct and one table row each; `apply` in the
/// rules floor does it.
#pragma once

#include "scene/condition.h"
#include "scene/piece.h"

namespace snare::scene {

/// What a caption stands at when nothing else is said.
inline constexpr double captionSeconds = 2;

/// When what a response changed is set back to what it was before (S13).
enum class Until { exit };

template <>
inline constexpr auto wordsOf<Until> = std::array{
    EnumWord<Until>{Until::exit, "exit", "until the meeting ends"},
};

struct Say {
    Target on = Target::self();
    OneOrMore<Value<std::string>> text{{Value<std::string>{std::string{}}}}; ///< one a line
    Value<double> duration{captionSeconds};                                  ///< s
    bool wait = false;
    std::optional<Until> until = {};

    friend bool operator==(const Say&, const Say&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Say> = fields(word("say", "shows a caption at a piece, or on the glass for the scene",
                                "{on} says {text} for {for}|, gone {until}| and {wait}",
                                "caption label text message bubble show words tell speak"),
                           field("on", &Say::on, "who says it").names(Refers::target),
                           field("text", &Say::text, "the words; {self.name} puts a value in").names(Refers::words).required(),
                           field("for", &Say::duration, "how long").in(Unit::seconds).atLeast(0),
                           field("until", &Say::until, "when it goes"),
                           field("wait", &Say::wait, "wait until it is gone"));

/// A hint that stands at a piece while the meeting lasts.
struct Prompt {
    Target on = Target::self();
    Value<std::string> text{std::string{}};

    friend bool operator==(const Prompt&, const Prompt&) = default;
};

template <>
inline constexpr auto fieldsOf<Prompt> = fields(word("prompt", "shows a hint while the visitor is inside",
                                                     "{on} prompts {text}", "hint press key button help tip ask"),
                                                field("on", &Prompt::on, "where it stands").names(Refers::target),
                                                field("text", &Prompt::text, "the words").names(Refers::words).required());

struct Note {
    Value<std::string> text{std::string{}};

    friend bool operator==(const Note&, const Note&) = default;
};

template <>
inline constexpr auto fieldsOf<Note> = fields(word("log", "writes a note into the log", "note {text}",
                                                   "print trace write debug"),
                                              field("text", &Note::text, "the words").names(Refers::words).required());

struct Show {
    Target on = Target::self();
    std::optional<Until> until = {};

    friend bool operator==(const Show&, const Show&) = default;
};

template <>
inline constexpr auto fieldsOf<Show> = fields(word("show", "makes a piece appear", "show {on}|, {until}",
                                                   "appear visible reveal"),
                                              field("on", &Show::on, "what appears").names(Refers::target),
                                              field("until", &Show::until, "when it is set back"));

struct Hide {
    Target on = Target::self();
    std::optional<Until> until = {};

    friend bool operator==(const Hide&, const Hide&) = default;
};

template <>
inline constexpr auto fieldsOf<Hide> = fields(word("hide", "makes a piece disappear; it meets nothing meanwhile",
                                                   "hide {on}|, {until}", "disappear invisible vanish"),
                                              field("on", &Hide::on, "what disappears").names(Refers::target),
                                              field("until", &Hide::until, "when it is set back"));

struct Enable {
    Target on = Target::self();
    std::optional<Until> until = {};

    friend bool operator==(const Enable&, const Enable&) = default;
};

template <>
inline constexpr auto fieldsOf<Enable> = fields(word("enable", "lets a piece or shape take part in meetings",
                                                     "enable {on}|, {until}", "on activate solid"),
                                                field("on", &Enable::on, "what takes part").names(Refers::target),
                                                field("until", &Enable::until, "when it is set back"));

struct Disable {
    Target on = Target::self();
    std::optional<Until> until = {};

    friend bool operator==(const Disable&, const Disable&) = default;
};

template <>
inline constexpr auto fieldsOf<Disable> = fields(
    word("disable", "takes a piece or shape out of all meetings", "disable {on}|, {until}", "off deactivate passable"),
    field("on", &Disable::on, "what no longer takes part").names(Refers::target),
    field("until", &Disable::until, "when it is set back"));

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

/// The gates of the snares forget how often they sprang (S5).
struct Rearm {
    std::vector<std::string> snares;
    friend bool operator==(const Rearm&, const Rearm&) = default;
};

template <>
inline constexpr auto fieldsOf<Rearm> =
    fields(word("rearm", "lets gates forget how often they sprang", "rearm {snares}", "reset gate again once limit"),
           field("snares", &Rearm::snares, "which snares").names(Refers::snare).required());

struct Set {
    Target on = Target::self();
    std::string name;
    Value<Scalar> value{Scalar{0.0}};
    std::optional<Until> until = {};

    friend bool operator==(const Set&, const Set&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Set> = fields(word("set", "gives a property, variable or dial a value",
                                "set {name} of {on} to {value}|, {until}", "assign variable property store dial"),
                           field("on", &Set::on, "whose value").names(Refers::target),
                           field("name", &Set::name, "name of the value").names(Refers::value).required(),
                           field("value", &Set::value, "the new value").required(),
                           field("until", &Set::until, "when it is set back"));

struct Add {
    Target on = Target::self();
    std::string name;
    Value<double> value{1.0};
    std::optional<Until> until = {};

    friend bool operator==(const Add&, const Add&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Add> = fields(word("add", "adds to a property, variable or dial",
                                "add {value} to {name} of {on}|, {until}", "count increase decrease score plus"),
                           field("on", &Add::on, "whose value").names(Refers::target),
                           field("name", &Add::name, "name of the value").names(Refers::value).required(),
                           field("value", &Add::value, "how much").required(),
                           field("until", &Add::until, "when it is set back"));

struct Tag {
    Target on = Target::self();
    Value<std::string> tag{std::string{}};
    std::optional<Until> until = {};

    friend bool operator==(const Tag&, const Tag&) = default;
};

template <>
inline constexpr auto fieldsOf<Tag> = fields(word("tag", "gives a piece a tag", "tag {on} as {tag}|, {until}",
                                                  "mark label category"),
                                             field("on", &Tag::on, "who gets it").names(Refers::target),
                                             field("tag", &Tag::tag, "the tag").names(Refers::tag).required(),
                                             field("until", &Tag::until, "when it is set back"));

struct Untag {
    Target on = Target::self();
    Value<std::string> tag{std::string{}};
    std::optional<Until> until = {};

    friend bool operator==(const Untag&, const Untag&) = default;
};

template <>
inline constexpr auto fieldsOf<Untag> = fields(word("untag", "takes a tag from a piece",
                                                    "take tag {tag} from {on}|, {until}", "unmark unlabel"),
                                               field("on", &Untag::on, "who loses it").names(Refers::target),
                                               field("tag", &Untag::tag, "the tag").names(Refers::tag).required(),
                                               field("until", &Untag::until, "when it is set back"));

struct Regroup {
    Target on = Target::self();
    Value<std::string> group{std::string{}};
    std::optional<Until> until = {};

    friend bool operator==(const Regroup&, const Regroup&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Regroup> = fields(word("regroup", "puts a piece or shape into another group",
                                    "put {on} into group {group}|, {until}", "layer category collision"),
                               field("on", &Regroup::on, "what changes group").names(Refers::target),
                               field("group", &Regroup::group, "the new group").names(Refers::group).required(),
                               field("until", &Regroup::until, "when it is set back"));

/// A look by name, written out, or `next` in the order of `looks`.
struct LookChoice {
    OneOf<std::variant<std::string, Look, Formula>> held = std::string{"next"};
    std::optional<Formula> colour = {}; ///< of a look that is written out, if its colour is worked out

    friend bool operator==(const LookChoice&, const LookChoice&) = default;
};

struct ChangeLook {
    Target on = Target::self();
    LookChoice to;
    std::optional<Until> until = {};

    friend bool operator==(const ChangeLook&, const ChangeLook&) = default;
};

template <>
inline constexpr auto fieldsOf<ChangeLook> =
    fields(word("look", "changes how a piece is drawn", "{on} looks {to}|, {until}",
                "colour image picture sprite light glow swap play frames"),
           field("on", &ChangeLook::on, "what changes").names(Refers::target),
           field("to", &ChangeLook::to, "a named look, or the next one").names(Refers::look).required(),
           field("until", &ChangeLook::until, "when it is set back"));

/// How a move speeds up and slows down; it takes as long as without.
enum class Ease { none, in, out, both };

template <>
inline constexpr auto wordsOf<Ease> = std::array{
    EnumWord<Ease>{Ease::none, "none", "always as fast"},
    EnumWord<Ease>{Ease::in, "in", "starts slowly"},
    EnumWord<Ease>{Ease::out, "out", "ends slowly"},
    EnumWord<Ease>{Ease::both, "both", "starts and ends slowly"},
};

/// Moves a kinematic piece in a straight line (V3).
struct Move {
    Target on = Target::self();
    std::optional<Destination> to;
    std::optional<Offset> by;    ///< m, from where it is when the move starts
    double rise = 0;             ///< m, upwards, with `by` (M15)
    Value<double> speed{1.0};    ///< m/s, > 0
    Value<double> arrive{0.001}; ///< m, near enough
    bool wait = false;
    Ease ease = Ease::none;

    friend bool operator==(const Move&, const Move&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Move> = fields(word("move", "moves a kinematic piece to a place or by an offset",
                                 "move {on} at {speed}| to {to}| by {by}|, near enough at {arrive}|, easing {ease}| "
                                 "and {wait}",
                                 "slide go travel walk roll drive send"),
                            field("on", &Move::on, "what moves").names(Refers::target),
                            field("to", &Move::to, "where to").names(Refers::place).in(Unit::metres).wanted(),
                            field("by", &Move::by, "how far from here").in(Unit::metres).rising(&Move::rise).wanted(),
                            field("speed", &Move::speed, "how fast").in(Unit::metresPerSecond).above(0),
                            field("arrive", &Move::arrive, "near enough").in(Unit::metres).atLeast(0),
                            field("ease", &Move::ease, "how it speeds up and slows down"),
                            field("wait", &Move::wait, "wait until it is there"));

/// Follows a piece until it is stopped, or the piece is gone (V3).
struct Chase {
    Target on = Target::self();
    Target after{{"visitor"}};
    Value<double> speed{1.0}; ///< m/s, > 0
    Value<double> near{0.0};  ///< m, keeps this far away

    friend bool operator==(const Chase&, const Chase&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Chase> = fields(word("chase", "follows a piece until it is stopped",
                                  "{on} chases {after} at {speed}|, up to {near}", "follow hunt pursue track after"),
                             field("on", &Chase::on, "what follows").names(Refers::target),
                             field("after", &Chase::after, "whom").names(Refers::target).required(),
                             field("speed", &Chase::speed, "how fast").in(Unit::metresPerSecond).above(0),
                             field("near", &Chase::near, "how close").in(Unit::metres).atLeast(0));

struct Turn {
    Target on = Target::self();
    std::optional<Value<double>> to;
    std::optional<Value<double>> by;
    Value<double> speed{90.0}; ///< degrees/s, > 0
    bool wait = false;

    friend bool operator==(const Turn&, const Turn&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Turn> = fields(word("turn", "turns a kinematic piece to a direction or by an angle",
                                 "turn {on} at {speed}| to {to}| by {by}| and {wait}", "rotate spin swing point"),
                            field("on", &Turn::on, "what turns").names(Refers::target),
                            field("to", &Turn::to, "direction, the shorter way round").in(Unit::degrees).wanted(),
                            field("by", &Turn::by, "angle, counter-clockwise").in(Unit::degrees).wanted(),
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
    std::optional<Offset> by;
    double rise = 0; ///< m, upwards, with `by` (M15)
    bool ifClear = false;

    friend bool operator==(const Put&, const Put&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Put> = fields(word("put", "is there at once, without the way between",
                                "put {on}| at {at}| by {by}|, {ifClear}", "teleport place jump warp position"),
                           field("on", &Put::on, "what is put").names(Refers::target),
                           field("at", &Put::at, "where").names(Refers::place).in(Unit::metres).wanted(),
                           field("by", &Put::by, "how far from here").in(Unit::metres).rising(&Put::rise).wanted(),
                           field("ifClear", &Put::ifClear, "only if no solid is in the way"));

/// A change of velocity at once.
struct Push {
    Target on = Target::self();
    std::optional<Offset> impulse;  ///< kg m/s, for pieces with a mass
    std::optional<Offset> velocity; ///< m/s, added

    friend bool operator==(const Push&, const Push&) = default;
};

template <>
inline constexpr auto fieldsOf<Push> =
    fields(word("push", "adds to the velocity of a piece", "push {on}| by {velocity}| with impulse {impulse}",
                "kick throw launch force impulse bump"),
           field("on", &Push::on, "what is pushed").names(Refers::target),
           field("impulse", &Push::impulse, "by mass: how much faster times kg").wanted(),
           field("velocity", &Push::velocity, "how much faster").in(Unit::metresPerSecond).wanted());

/// Makes a piece larger or smaller; its shapes follow about the piece's place.
struct Size {
    Target on = Target::self();
    std::optional<Value<double>> to; ///< times what was drawn, > 0
    std::optional<Value<double>> by; ///< times what it is now, > 0
    std::optional<Until> until = {};

    friend bool operator==(const Size&, const Size&) = default;
};

template <>
inline constexpr auto fieldsOf<Size> = fields(word("size", "makes a piece larger or smaller",
                                                   "size {on}| to {to} times as drawn| by {by} times|, {until}",
                                                   "grow shrink scale bigger smaller resize"),
                                              field("on", &Size::on, "what changes size").names(Refers::target),
                                              field("to", &Size::to, "times its size as drawn").above(0).wanted(),
                                              field("by", &Size::by, "times its size now").above(0).wanted(),
                                              field("until", &Size::until, "when it is set back"));

/// From now on it is carried along, keeping its place relative to the carrier, and does not meet it
/// (M14, V4).
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

/// Whose axes an offset is in: those of the scene, or those of self with the way it faces.
enum class Frame { scene, self };

template <>
inline constexpr auto wordsOf<Frame> = std::array{
    EnumWord<Frame>{Frame::scene, "scene", "as the scene lies"},
    EnumWord<Frame>{Frame::self, "self", "from self, turned the way it faces"},
};

/// Makes a piece from a template (K4, K7). Its id is TEMPLATE-1, TEMPLATE-2, …
struct Spawn {
    Value<std::string> form{std::string{}}; ///< the template
    std::optional<Destination> at;          ///< where self is if left out
    Frame frame = Frame::scene;
    std::optional<Offset> velocity; ///< m/s
    bool inherit = false;           ///< adds the velocity of self
    Named<Value<Scalar>> set;       ///< its own values
    std::string as;                 ///< property of self, or variable, that gets its id

    friend bool operator==(const Spawn&, const Spawn&) = default;
};

template <>
inline constexpr auto fieldsOf<Spawn> =
    fields(word("spawn", "makes a piece from a template",
                "spawn {template}| at {at}|, as {frame} lies| with velocity {velocity}| and {inherit}| with {set}|, "
                "kept as {as}",
                "create make new stamp throw launch shoot drop generate"),
           field("template", &Spawn::form, "what it is made from").names(Refers::form).required(),
           field("at", &Spawn::at, "where; where self is if left out").names(Refers::place).in(Unit::metres),
           field("frame", &Spawn::frame, "whose axes place and velocity are in"),
           field("velocity", &Spawn::velocity, "how it starts to move").in(Unit::metresPerSecond),
           field("inherit", &Spawn::inherit, "adds the velocity of self"), field("set", &Spawn::set, "its own values"),
           field("as", &Spawn::as, "property of self that gets its name").names(Refers::value));

/// Changes the phase of a piece or of the scene (K4).
struct ChangePhase {
    Target on = Target::self();
    Value<std::string> to{std::string{"next"}}; ///< a phase, or `next`

    friend bool operator==(const ChangePhase&, const ChangePhase&) = default;
};

template <>
inline constexpr auto fieldsOf<ChangePhase> =
    fields(word("phase", "changes the phase of a piece or of the scene", "{on} goes to phase {to}",
                "state mode switch open close win lose next"),
           field("on", &ChangePhase::on, "whose phase").names(Refers::target),
           field("to", &ChangePhase::to, "the phase, or the next one").names(Refers::phase).required());

struct Signal {
    Value<std::string> name{std::string{}};
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

enum class TimerState { start, stop };

template <>
inline constexpr auto wordsOf<TimerState> = std::array{
    EnumWord<TimerState>{TimerState::start, "start", "begins to run, from now"},
    EnumWord<TimerState>{TimerState::stop, "stop", "stops running"},
};

/// Starts or stops a timer of the scene, or one of self (P8).
struct ChangeTimer {
    std::string source;
    TimerState to = TimerState::start;

    friend bool operator==(const ChangeTimer&, const ChangeTimer&) = default;
};

template <>
inline constexpr auto fieldsOf<ChangeTimer> =
    fields(word("timer", "starts or stops a timer", "{to} the timer {source}", "clock countdown start stop"),
           field("source", &ChangeTimer::source, "which timer").names(Refers::source).required(),
           field("to", &ChangeTimer::to, "what it does").required());

/// Plays a sound where there is a device for it; always logged.
struct Sound {
    std::string file; ///< beside the scene
    std::string name; ///< instead of a file: what whoever plays the scene knows it by
    Value<double> gain{1.0};

    friend bool operator==(const Sound&, const Sound&) = default;
};

template <>
inline constexpr auto fieldsOf<Sound> = fields(word("sound", "plays a sound", "sound| {file}| {name}|, gain {gain}",
                                                    "play noise audio music bell"),
                                               field("file", &Sound::file, "a file beside the scene").wanted(),
                                               field("name", &Sound::name, "a name instead of a file").wanted(),
                                               field("gain", &Sound::gain, "how loud").atLeast(0));

/// Shakes the view.
struct Shake {
    Value<double> strength{0.2}; ///< m
    Value<double> duration{0.4}; ///< s

    friend bool operator==(const Shake&, const Shake&) = default;
};

template <>
inline constexpr auto fieldsOf<Shake> =
    fields(word("shake", "shakes the view", "shake the view by {strength} for {for}", "tremble quake rumble camera"),
           field("strength", &Shake::strength, "how far").in(Unit::metres).atLeast(0).required(),
           field("for", &Shake::duration, "how long").in(Unit::seconds).atLeast(0).required());

/// Runs a routine of the scene or of a kit, with values that it reads as `with.NAME`.
struct RunRoutine {
    std::string routine;
    Named<Value<Scalar>> with;
    bool wait = false;

    friend bool operator==(const RunRoutine&, const RunRoutine&) = default;
};

template <>
inline constexpr auto fieldsOf<RunRoutine> = fields(
    word("run", "runs a routine", "run {routine}| with {with}| and {wait}",
         "call function shared list reuse macro subroutine"),
    field("routine", &RunRoutine::routine, "which routine").names(Refers::routine).required(),
    field("with", &RunRoutine::with, "values for it"), field("wait", &RunRoutine::wait, "wait until it is done"));

struct Restart {
    friend bool operator==(const Restart&, const Restart&) = default;
};

template <>
inline constexpr auto fieldsOf<Restart> = fields(word("restart", "puts the whole scene back to its start state",
                                                      "restart the scene", "reset again retry begin"));

/// Runs a Lua script, which may assign to the values of scene, self, visitor and with (S14).
struct Script {
    std::string lua;

    friend bool operator==(const Script&, const Script&) = default;
};

template <>
inline constexpr auto fieldsOf<Script> =
    fields(word("script", "runs a script in Lua", "script {lua}", "lua code program expression compute"),
           field("lua", &Script::lua, "the script").names(Refers::script).required());

using AnyResponse =
    std::variant<Say, Prompt, Note, Show, Hide, Enable, Disable, Arm, Disarm, Rearm, Set, Add, Tag, Untag, Regroup,
                 ChangeLook, Size, Move, Chase, Turn, Stop, Put, Push, Attach, Detach, Remove, Spawn, ChangePhase,
                 Signal, Wait, ChangeTimer, Sound, Shake, RunRoutine, Restart, Script>;
using ResponseKind = OneOf<AnyResponse>;

/// What responses are for; each stands under one. Lists of responses are shown in this order.
struct Purpose {
    std::string_view title;
    std::string_view words; ///< of the responses, parted by spaces
};

inline constexpr std::array purposes{
    Purpose{"Show and tell", "say prompt look show hide sound shake log"},
    Purpose{"Move", "move chase turn stop put push size attach detach"},
    Purpose{"Come, go and belong", "spawn remove enable disable regroup tag untag"},
    Purpose{"Values and phases", "set add phase"},
    Purpose{"Signals and time", "signal wait timer run script restart"},
    Purpose{"Other snares", "arm disarm rearm"},
};

/// One step of a snare: what is done, and on which condition.
struct Response {
    ResponseKind kind = Note{};
    std::vector<Condition> onlyIf;

    friend bool operator==(const Response&, const Response&) = default;
};

/// The table row of what a response does: key, meaning, sentence.
const Word& wordOfResponse(const ResponseKind& kind);

/// The same by its number, the place of the response in ResponseKind.
const Word& wordOfResponse(std::size_t number);

template <class R, class... All> constexpr std::uint8_t numberIn(const std::variant<All...>* /*list*/)
{
    std::uint8_t number = 0;
    static_cast<void>(((!std::is_same_v<R, All> && (++number, true)) && ...));
    return number;
}

/// The number of a response.
template <class R> inline constexpr std::uint8_t numberOf = numberIn<R>(static_cast<const AnyResponse*>(nullptr));

/// Whether a response lasts until the meeting that caused it ends (S13).
bool lastsUntilExit(const Response& response);

} // namespace snare::scene
