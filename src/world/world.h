// SPDX-License-Identifier: Apache-2.0
/// The world: the state of the pieces of one run, as flat arrays that detection, motion and rules
/// work on.
///
/// A plain value. Pieces are told by index: those of the scene first, in its order. Shapes of all
/// pieces stand in one array, in scene order, so that the order of two shapes by index is their
/// order in M12.
#pragma once

#include "geometry/impact.h"
#include "geometry/memory.h"
#include "scene/log_words.h"
#include "scene/scene.h"
#include "world/values.h"

#include <algorithm>
#include <cstdint>
#include <memory>
#include <span>
#include <unordered_map>
#include <utility>

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

using scene::Cause;
using scene::wordOf;

/// Whether a meeting stops its two shapes or only senses (M2).
enum class Manner : std::uint8_t { sense, stop };

/// More groups than this are not told apart: the rest counts as `default`, the first of them.
inline constexpr std::size_t mostGroups = 2'000;

/// No piece gets larger than this many times as drawn, nor smaller than one part in as many: its
/// corners would have no exact place.
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

/// A shape as it is while running; its parts lie in `World::partsOf`.
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
    std::uint32_t id = 0;      ///< each order of a run has its own, from 1; 0: none
    std::int32_t because = -1; ///< the line of the log that gave it (C1)
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
    std::int32_t because = -1; ///< the line of the log that gave it (C1)
};

/// What led to the state of a piece, as lines of the log; -1: the start of the scene (C1).
struct Origin {
    std::int32_t moved = -1;   ///< what moved it last: an order, a key, an impact
    std::int32_t changed = -1; ///< what last changed how it takes part: shown, enabled, regrouped, resized, a phase, …
    std::int32_t dressed = -1; ///< what put its look on
    std::int32_t born = -1;    ///< what spawned it
};

/// How far a piece is on its route.
struct RouteState {
    std::size_t next = 0; ///< the point that it goes to
    bool backwards = false;
    bool under = false;                       ///< it goes along it
    std::optional<geometry::Pose> about = {}; ///< of an assembly that was spawned whole: the points are about this
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

/// Whether a piece takes part, and in what.
struct Presence {
    bool pinned = false; ///< on the glass: it lies in the axes of the view and meets only the pointer (P6)
    bool present = true; ///< false once removed
    bool here = true;    ///< false while its phase keeps it away
    bool shown = true;
    bool enabled = true;
    bool strayed = false;        ///< its centre is outside the bounds (V9)
    PieceIndex carrier = nobody; ///< what it is attached to (M14)

    /// Takes part in meetings (M1).
    bool meets() const { return present && here && shown && enabled; }
    /// Takes part in meetings with other pieces.
    bool meetsPieces() const { return meets() && !pinned; }
    /// Can be pointed at, and covers what is below it (P1).
    bool isSeen() const { return present && here && shown; }
};

/// How a piece goes on its way. Motion works on it in place; rules change it through `World`.
struct MovingState {
    bool walks = false;
    bool loose = false;  ///< dynamic
    bool resting = true; ///< static
    bool driven = false; ///< led from outside (V10)
    bool led = false;    ///< driven, and in this tick it goes where it is led
    bool asleep = false; ///< dynamic and at rest: it is not moved until something wakes it (V7)
    Vec velocity{0, 0};  ///< m/s, of its own
    double rise = 0;     ///< m/s, of its own, upwards (M15)
    double spin = 0;     ///< degrees/s
    Vec approach{0, 0};  ///< m/s in this tick, before anything stopped it (M10)
    double turning = 0;  ///< degrees/s in this tick
    RouteState route;
    TurnOrder turn;
    MoveOrder move;
    PieceIndex standsOn = nobody; ///< what it stood on at the end of the last tick (V4, V5)
    WalkState walk;
    double facing = 0; ///< degrees, the way it was steered last (V8)

