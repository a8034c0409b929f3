// SPDX-License-Identifier: Apache-2.0
/// The world: the state of the pieces of one run, as flat arrays that detection, motion and rules work on.
///
/// A plain value. Pieces are told by index: those of the scene first, in its order. Shapes of all pieces stand in one
/// array, in scene order, so that the order of two shapes by index is their order in M12.
#pragma once

#include "geometry/impact.h"
#include "geometry/memory.h"
#include "scene/scene.h"
#include "world/values.h"

#include <cstdint>
#include <memory>
#include <span>
#include <unordered_map>

namespace snare::world {

using geometry::Motion;
using geometry::Pose;
using geometry::Vec;

using PieceIndex = std::int32_t;
inline constexpr PieceIndex theScene = -1;   ///< the scene itself, as self or target
inline constexpr PieceIndex nobody = -2;     ///< no piece
inline constexpr PieceIndex thePointer = -3; ///< the pointer as a visitor (P1)
inline constexpr PieceIndex pointerThrough =
    -4; ///< the pointer in a meeting of `"reach": "all"`, which is one of its own (P2)

constexpr bool isPointer(PieceIndex index)
{
    return index == thePointer || index == pointerThrough;
}

/// A source of the scene, where a piece or the scene can stand too: as the owner of a value.
constexpr PieceIndex sourceIndex(std::size_t number)
{
    return -10 - static_cast<PieceIndex>(number);
}
constexpr bool isSource(PieceIndex index)
{
    return index <= -10;
}
constexpr std::size_t sourceNumber(PieceIndex index)
{
    return static_cast<std::size_t>(-10 - index);
}

/// Why a meeting began or ended (K5, K7, K9, M14).
enum class Cause : std::uint8_t {
    moved,
    start,
    removed,
    disabled,
    hidden,
    regrouped,
    enabled,
    shown,
    put,
    armed,
    spawned,
    resized,
    attached,
    detached,
    phase,
    swept
};

/// The word of the log.
std::string_view wordOf(Cause cause);

/// Whether a meeting stops its two shapes or only senses (M2).
enum class Manner : std::uint8_t { sense, stop };

/// More groups than this are not told apart: the rest counts as `default`, the first of them.
inline constexpr std::size_t mostGroups = 2'000;

/// No piece gets larger than this many times as drawn, nor smaller than one part in as many: its corners would have no
/// exact place.
inline constexpr double mostScale = 1e6;

/// The groups of a run and what they do to each other (M1).
class Groups {
  public:
    explicit Groups(const scene::Scene& scene);
    Groups() = default;

    /// The index of a group; a name never heard of becomes a group that stops all others.
    int indexOf(std::string_view name);
    const std::string& nameOf(int group) const { return names_[static_cast<std::size_t>(group)]; }
    scene::Contact between(int first, int second) const
    {
        return table_[static_cast<std::size_t>(first) * names_.size() + static_cast<std::size_t>(second)];
    }

  private:
    std::vector<std::string> names_;
    std::vector<scene::Contact> table_; ///< a row a group
};

struct LiveShape {
    // In this order it takes 48 bytes.
    PieceIndex piece = 0;
    int number = 0; ///< in its piece
    std::uint32_t firstPart = 0;
    std::uint32_t partCount = 0; ///< in World::parts; none for a traced shape whose picture is missing
    std::int16_t group = 0;
    bool enabled = true;
    bool shown = true;
    Cause changed = Cause::moved; ///< what happened to it since the last detection; `moved`: nothing (K7)
    scene::Role role = scene::Role::solid;
    double margin = 0;   ///< m (M3)
    geometry::Band band; ///< relative to the piece's height (M15), m

