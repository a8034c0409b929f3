// SPDX-License-Identifier: Apache-2.0
/// Pieces: what is placed in a scene, with body, shapes and look. Plain values; lengths in metres,
/// turns in degrees.
#pragma once

#include "geometry/trace.h"
#include "scene/fields.h"
#include "scene/source.h"
#include "scene/values.h"

#include <array>
#include <memory>
#include <string>
#include <variant>
#include <vector>

namespace snare::scene {

// --- geometry of a shape -------------------------------------------------------------------------------------------

/// m, about the place of its shape; the radius is above 0.
struct Circle {
    double radius = 0.5; ///< m, > 0

    friend bool operator==(const Circle&, const Circle&) = default;
};

template <>
inline constexpr auto fieldsOf<Circle> =
    fields(word("circle", "a disc"),
           field("radius", &Circle::radius, "radius").in(Unit::metres).above(0).required().shorthand());

/// m, width and height about the place of its shape; both above 0.
struct Box {
    Vec size{1, 1}; ///< width and height, m, > 0

    friend bool operator==(const Box&, const Box&) = default;
};

template <>
inline constexpr auto fieldsOf<Box> =
    fields(word("box", "a rectangle"),
           field("size", &Box::size, "width and height").in(Unit::metres).above(0).required().shorthand());

/// All points within `radius` of a segment.
struct Capsule {
    Vec from{-0.5, 0}; ///< m
    Vec to{0.5, 0};    ///< m
    double radius = 0.25;

    friend bool operator==(const Capsule&, const Capsule&) = default;
};

template <>
inline constexpr auto fieldsOf<Capsule> =
    fields(word("capsule", "a rounded bar"),
           field("from", &Capsule::from, "one end of its middle line").in(Unit::metres).required(),
           field("to", &Capsule::to, "the other end").in(Unit::metres).required(),
           field("radius", &Capsule::radius, "half its thickness").in(Unit::metres).above(0).required());

/// An area with straight edges that do not cross; may be concave (M13). At least three points, in
/// either direction.
struct Polygon {
    std::vector<Vec> points; ///< m

    friend bool operator==(const Polygon&, const Polygon&) = default;
};

template <>
inline constexpr auto fieldsOf<Polygon> =
    fields(word("polygon", "an area with straight edges"),
           field("points", &Polygon::points, "its corners").in(Unit::metres).required().shorthand());

/// Edges without an inside: an open line of at least two points, or a closed one of at least three.
struct Line {
    std::vector<Vec> points; ///< m
    bool closed = false;