    /// It moves by itself, as told or as led, and nothing stops it (V1, V10).
    bool isUnstopped() const { return !resting && !walks && !loose; }
};

/// A piece of a run. What is asked of every piece in every tick stands first.
struct LivePiece : Presence, MovingState {
    std::string id;
    std::string templateName;
    std::string laid;                    ///< the laid assembly that it is a part of (A1); empty: none
    std::string part;                    ///< `ASSEMBLY.PART` then
    const scene::Piece* model = nullptr; ///< its fields in the scene, or those of the template that it was spawned from
    scene::Body body;
    int layer = 0;
    int group = 0;
    std::size_t firstShape = 0;
    std::size_t shapeCount = 0;
    std::vector<std::string> shapeNames;
    Pose home;            ///< where it was at the start
    double scale = 1;     ///< times its size as drawn
    Pose grip;            ///< its pose in the axes of the carrier
    double gravity = 1;   ///< times the scene's
    scene::KeyLists keys; ///< of a walker
    double speed = 0;     ///< m/s, of a walker
    int climbs = -1;      ///< a walker's group to climb, index; -1: it does not climb
    std::vector<std::string> tags;
    Values properties;
    int look = 0;             ///< index into `World::looks`
    int phase = -1;           ///< index into the phases of its model; -1: it has none
    std::int64_t born = 0;    ///< tick in which it came into the scene
    std::int64_t dressed = 0; ///< tick in which its look was put on

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

/// Where a driven piece goes in this tick (V10).
struct Lead {
    PieceIndex piece = nobody;
    Pose to;
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

/// The state of a run's pieces. Everything can be read; what changes goes through the functions
/// below, by concern.
///
/// Indices are not checked: a `PieceIndex` or a shape's number from outside its array is a fault of
/// the caller.
class World {
  public:
    /// An empty world, to be assigned to.
    World() = default;
    /// The start state of a scene (K9), which must live as long as the world.
    explicit World(const scene::Scene& scene);
    /// The start state again; what was spawned in `before` keeps its number, as a piece that is
    /// gone (T5).
    static World restarted(const scene::Scene& scene, const World& before);

    // --- What there is: flat arrays, by piece or by shape.

    const std::vector<LivePiece>& pieces() const { return pieces_; }
    const geometry::Table<LiveShape>& shapes() const { return shapes_; }
    const std::vector<Surface>& surfaces() const { return surfaces_; } ///< by shape
    /// Where the shapes of each piece begin, and where the last ones end.
    const std::vector<std::uint32_t>& shapeStarts() const { return shapeStarts_; }
    /// Convex parts of the shapes, in the axes of their pieces.
    const geometry::Table<geometry::Hull>& parts() const { return parts_; }
    /// Of each piece, at the end of the last finished tick or where it was put since.
    const geometry::Table<Pose>& pose() const { return pose_; }
    /// Of each piece, at the start of the motion of this tick.
    const geometry::Table<Pose>& before() const { return before_; }
    const Groups& groups() const { return groups_; }
    const Values& variables() const { return variables_; }
    Vec gravity() const { return gravity_; }                           ///< m/s²
    const std::vector<scene::Look>& looks() const { return looks_; }   ///< all looks that pieces had so far
    const std::vector<TracedParts>& traced() const { return traced_; } ///< of the shapes that follow their piece's look
    const std::vector<Bump>& bumps() const { return bumps_; }          ///< of this tick's motion
    const std::vector<Lead>& leads() const { return leads_; }          ///< of this tick, each piece at most once (V10)
    const std::vector<PieceIndex>& moved() const { return moved_; }    ///< pieces whose pose may differ from `before`
    const std::vector<int>& changed() const { return changed_; }       ///< shapes whose `changed` is not `moved`
    /// Pieces that are attached, carriers before what they carry.
    const std::vector<PieceIndex>& carried() const { return carried_; }
    /// Pieces that a response gave a push or a new speed since the last motion.
    const std::vector<PieceIndex>& woken() const { return woken_; }
    const std::vector<std::string>& sources() const { return sources_; } ///< names, as in the scene
    const std::vector<double>& dials() const { return dials_; } ///< the number that each source is set to; 0: no dial
    const std::vector<std::string>& phases() const { return phases_; }        ///< of the scene
    int phase() const { return phase_; }                                      ///< of the scene, index; -1: it has none
    const std::optional<geometry::Bounds>& bounds() const { return bounds_; } ///< of the scene (V9)
    const Pointer& pointer() const { return pointer_; }
    const View& view() const { return view_; }
    bool hasParts() const { return hasParts_; }              ///< a piece is a part of a laid assembly, or was
    std::uint32_t tagChanges() const { return tagChanges_; } ///< how often a tag was given or taken