    /// Neither disabled nor hidden for itself (M1).
    bool isOn() const { return enabled && shown; }
};

/// A move under way (V3).
struct MoveOrder {
    std::uint32_t id = 0; ///< each order of a run has its own, from 1; 0: none
    Vec target{0, 0};
    double height = 0; ///< m, of the target (M15)
    double speed = 1;  ///< m/s
    double arrive = 0.001;
    PieceIndex after = nobody; ///< whom it follows, without end, up to `arrive`
    scene::Ease ease = scene::Ease::none;
    Pose from = {};   ///< with an ease: where it began,
    double done = 0;  ///< how long it has been under way, s,
    double total = 0; ///< and how long it will be, s
};

/// A turn under way.
struct TurnOrder {
    std::uint32_t id = 0;
    double target = 0; ///< degrees
    double speed = 90; ///< degrees/s
};

/// How far a piece is on its route.
struct RouteState {
    std::size_t next = 0; ///< the point that it goes to
    bool backwards = false;
    bool under = false; ///< it goes along it
};

/// What a walker remembers from tick to tick.
struct WalkState {
    bool climbing = false;
    bool letGo = false;       ///< it jumped off: it grips again only outside or with a new press (V6)
    bool jumpDown = false;    ///< the key of the jump was down in the last tick
    bool upDown = false;      ///< that for up was
    bool rising = false;      ///< it jumped, goes up, and the key has been down all along
    double sinceGround = 1e9; ///< s, for `coyote`
    double sincePress = 1e9;  ///< s, for `jumpBuffer`
    Vec pace{0, 0};           ///< m/s of its own; with gravity only along the ground
    double fall = 0;          ///< m/s upwards, off the ground
    Vec drift{0, 0};          ///< m/s: what it keeps of a carrier that it left, or of a push (V8)
    Vec told{0, 0};           ///< m/s, the velocity that it had last: any other was given to it by a response
};

struct LivePiece {
    // What is asked of every piece in every tick stands first.
    bool walks = false;
    bool loose = false;  ///< dynamic
    bool resting = true; ///< static
    bool asleep = false; ///< dynamic and at rest: it is not moved until something wakes it (V7)
    bool pinned = false; ///< on the glass: it lies in the axes of the view and meets only the pointer (P6)
    bool present = true; ///< false once removed
    bool here = true;    ///< false while its phase keeps it away
    bool shown = true;
    bool enabled = true;
    bool strayed = false;        ///< its centre is outside the bounds (V9)
    PieceIndex carrier = nobody; ///< what it is attached to (M14)
    Vec velocity{0, 0};          ///< m/s, of its own
    double rise = 0;             ///< m/s, of its own, upwards (M15)
    double spin = 0;             ///< degrees/s
    Vec approach{0, 0};          ///< m/s in this tick, before anything stopped it (M10)
    double turning = 0;          ///< degrees/s in this tick
    RouteState route;
    TurnOrder turn;
    MoveOrder move;

    std::string id;
    std::string templateName;
    const scene::Piece* model = nullptr; ///< its fields in the scene, or those of the template that it was spawned from
    scene::Body body;
    int layer = 0;
    int group = 0;
    std::size_t firstShape = 0;
    std::size_t shapeCount = 0;
    std::vector<std::string> shapeNames;
    Pose home;                    ///< where it was at the start
    double scale = 1;             ///< times its size as drawn
    Pose grip;                    ///< its pose in the axes of the carrier
    double gravity = 1;           ///< times the scene's
    PieceIndex standsOn = nobody; ///< what it stood on at the end of the last tick (V4, V5)
    scene::KeyLists keys;         ///< of a walker
    double speed = 0;             ///< m/s, of a walker
    int climbs = -1;              ///< a walker's group to climb, index; -1: it does not climb
    WalkState walk;
    std::vector<std::string> tags;
    Values properties;
    int look = 0;             ///< index into World::looks
    int phase = -1;           ///< index into the phases of its model; -1: it has none
    double facing = 0;        ///< degrees, the way it was steered last (V8)
    std::int64_t born = 0;    ///< tick in which it came into the scene
    std::int64_t dressed = 0; ///< tick in which its look was put on

