// SPDX-License-Identifier: Apache-2.0
/// The record of a run: its journal and the state of every piece at every tick, so that any moment
/// can be shown.
#pragma once

#include "rules/journal.h"
#include "scene/take.h"
#include "sim/ordered.h"
#include "sim/probes.h"
#include "sim/record_index.h"
#include "world/world.h"

#include <atomic>
#include <memory>

namespace snare::sim {

/// What is shown of a piece at a moment.
struct PieceState {
    geometry::Pose pose;
    std::int32_t look = 0; ///< index into Record::looks
    std::int32_t layer = 0;
    bool present = false; ///< as before it is spawned
    bool shown = true;
    bool enabled = true;
    bool here = true;                     ///< its phase of the scene is now
    std::int32_t phase = -1;              ///< index into the phases of its model; -1: it has none
    std::int32_t dressed = 0;             ///< tick in which its look was put on
    bool asleep = false;                  ///< dynamic and at rest (V7)
    world::PieceIndex on = world::nobody; ///< what it stands on or is attached to (V4, V5)
    std::int32_t movedBy = -1;            ///< the line of the journal that moved it last; -1: none since the start (C1)
    double scale = 1;                     ///< times its size as drawn
    std::uint64_t hiddenShapes = 0;       ///< a bit for each of the first 64 shapes that is hidden for itself
    std::uint64_t disabledShapes = 0;     ///< and for each that is disabled

    friend bool operator==(const PieceState&, const PieceState&) = default;
};

/// The states of all pieces over time: whole every `keyEvery` ticks, what changed in between.
class Snapshots {
  public:
    static constexpr int keyEvery = 64;

    /// Adds the states of a tick, which is the next one.
    void append(const world::World& world);
    /// One tick more whose states are not kept.
    void skip() { ++count_; }
    std::int64_t count() const { return count_; }
    /// The states at `tick`, held to what there is. Empty before the first tick.
    std::vector<PieceState> at(std::int64_t tick) const;

    /// Those up to the end of `tick`, as they were then.
    Snapshots upTo(std::int64_t tick) const;

    /// Where a piece was from one tick to another, at every tick at which it moved, in order.
    std::vector<geometry::Vec> pathOf(std::size_t piece, std::int64_t from, std::int64_t to) const;

  private:
    struct Changed {
        std::int32_t piece;
        PieceState state;
    };

    std::vector<std::vector<PieceState>> keys_;
    std::vector<Changed> changes_;
    std::vector<std::size_t> changesFrom_; ///< by tick: its first entry in `changes_`
    std::vector<PieceState> last_;
    std::int64_t count_ = 0;
};

/// A piece of a run: the scene's come first, in its order, then what was spawned.
struct RunPiece {
    std::string id;
    const scene::Piece* model = nullptr; ///< in the record's scene, or its template there
    std::int64_t born = 0;               ///< tick
};

/// Which piece a shape belongs to and what it is called.
struct ShapeName {
    world::PieceIndex piece;
    std::string name;
    int number = 0; ///< in its piece
};

/// Someone inside a shape at a moment.
struct Insider {
    std::int32_t shape;
    world::PieceIndex visitor;
    std::int64_t since;     ///< tick
    std::int32_t part = -1; ///< the visitor's shape that came first
    world::Manner manner = world::Manner::sense;
};

/// What lasts from one moment on: who is inside, which keys are down, which captions were said
/// last.
struct Standing {
    std::vector<Insider> inside;        ///< in order of arrival
    std::vector<std::string> keysDown;  ///< in the order in which they went down
    std::vector<std::int32_t> captions; ///< the last caption and prompt of each piece, as lines of the journal
    std::int32_t shake = -1;            ///< the last shake of the view, as a line of the journal; -1: none
};

/// The same while it is followed line by line.
class StandingSoFar {
  public:
    /// Goes one line on.
    void follow(const rules::Line& line, std::int32_t index, const rules::Journal& journal);
    Standing now() const { return {inside_.list(), keysDown_, captions_.list(), shake_}; }

  private:
    Ordered<std::uint64_t, Insider> inside_;        ///< by shape and visitor
    Ordered<std::uint64_t, std::int32_t> captions_; ///< by piece and kind of response
    std::vector<std::string> keysDown_;
    std::int32_t shake_ = -1;
};

/// Where the pointer was from a tick on, and which buttons were down.
struct PointerMoment {
    std::int64_t tick = 0;
    world::Pointer pointer;
    std::vector<scene::Button> buttons; ///< in the order in which they went down
};

struct Record {
    std::shared_ptr<const scene::Scene> scene;
    scene::Take take;
    rules::Journal journal;
    RecordIndex index;                  ///< of the journal
    std::vector<std::size_t> linesFrom; ///< by tick: its first line in the journal
    Snapshots snapshots;
    std::vector<StandingSoFar>
        standing; ///< every `Snapshots::keyEvery` ticks, so that a moment is found without reading all
    std::vector<PointerMoment> pointer; ///< whenever it changed, in order
    std::vector<RunPiece> pieces;
    std::vector<ShapeName> shapeNames;
    std::vector<scene::Look> looks;
    std::string stopReason; ///< why it ended early, or empty (K8)
    std::vector<Probe> probes; ///< of the take's expectations, in their order; empty if the run was not asked for them

    /// The last tick that was run, and how long all took, s.
    std::int64_t lastTick() const { return snapshots.count() - 1; }
    double seconds() const { return static_cast<double>(std::max<std::int64_t>(0, lastTick())) / scene->rate; }
    /// The lines of the log of a tick, in order.
    std::span<const rules::Line> linesOf(std::int64_t tick) const;
    /// "scene", "pointer" or the piece's id; empty for nobody.
    std::string_view nameOf(world::PieceIndex piece) const;
    std::string_view shapeNameOf(std::int32_t shape) const;
    /// The values of the signal that a line hears.
    scene::Named<scene::Scalar> valuesOf(std::int32_t line) const;
    const std::string& snareNameOf(std::int32_t snare) const
    {
        return scene->snares[static_cast<std::size_t>(snare)].id;
    }
};

/// Where the pointer was at the end of `tick`; not there before its first input.
PointerMoment pointerAt(const Record& record, std::int64_t tick);

/// The phase of a piece or of the scene at the end of `tick`; empty if it has none.
std::string phaseAt(const Record& record, world::PieceIndex owner, std::int64_t tick);

/// The value of a property or variable at the end of `tick`, as set by then or given in the scene.
std::optional<scene::Scalar> valueAt(const Record& record, world::PieceIndex owner, std::string_view name,
                                     std::int64_t tick);

/// What stands at the end of `tick`.
Standing standingAt(const Record& record, std::int64_t tick);

/// Who is inside what at the end of `tick`, in order of arrival.
std::vector<Insider> insidersAt(const Record& record, std::int64_t tick);

} // namespace snare::sim