    const LivePiece& piece(PieceIndex index) const { return pieces_[static_cast<std::size_t>(index)]; }
    std::span<const LiveShape> shapesOf(PieceIndex index) const
    {
        const LivePiece& owner = piece(index);
        return {shapes_.data() + owner.firstShape, owner.shapeCount};
    }
    std::span<const geometry::Hull> partsOf(const LiveShape& shape) const
    {
        return {parts_.data() + shape.firstPart, shape.partCount};
    }
    Motion motionOf(PieceIndex piece) const
    {
        const auto i = static_cast<std::size_t>(piece);
        return {before_[i], pose_[i]};
    }
    enum class Moved : std::uint8_t { no, along, turnedOrRose };
    /// How a piece has moved since `beginMotion`; with `no` it is not in `moved`.
    Moved howMoved(PieceIndex piece) const { return howMoved_[static_cast<std::size_t>(piece)]; }
    /// What a piece really moved with in the last tick, m/s.
    Vec velocityOf(PieceIndex index) const
    {
        const LivePiece& one = piece(index);
        return (one.walks || one.loose) && one.carrier == nobody ? one.velocity : one.approach;
    }
    /// The index of the piece called `id`, removed ones included, or `nobody`.
    PieceIndex find(std::string_view id) const;
    /// The number of a source, as `PieceIndex`, or `nobody`.
    PieceIndex findSource(std::string_view id) const;
    /// "scene" for the scene itself, the id of a source.
    std::string_view nameOf(PieceIndex index) const;
    /// The name of a shape (its id, else its number in the piece) by its index in `shapes`.
    std::string_view shapeName(int shape) const
    {
        const LiveShape& live = shapes_[static_cast<std::size_t>(shape)];
        return piece(live.piece).shapeNames[static_cast<std::size_t>(live.number)];
    }
    /// Whether the scene is in a phase in which the piece is present.
    bool isDuring(const scene::Piece& piece) const;
    /// Whether `rider` rides on `carrier`, directly or over others.
    bool carries(PieceIndex carrier, PieceIndex rider) const;
    /// The first carrier of all: pieces with the same one never meet (M14).
    PieceIndex carrierOfAll(PieceIndex piece) const;
    /// What led to its state (C1).
    const Origin& originOf(PieceIndex piece) const { return origins_[static_cast<std::size_t>(piece)]; }
    /// What moved it last, be it over what carries it or what it stands on; -1: nothing since the
    /// start.
    std::int32_t lastMoved(PieceIndex piece) const;
    /// The lower left corner of the view, in the scene, m.
    Vec viewCorner() const;
    /// Where the pointer is in the axes that the piece lies in: those of the view for a pinned one,
    /// else of the scene.
    Vec pointerFor(PieceIndex piece) const;

    /// The pieces of the scene are those of `scene` from now on, which must have the same but for
    /// how they look. It must live as long as the world.
    void rebind(const scene::Scene& scene);

    // --- Causes (C1).

    /// What is changed from now on, through the functions below, is because of this line of the
    /// log; -1: the start.
    void because(std::int32_t line) { because_ = line; }
    /// A piece moves otherwise because of a line that no function below knows of: a key, an impact.
    void movedBy(PieceIndex piece, std::int32_t line) { origin(piece).moved = line; }

    // --- Place: where pieces are.

    /// Where the last motion ended, the next begins.
    void beginMotion();
    /// Moves a piece within this tick's motion.
    void moveTo(PieceIndex piece, const Pose& to);
    /// A piece is there at once: nothing between is met (K7). What is attached to it comes along.
    void put(PieceIndex piece, const Pose& to, Cause cause = Cause::put);
    /// Whether its centre is outside the bounds, as was told last (V9).
    void setStrayed(PieceIndex piece, bool strayed) { at(piece).strayed = strayed; }

    // --- Motion: on the way there.