    /// Takes part in meetings (M1).
    bool meets() const { return present && here && shown && enabled; }
    /// Takes part in meetings with other pieces.
    bool meetsPieces() const { return meets() && !pinned; }
    /// Can be pointed at, and covers what is below it (P1).
    bool isSeen() const { return present && here && shown; }
    bool hasTag(std::string_view tag) const { return std::ranges::find(tags, tag) != tags.end(); }
};

/// How a solid's edge takes what touches it (V7).
struct Surface {
    double friction = 0.5;
    double bounce = 0;
};

/// The parts that a traced shape has in one of its piece's looks.
struct TracedParts {
    int shape = 0;
    std::string image;
    std::uint32_t firstPart = 0;
    std::uint32_t partCount = 0;
};

/// Two solids that bumped against each other within a tick, however they lie at its end (M6).
struct Bump {
    int a = 0; ///< shapes, a < b
    int b = 0;
    double frac = 0;
};

/// The pointer of a run (P1).
struct Pointer {
    bool there = false;           ///< it has been somewhere
    bool onGlass = false;         ///< it rests on the glass while the view moves, else in the scene
    Vec at{0, 0};                 ///< m, in the scene
    Vec glass{0, 0};              ///< m of the view, from its lower left corner
    Vec before{0, 0};             ///< m, in the scene when the tick began
    std::optional<Vec> sweptFrom; ///< the corner of its box that stays, while one is open (P5)

    friend bool operator==(const Pointer&, const Pointer&) = default;
};

/// The view is this many times as wide as it is high, whatever the window is like (P6).
inline constexpr double viewAspect = 1.6;

/// What the view shows: pinned pieces lie in its metres.
struct View {
    Vec at{0, 0}; ///< m, its middle in the scene
    double height = 20;
    PieceIndex follow = nobody;
};

/// The poses and the causes of shapes are changed through `moveTo`, `put` and `mark` only, so that detection knows what
/// to look at.
struct World {
    std::vector<LivePiece> pieces;
    geometry::Table<LiveShape> shapes;
    std::vector<Surface> surfaces; ///< by shape
    Vec gravity{0, 0};             ///< m/s²
    std::vector<PieceIndex> woken; ///< pieces that a response gave a push or a new speed since the last motion
    std::vector<std::uint32_t> shapeStarts{0}; ///< where the shapes of each piece begin, and where the last ones end
    geometry::Table<geometry::Hull> parts;     ///< convex parts of the shapes, in the axes of their pieces
    geometry::Table<Pose> pose;   ///< of each piece, at the end of the last finished tick or where it was put since
    geometry::Table<Pose> before; ///< of each piece, at the start of the motion of this tick
    Groups groups;
    Values variables;
    std::vector<scene::Look> looks;  ///< all looks that pieces had so far
    std::vector<TracedParts> traced; ///< of the shapes that follow their piece's look
    std::uint32_t lastOrder = 0;
    std::vector<Bump> bumps;                ///< of this tick's motion
    std::vector<PieceIndex> moved;          ///< pieces whose pose may differ from `before`
    std::vector<int> changed;               ///< shapes whose `changed` is not `moved`
    std::vector<PieceIndex> carried;        ///< pieces that are attached, carriers before what they carry
    std::vector<std::string> sources;       ///< names, as in the scene
    std::vector<double> dials;              ///< the number that each source is set to; 0 if it is no dial
    std::vector<std::string> phases;        ///< of the scene
    int phase = -1;                         ///< of the scene, index; -1: it has none
    std::optional<geometry::Bounds> bounds; ///< of the scene (V9)
    Pointer pointer;
    View view;
    std::unordered_map<std::string, PieceIndex> ids; ///< to look up, never to walk over