    friend bool operator==(const Line&, const Line&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Line> = fields(word("line", "edges without an inside"),
                            field("points", &Line::points, "its corners").in(Unit::metres).required().shorthand(),
                            field("closed", &Line::closed, "whether the last point joins the first"));

/// What tracing a picture gave, in metres in the axes of the shape.
struct TracedArea {
    std::string image;
    bool found = false; ///< the picture could be read
    std::vector<geometry::Ring> rings;
    std::vector<geometry::Hull> parts;
};

/// Worked out from the pictures by whoever can read them (`io/pictures.h`); no part of the
/// document.
struct Tracing {
    std::shared_ptr<const std::vector<TracedArea>> areas; ///< of its own picture, or of each look's

    /// The area in this picture, or null.
    const TracedArea* of(std::string_view image) const;

    friend bool operator==(const Tracing&, const Tracing&) { return true; }
};

/// The outline of all pixels of a picture that have one of some colours, holes kept.
struct Traced {
    std::string image; ///< a PNG beside the scene; the picture of the piece's current look if left out
    OneOrMore<Colour> colour{{Colour{"#000000"}}};
    double tolerance = 16; ///< how far red, green and blue of a pixel may be off, 0 to 255
    Vec size{1, 1};        ///< of the whole picture, m, > 0; its middle is the shape's place
    Tracing tracing;

    friend bool operator==(const Traced&, const Traced&) = default;
};

template <>
inline constexpr auto fieldsOf<Traced> =
    fields(word("traced", "an area of a picture"),
           field("image", &Traced::image, "the picture, a PNG; that of the current look if left out"),
           field("colour", &Traced::colour, "which pixels").names(Refers::colour).required(),
           field("tolerance", &Traced::tolerance, "how far red, green and blue may be off").atLeast(0).atMost(255),
           field("size", &Traced::size, "width and height of the whole picture").in(Unit::metres).above(0).required());

using AnyGeometry = std::variant<Circle, Box, Capsule, Polygon, Line, Traced>;
using Geometry = OneOf<AnyGeometry>;

/// The word of the geometry: "circle", "box", …
std::string_view kindOf(const Geometry& geometry);

/// The points of a polygon or a line that can be edited one by one; null for the others.
std::vector<Vec>* pointsOf(Geometry& geometry);
const std::vector<Vec>* pointsOf(const Geometry& geometry);

/// What is wrong with the points of a polygon or line, or nothing: too few, doubled, crossing
/// edges, no area.
std::optional<std::string> faultOf(const Geometry& geometry);

enum class Role : std::uint8_t { solid, zone };

template <>
inline constexpr auto wordsOf<Role> = std::array{
    EnumWord<Role>{Role::solid, "solid", "stops other solids"},
    EnumWord<Role>{Role::zone, "zone", "only senses"},
};

/// Geometry on a piece, placed relative to it.
struct Shape {
    std::string id; ///< else its index in the piece
    Role role = Role::solid;
    Geometry geometry = Circle{};
    Vec at{0, 0};
    double turn = 0;
    std::string group; ///< else the piece's
    bool enabled = true;
    double margin = 0;                         ///< a meeting of a zone ends only beyond it (M3)
    std::optional<std::array<double, 2>> band; ///< lowest and highest, over the piece's height; else unlimited (M15), m
    double friction = 0.5;                     ///< of a solid, >= 0; that of two is the root of their product (V7)
    double bounce = 0; ///< of a solid, 0 to 1: the part of its speed that it leaves with; the larger of two counts (V7)

    friend bool operator==(const Shape&, const Shape&) = default;
};

template <>
inline constexpr auto fieldsOf<Shape> = fields(
    word("shape", "geometry on a piece"), //
    field("id", &Shape::id, "name of the shape; its index if left out"),
    field("role", &Shape::role, "whether it stops or only senses"), oneOfKeys(&Shape::geometry, "the geometry"), //
    field("at", &Shape::at, "offset from the piece").in(Unit::metres),
    field("turn", &Shape::turn, "turned against the piece").in(Unit::degrees),
    field("group", &Shape::group, "group of this shape; else the piece's").names(Refers::group),
    field("enabled", &Shape::enabled, "whether it takes part in meetings"),
    field("margin", &Shape::margin, "a visitor has left only when it is this far away").in(Unit::metres).atLeast(0),
    field("friction", &Shape::friction, "how much a solid grips what slides on it").atLeast(0),
    field("bounce", &Shape::bounce, "how much of its speed what hits it keeps").atLeast(0).atMost(1),
    field("band", &Shape::band, "lowest and highest, over the height of the piece; unlimited if left out")
        .in(Unit::metres));

// --- body ----------------------------------------------------------------------------------------------------------

/// Stays where it is.
struct StaticBody {
    friend bool operator==(const StaticBody&, const StaticBody&) = default;
};

template <> inline constexpr auto fieldsOf<StaticBody> = fields(word("static", "stays where it is"));

/// What comes after the last point of a route.
enum class Loop { once, cycle, back };

template <>
inline constexpr auto wordsOf<Loop> = std::array{
    EnumWord<Loop>{Loop::once, "once", "it stays there"},
    EnumWord<Loop>{Loop::cycle, "cycle", "on to the first point, round and round"},
    EnumWord<Loop>{Loop::back, "back", "the same way back, to and fro"},
};

/// A way that a piece goes by itself: from where it is to the first point, then on from point to
/// point. A move takes it off its route until it has arrived; `stop` ends it.
struct Route {
    std::vector<Vec> points; ///< m, in the scene
    double speed = 1;        ///< m/s
    Loop loop = Loop::once;

    friend bool operator==(const Route&, const Route&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Route> = fields(word("route", "a way that it goes by itself"),
                             field("points", &Route::points, "from point to point").in(Unit::metres).required(),
                             field("speed", &Route::speed, "how fast").in(Unit::metresPerSecond).above(0),
                             field("loop", &Route::loop, "what comes after the last point"));

/// Goes where its velocity, its route or a move takes it and is stopped by nothing (V1).
struct KinematicBody {
    Vec velocity{0, 0}; ///< m/s
    double spin = 0;    ///< degrees/s
    double rise = 0;    ///< m/s, upwards (M15)
    std::optional<Route> route = {};

    friend bool operator==(const KinematicBody&, const KinematicBody&) = default;
};

template <>
inline constexpr auto fieldsOf<KinematicBody> =
    fields(word("kinematic", "moves as told, stopped by nothing"),
           field("velocity", &KinematicBody::velocity, "how it moves by itself")
               .in(Unit::metresPerSecond)
               .rising(&KinematicBody::rise),
           field("spin", &KinematicBody::spin, "how it turns by itself").in(Unit::degreesPerSecond),
           field("route", &KinematicBody::route, "a way that it goes by itself"));

/// Falls, slides, tumbles and is pushed (V1, V2, V7).
struct DynamicBody {
    Vec velocity{0, 0};         ///< m/s, at the start
    double spin = 0;            ///< degrees/s, at the start
    double rise = 0;            ///< m/s, upwards (M15)
    double density = 1;         ///< kg/m², of its solids
    std::optional<double> mass; ///< kg; else from the density
    double gravity = 1;         ///< times the scene's
    double damping = 0;         ///< the part of its speed that it loses in a second while little is lost, 1/s
    bool upright = false;       ///< never turned by impacts

    friend bool operator==(const DynamicBody&, const DynamicBody&) = default;
};

template <>
inline constexpr auto fieldsOf<DynamicBody> = fields(
    word("dynamic", "falls, slides, tumbles and is pushed"),
    field("velocity", &DynamicBody::velocity, "how it moves at the start")
        .in(Unit::metresPerSecond)
        .rising(&DynamicBody::rise),
    field("spin", &DynamicBody::spin, "how it turns at the start").in(Unit::degreesPerSecond),
    field("density", &DynamicBody::density, "mass of a square metre").in(Unit::kilogramsPerSquareMetre).above(0),
    field("mass", &DynamicBody::mass, "mass of the whole; from the density if left out").in(Unit::kilograms).above(0),
    field("gravity", &DynamicBody::gravity, "how many times the scene's gravity"),
    field("damping", &DynamicBody::damping, "how fast its speed dies away").in(Unit::perSecond).atLeast(0),
    field("upright", &DynamicBody::upright, "impacts do not turn it"));

/// The keys that steer a walker.
struct KeyLists {
    std::vector<std::string> left, right, up, down, jump;

    friend bool operator==(const KeyLists&, const KeyLists&) = default;
};

template <>
inline constexpr auto
    fieldsOf<KeyLists> = fields(word("steer", "keys that steer"),
                                field("left", &KeyLists::left, "keys for left").names(Refers::key),
                                field("right", &KeyLists::right, "keys for right").names(Refers::key),
                                field("up", &KeyLists::up, "keys for up").names(Refers::key),
                                field("down", &KeyLists::down, "keys for down").names(Refers::key),
                                field("jump", &KeyLists::jump, "keys for jumping").names(Refers::key));

enum class SteerSet { none, arrows, wasd };

template <>
inline constexpr auto wordsOf<SteerSet> = std::array{
    EnumWord<SteerSet>{SteerSet::none, "none", "not steered"},
    EnumWord<SteerSet>{SteerSet::arrows, "arrows", "the arrow keys; space jumps"},
    EnumWord<SteerSet>{SteerSet::wasd, "wasd", "the keys a d w s; space jumps"},
};

/// A named set of keys, or lists of one's own.
struct Steer {
    std::variant<SteerSet, KeyLists> held = SteerSet::none;

    friend bool operator==(const Steer&, const Steer&) = default;
};

/// The keys that a steering stands for.
KeyLists keysOf(const Steer& steer);

/// Steered by keys, stopped by solids, not turned by impacts (V1).
///
/// Where there is gravity it walks on what is below it, else in all directions.
struct WalkerBody {
    Steer steer;
    double speed = 3;                   ///< m/s
    std::optional<double> acceleration; ///< m/s²; at full speed at once if left out
    double jump = 0;                    ///< m/s, speed of take-off; 0: it does not jump
    std::string climbs;                 ///< a group: it climbs in its zones (V6)
    std::optional<double> climbSpeed;   ///< m/s; as `speed` if left out
    double groundReach = 0.02;          ///< m: it stands on what is this far below it (V5)
    double step = 0.25;                 ///< m: it walks up and down steps as high as this
    double slope = 50;                  ///< degrees: it walks up slopes as steep as this and slides down steeper ones
    double coyote = 0;                  ///< s after it has left the ground in which it can still jump
    double jumpBuffer = 0;              ///< s before it lands in which a press of the jump key still counts

    friend bool operator==(const WalkerBody&, const WalkerBody&) = default;
};

template <>
inline constexpr auto fieldsOf<WalkerBody> = fields(
    word("walker", "steered with keys, stopped by solids"), field("steer", &WalkerBody::steer, "keys that steer it"),
    field("speed", &WalkerBody::speed, "walking speed").in(Unit::metresPerSecond).atLeast(0),
    field("acceleration", &WalkerBody::acceleration, "how fast it gets up to speed; at once if left out")
        .in(Unit::metresPerSquareSecond)
        .above(0),
    field("jump", &WalkerBody::jump, "speed of take-off; letting go of the key early jumps lower")
        .in(Unit::metresPerSecond)
        .atLeast(0),
    field("climbs", &WalkerBody::climbs, "group in whose zones it climbs").names(Refers::group),
    field("climbSpeed", &WalkerBody::climbSpeed, "climbing speed; its walking speed if left out")
        .in(Unit::metresPerSecond)
        .atLeast(0),
    field("groundReach", &WalkerBody::groundReach, "it stands on what is this far below it")
        .in(Unit::metres)
        .atLeast(0.01),
    field("step", &WalkerBody::step, "steps as high as this are walked over").in(Unit::metres).atLeast(0),
    field("slope", &WalkerBody::slope, "slopes as steep as this are walked up").in(Unit::degrees).atLeast(0).atMost(89),
    field("coyote", &WalkerBody::coyote, "how long after leaving the ground it can still jump")
        .in(Unit::seconds)
        .atLeast(0),
    field("jumpBuffer", &WalkerBody::jumpBuffer, "how long before landing a press of the jump key still counts")
        .in(Unit::seconds)
        .atLeast(0));

/// Goes where it is led from outside: by the places that a take has for it, or by a game. Stopped
/// by nothing (V10).
struct DrivenBody {
    friend bool operator==(const DrivenBody&, const DrivenBody&) = default;
};

template <> inline constexpr auto fieldsOf<DrivenBody> = fields(word("driven", "goes where a take leads it"));

using AnyBody = std::variant<StaticBody, KinematicBody, DynamicBody, WalkerBody, DrivenBody>;
using Body = OneOf<AnyBody>;

// --- look ----------------------------------------------------------------------------------------------------------

/// Pictures shown one after the other: how many stand side by side in the look's image, or files of
/// their own.
struct Frames {
    std::variant<int, std::vector<std::string>> held = 1;

    std::size_t count() const
    {
        const int* number = std::get_if<int>(&held);
        return number ? static_cast<std::size_t>(*number) : std::get<std::vector<std::string>>(held).size();
    }
    friend bool operator==(const Frames&, const Frames&) = default;
};

/// A number that a look shows as a level: the piece is filled from its lower edge, or from its left
/// one if it lies.
struct Gauge {
    std::string of;  ///< a path, as `tide-height.value`
    double low = 0;  ///< empty
    double high = 1; ///< full

    friend bool operator==(const Gauge&, const Gauge&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Gauge> = fields(word("gauge", "a number shown as a level"),
                             field("of", &Gauge::of, "the number, as a path").names(Refers::property).required(),
                             field("low", &Gauge::low, "the number at which it is empty"),
                             field("high", &Gauge::high, "the number at which it is full"));

/// How a piece is drawn.
struct Look {
    Colour colour;
    std::string label;
    double glow = 0;        ///< 0 dark to 1 bright
    std::string image = {}; ///< a PNG or SVG beside the scene
    Frames frames = {};
    double frameRate = 10; ///< frames a second, > 0
    bool once = false;     ///< shown once, up to the last frame; then `look-ended`
    std::optional<Gauge> gauge = {};

    /// How long it takes to show all frames once, s; 0 with a single one.
    double seconds() const { return frames.count() < 2 ? 0 : static_cast<double>(frames.count()) / frameRate; }

    friend bool operator==(const Look&, const Look&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Look> = fields(word("look", "how a piece is drawn"),
                            field("colour", &Look::colour, "fill colour").names(Refers::colour),
                            field("image", &Look::image, "a picture beside the scene, PNG or SVG"),
                            field("frames", &Look::frames, "how many frames stand side by side in it, or files"),
                            field("frameRate", &Look::frameRate, "frames a second").in(Unit::perSecond).above(0),
                            field("once", &Look::once, "shown once, up to the last frame"),
                            field("label", &Look::label, "words written on it").names(Refers::words),
                            field("gauge", &Look::gauge, "a number shown as a level"),
                            field("glow", &Look::glow, "how much light it gives, 0 to 1").atLeast(0).atMost(1));

// --- phases ------------------------------------------------------------------------------------------------------

/// A mode of a piece, with the look that it brings, if any.
struct PiecePhase {
    std::string id;
    std::optional<Look> look;

    friend bool operator==(const PiecePhase&, const PiecePhase&) = default;
};

template <>
inline constexpr auto
    fieldsOf<PiecePhase> = fields(word("phase", "a mode of the piece"),
                                  field("id", &PiecePhase::id, "name of the phase").required().shorthand(),
                                  field("look", &PiecePhase::look, "how the piece is drawn in it"));

/// What becomes of a piece whose centre leaves the bounds of the scene (V9).
enum class Outside { keep, remove, wrap, stop };

template <>
inline constexpr auto wordsOf<Outside> = std::array{
    EnumWord<Outside>{Outside::keep, "keep", "goes on"},
    EnumWord<Outside>{Outside::remove, "remove", "is taken out of the scene"},
    EnumWord<Outside>{Outside::wrap, "wrap", "comes in again on the other side"},
    EnumWord<Outside>{Outside::stop, "stop", "stays at the edge"},
};

/// How a pinned piece fills the view (P6).
enum class Fill { fit, cover, stretch };

template <>
inline constexpr auto wordsOf<Fill> = std::array{
    EnumWord<Fill>{Fill::fit, "fit", "as large as it can be without being cut"},
    EnumWord<Fill>{Fill::cover, "cover", "so large that it covers the whole view"},
    EnumWord<Fill>{Fill::stretch, "stretch", "stretched to the edges of the view"},
};

// --- piece ---------------------------------------------------------------------------------------------------------

/// Which part of which laid assembly a piece is (A1); see scene/assembly.h. No field of a file: it
/// is told by where it stands there.
struct PartOf {
    std::string assembly;
    std::string laid;
    std::string part;

    friend bool operator==(const PartOf&, const PartOf&) = default;
};

/// What lies in a scene: a name, a place, shapes, a look and values of its own. Names are unique in
/// their scene.
struct Piece {
    std::string id;
    std::string templateName; ///< the template that it was stamped from; see scene/templates.h
    std::string group = "default";
    std::vector<std::string> tags;
    Vec at{0, 0};
    double z = 0; ///< m, height over the plan (M15)
    double turn = 0;
    int layer = 0;
    bool shown = true;
    bool enabled = true;
    bool pinned = false;           ///< on the glass: `at` is in metres of the view, from its lower left corner (P6)
    std::optional<Fill> fill;      ///< of a pinned piece
    bool through = false;          ///< the pointer goes through it (P1)
    bool draggable = false;        ///< it follows the pointer that drags it (P4)
    OneOrMore<std::string> during; ///< phases of the scene in which it is present; always if empty
    Outside outside = Outside::keep;
    Body body;
    std::vector<Shape> shapes;
    Look look;
    Named<Look> looks;
    Named<Scalar> properties;
    std::vector<PieceTimer> timers;
    std::vector<PiecePhase> phases; ///< the first is the initial one
    std::optional<double> lifetime; ///< s, > 0; it is removed then
    std::optional<PartOf> partOf;   ///< its id is `LAID.PART` then
    /// JSON text: the piece as a file has it, while its template is missing. What of it was not
    /// understood without the template is written again.
    std::string lost;

    friend bool operator==(const Piece&, const Piece&) = default;
};

template <>
inline constexpr auto fieldsOf<Piece> = fields(
    word("piece", "something placed in the scene"), field("id", &Piece::id, "name of the piece").required(),
    field("template", &Piece::templateName, "what it takes its fields from; those given here are its own")
        .names(Refers::form),
    field("group", &Piece::group, "group of its shapes").names(Refers::group),
    field("tags", &Piece::tags, "words for filters").names(Refers::tag),
    field("at", &Piece::at, "place").in(Unit::metres).rising(&Piece::z),
    field("turn", &Piece::turn, "turned").in(Unit::degrees), field("layer", &Piece::layer, "drawn over lower layers"),
    field("shown", &Piece::shown, "whether it is there to see"),
    field("enabled", &Piece::enabled, "whether it takes part in meetings"),
    field("pinned", &Piece::pinned, "on the glass, not in the world"),
    field("fill", &Piece::fill, "how it fills the view, if it is on the glass"),
    field("through", &Piece::through, "the pointer goes through it"),
    field("draggable", &Piece::draggable, "it follows the pointer that drags it"),
    field("during", &Piece::during, "present only in these phases of the scene").names(Refers::phase),
    field("outside", &Piece::outside, "what happens when it leaves the bounds"),
    field("body", &Piece::body, "how it moves"), field("shapes", &Piece::shapes, "its shapes"),
    field("look", &Piece::look, "how it is drawn"), field("looks", &Piece::looks, "named looks to change to"),
    field("properties", &Piece::properties, "values of its own"), field("timers", &Piece::timers, "timers of its own"),
    field("phases", &Piece::phases, "its modes; the first is the initial one"),
    field("lifetime", &Piece::lifetime, "it is removed after this long").in(Unit::seconds).above(0));

struct Template;
template <> inline constexpr bool sharesEntries<Template> = true;

/// What pieces are stamped from: a piece without a name and without a place of its own that counts.
struct Template {
    Piece model;

    friend bool operator==(const Template&, const Template&) = default;
};

/// The name of the shape at `index`: its id, else the index.
std::string shapeName(const Piece& piece, std::size_t index);

/// The group of a shape: its own, else the piece's.
const std::string& groupOf(const Piece& piece, const Shape& shape);

/// Index of a phase of the piece, or nothing.
std::optional<std::size_t> findPhase(const Piece& piece, std::string_view name);

/// The word of the body's kind: "static", "kinematic", "dynamic", "walker", "driven".
std::string_view kindOf(const Body& body);

} // namespace snare::scene