    /// For motion alone: orders, speeds and what a body remembers from tick to tick, to be worked
    /// on in place.
    MovingState& moving(PieceIndex piece) { return at(piece); }
    /// Two solids bumped within this tick's motion (M6).
    void addBump(const Bump& bump) { bumps_.push_back(bump); }
    /// A tick begins in which nobody is led yet.
    void endLeads();
    /// In this tick the piece, if it is driven and there, goes to a place, m, with a turn in
    /// degrees; without one it keeps its own (V10). The last of several for one piece counts.
    void lead(PieceIndex piece, const Vec& to, std::optional<double> turn);
    /// Motion has seen who was woken.
    void clearWoken() { woken_.clear(); }
    /// Wakes a dynamic piece in the next motion (V7).
    void wake(PieceIndex piece) { woken_.push_back(piece); }
    /// Adds to its own velocity, m/s, and wakes it.
    void push(PieceIndex piece, const Vec& velocity);
    /// Its own velocity, m/s, and spin, degrees/s, end; a route is left. Orders are ended with
    /// `endMove`, `endTurn`.
    void halt(PieceIndex piece);
    /// Its own velocity, m/s, ends: at the bounds that it stops at (V9).
    void stopShort(PieceIndex piece) { at(piece).velocity = {0, 0}; }
    void setVelocity(PieceIndex piece, const Vec& velocity); ///< m/s, of its own; wakes it
    void setRise(PieceIndex piece, double rise);             ///< m/s upwards, of its own; wakes it
    void setSpin(PieceIndex piece, double spin);             ///< degrees/s; wakes it
    void setGravity(PieceIndex piece, double times);         ///< times the scene's; wakes it
    void setWalkSpeed(PieceIndex piece, double speed); ///< m/s
    /// The number of the next order of this run.
    std::uint32_t newOrder() { return ++lastOrder_; }
    void orderMove(PieceIndex piece, const MoveOrder& order);
    void orderTurn(PieceIndex piece, const TurnOrder& order);
    /// The piece is no longer under the order; gives back its number, 0 if it had none.
    std::uint32_t endMove(PieceIndex piece) { return std::exchange(at(piece).move, {}).id; }
    std::uint32_t endTurn(PieceIndex piece) { return std::exchange(at(piece).turn, {}).id; }

    // --- Carry: what rides on what.

    /// Attaches a piece to another, or to nobody, where they are now. What it is let go by, it and
    /// its riders meet from the next detection on (K7, M14). Nothing is attached in a ring.
    void attach(PieceIndex piece, PieceIndex carrier);
    /// Poses of attached pieces from those of their carriers.
    void carry();

    // --- Presence: what takes part.

    /// Notes for the next detection what happened to a shape, or to all shapes of a piece (K7).
    void mark(int shape, Cause cause);
    void markAll(PieceIndex piece, Cause cause);
    /// Forgets the marks.
    void clearMarks();
    /// Shows or hides a piece as a whole or, with `shape` >= 0 (an index into `shapes`), one shape
    /// of it. Gives back whether it was shown; marks nothing.
    bool setShown(PieceIndex piece, int shape, bool shown);
    /// The same for enabling and disabling.
    bool setEnabled(PieceIndex piece, int shape, bool enabled);
    /// Brings a piece in with a phase of the scene, marked, or takes it away; false if it was so
    /// before.
    bool setHere(PieceIndex piece, bool here);
    /// The scene is in another phase from now on, by index. Gives back who came or went with it, in
    /// scene order.
    std::vector<PieceIndex> enterPhase(int phase);
    /// The piece is in another of its own phases, by index.
    void setPhase(PieceIndex piece, int phase) { at(piece).phase = phase; }
    /// A group's index, adding it if it is new.
    int groupCalled(std::string_view name) { return groups_.indexOf(name); }
    /// The group of the piece's own from now on, by index; its shapes keep theirs.
    void setGroup(PieceIndex piece, int group)
    {
        at(piece).group = group;
        origin(piece).changed = because_;
    }
    /// The group of one shape, marked; false if it was in it.
    bool setShapeGroup(int shape, int group);
    /// Takes a piece out of the scene; it lets go of what it carries, and is let go.
    void remove(PieceIndex piece);
    /// Adds a piece like `model` under a new name, born in `tick`, to take part from the next
    /// detection on (K7); where the model is if no pose is given. The model must live as long as
    /// the world.
    PieceIndex spawn(const scene::Piece& model, std::string id, const std::optional<Pose>& at = {},
                     std::string_view templateName = {}, std::int64_t tick = 0);
    /// A spawned piece is this part (`ASSEMBLY.PART`) of an assembly that was spawned whole, with
    /// its origin at `about`, which its route is about too (A4).
    void setPart(PieceIndex piece, std::string_view laid, std::string_view part, const geometry::Pose& about);
    /// A spawned piece sets out with this velocity, m/s, unless it is static.
    void launch(PieceIndex piece, const Vec& velocity);
    /// All pieces came into the scene in this tick.
    void dateAll(std::int64_t tick);