    /// Where the last motion ended, the next begins.
    void beginMotion();
    /// Moves a piece within this tick's motion.
    void moveTo(PieceIndex piece, const Pose& to);
    /// A piece is there at once: nothing between is met (K7). What is attached to it comes along.
    void put(PieceIndex piece, const Pose& to, Cause cause = Cause::put);
    /// Notes for the next detection what happened to a shape, or to all shapes of a piece (K7).
    void mark(LiveShape& shape, Cause cause);
    void markAll(PieceIndex piece, Cause cause);
    /// Forgets the marks.
    void clearMarks();
    /// Gives a piece a tag or takes it away, at once (K3). True if it changed anything.
    bool setTag(PieceIndex piece, const std::string& tag, bool given);
    /// Adds a piece like `model` under a new name, to take part from the next detection on (K7); where the model is if
    /// no pose is given. The model must live as long as the world.
    PieceIndex spawn(const scene::Piece& model, std::string id, const std::optional<Pose>& at = {});
    /// The number of a source, as `PieceIndex`, or `nobody`.
    PieceIndex findSource(std::string_view id) const;
    /// Makes the shapes of a piece `scale` times as large as they were drawn; scale > 0.
    void resize(PieceIndex piece, double scale);
    /// Gives the traced shapes of a piece the outlines of its current look; true if one changed.
    bool retrace(PieceIndex piece);
    /// Attaches a piece to another, or to nobody, where they are now. What it is let go by, it and its riders meet from
    /// the next detection on (K7, M14). Nothing is attached in a ring.
    void attach(PieceIndex piece, PieceIndex carrier);
    /// The lower left corner of the view, in the scene.
    Vec viewCorner() const;
    /// Where the pointer is in the axes that the piece lies in: those of the view for a pinned one, else of the scene.
    Vec pointerFor(PieceIndex piece) const;
    /// Puts the pointer somewhere, in the scene or on the glass; the other place follows.
    void movePointer(const Vec& to, bool onGlass);
    /// The view has moved: a pointer on the glass goes along over the scene, one in the scene over the glass.
    void keepPointer();
    /// Poses of attached pieces from those of their carriers.
    void carry();
    /// Whether the scene is in a phase in which the piece is present.
    bool isDuring(const scene::Piece& piece) const;
    /// Whether `rider` rides on `carrier`, directly or over others.
    bool carries(PieceIndex carrier, PieceIndex rider) const;
    /// The first carrier of all: pieces with the same one never meet (M14).
    PieceIndex carrierOfAll(PieceIndex piece) const;

    Motion motionOf(PieceIndex piece) const
    {
        const auto i = static_cast<std::size_t>(piece);
        return {before[i], pose[i]};
    }
    std::span<const geometry::Hull> partsOf(const LiveShape& shape) const
    {
        return {parts.data() + shape.firstPart, shape.partCount};
    }
    LivePiece& piece(PieceIndex index) { return pieces[static_cast<std::size_t>(index)]; }
    const LivePiece& piece(PieceIndex index) const { return pieces[static_cast<std::size_t>(index)]; }
    std::span<LiveShape> shapesOf(PieceIndex index);
    std::span<const LiveShape> shapesOf(PieceIndex index) const;
    /// The index of the piece called `id`, removed ones included, or `nobody`.
    PieceIndex find(std::string_view id) const;
    /// What a piece really moved with in the last tick, m/s.
    Vec velocityOf(PieceIndex index) const
    {
        const LivePiece& one = piece(index);
        return (one.walks || one.loose) && one.carrier == nobody ? one.velocity : one.approach;
    }
    /// "scene" for the scene itself, the id of a source.
    std::string_view nameOf(PieceIndex index) const;
    /// The name of a shape (its id, else its number in the piece) by its index in `shapes`.
    std::string_view shapeName(int shape) const
    {
        const LiveShape& live = shapes[static_cast<std::size_t>(shape)];
        return piece(live.piece).shapeNames[static_cast<std::size_t>(live.number)];
    }
    /// A look's index, adding it if it is new.
    int indexOf(const scene::Look& look);

    std::uint32_t tagChanges = 0; ///< how often a tag was given or taken

    enum class Moved : std::uint8_t { no, along, turnedOrRose };
    std::vector<Moved> isMoved;            ///< by piece; with `no` it is not in `moved`
    geometry::Table<geometry::Hull> drawn; ///< the parts at scale 1; empty until something is resized
};

/// The start state of a scene (K9), which must live as long as the world.
World worldOf(const scene::Scene& scene);

/// The start state again; what was spawned until then keeps its number, as a piece that is gone (T5).
World restarted(const scene::Scene& scene, const World& before);

} // namespace snare::world