    // --- Dress: looks, sizes, layers.

    /// A look's index, adding it if it is new.
    int indexOf(const scene::Look& look);
    /// Puts on the look with that index in `tick`. Traced outlines follow with `retrace`.
    void dress(PieceIndex piece, int look, std::int64_t tick);
    /// Gives the traced shapes of a piece the outlines of its current look; true if one changed.
    bool retrace(PieceIndex piece);
    /// Makes the shapes of a piece `scale` times as large as they were drawn; scale > 0.
    void resize(PieceIndex piece, double scale);
    void setLayer(PieceIndex piece, int layer) { at(piece).layer = layer; }

    // --- Values and tags.

    /// Gives a piece a tag or takes it away, at once (K3). True if it changed anything.
    bool setTag(PieceIndex piece, const std::string& tag, bool given);
    /// The values of the scene, with `theScene`, or of a piece.
    Values& valuesOf(PieceIndex owner) { return owner < 0 ? variables_ : at(owner).properties; }
    /// Sets a dial, by the number of its source.
    void setDial(std::size_t source, double value) { dials_[source] = value; }

    // --- The pointer.

    /// A tick begins: the pointer comes from where it is.
    void beginPointer() { pointer_.before = pointer_.at; }
    /// Puts the pointer somewhere, in the scene or on the glass; the other place follows.
    void movePointer(const Vec& to, bool onGlass);
    /// The view has moved: a pointer on the glass goes along over the scene, one in the scene over
    /// the glass.
    void keepPointer();
    /// A box is opened from a corner that stays (P5), or closed.
    void openBox(const Vec& corner) { pointer_.sweptFrom = corner; }
    void closeBox() { pointer_.sweptFrom.reset(); }

  private:
    LivePiece& at(PieceIndex index) { return pieces_[static_cast<std::size_t>(index)]; }
    void stir(PieceIndex index);
    Origin& origin(PieceIndex index) { return origins_[static_cast<std::size_t>(index)]; }
    LivePiece livePieceOf(const scene::Piece& piece);
    void addParts(LiveShape& live, const scene::Shape& shape, int number);
    PieceIndex addPiece(const scene::Piece& model, std::string id, const std::optional<Pose>& at = {});
    void putWithRiders(PieceIndex index, const Pose& to, Cause cause);
    Pose poseOfCarrier(PieceIndex rider) const;

    std::vector<LivePiece> pieces_;
    std::vector<Origin> origins_; ///< by piece
    std::int32_t because_ = -1;
    geometry::Table<LiveShape> shapes_;
    std::vector<Surface> surfaces_;
    std::vector<std::uint32_t> shapeStarts_{0};
    geometry::Table<geometry::Hull> parts_;
    geometry::Table<geometry::Hull> drawn_; ///< the parts at scale 1; empty until something is resized
    geometry::Table<Pose> pose_;
    geometry::Table<Pose> before_;
    std::vector<Moved> howMoved_; ///< by piece
    std::vector<PieceIndex> moved_;
    std::vector<int> changed_;
    std::vector<PieceIndex> carried_;
    std::vector<PieceIndex> woken_;
    std::vector<Bump> bumps_;
    std::vector<Lead> leads_;
    Groups groups_;
    Values variables_;
    Vec gravity_{0, 0};
    std::vector<scene::Look> looks_;
    std::vector<TracedParts> traced_;
    std::uint32_t lastOrder_ = 0;
    std::uint32_t tagChanges_ = 0;
    bool hasParts_ = false;
    std::vector<std::string> sources_;
    std::vector<double> dials_;
    std::vector<std::string> phases_;
    int phase_ = -1;
    std::optional<geometry::Bounds> bounds_;
    Pointer pointer_;
    View view_;
    std::unordered_map<std::string, PieceIndex> ids_; ///< to look up, never to walk over
};

} // namespace snare::world
