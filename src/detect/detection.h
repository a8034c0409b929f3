// SPDX-License-Identifier: Apache-2.0
/// Meetings: which shapes touch which, when that began and when it ends (section Meetings of the
/// semantics).
///
/// Detection knows nothing of snares. It looks at the motion of one tick and tells what changed, in
/// the order of M12.
///
/// A piece is expected to go on as it does: straight, evenly, turning evenly. While it keeps to
/// that course, up to a small leeway, a pair cannot change before a tick that is known from its
/// distance; until then nobody looks at it. A shape is looked at, with all that are near it, when
/// it leaves its course, when something happened to it, or when it is due, because it leaves its
/// fat AABB in the grid, which has room ahead of it.
#pragma once

#include "detect/change.h"
#include "detect/contact_graph.h"
#include "detect/prediction.h"
#include "detect/report.h"
#include "detect/timing_wheel.h"
#include "geometry/grid.h"
#include "geometry/memory.h"
#include "scene/event_kind.h"
#include "world/world.h"

#include <atomic>

namespace snare::detect {

using geometry::Box;
using geometry::Grid;

/// A stop meeting begins at this separation and ends beyond the other one (M4), m.
inline constexpr double stopBegins = 0.01;
inline constexpr double stopEnds = 0.02;

class Detection {
  public:
    /// Finds what the motion from World::before to World::pose changed and clears the marks of K7.
    /// With `atStart` everything has cause `start` and there are no hits (K9). Stays are told only
    /// if asked for. The list is valid until the next call. Nothing is allocated once as much was
    /// found before.
    const std::vector<Change>& detect(World& world, bool atStart, bool withStays);

    /// Once `cancelled` is set, a detection under way is left as soon as may be. What it found is
    /// of no use then, and neither is this detection until it is told to `forget`. Null heeds
    /// nothing.
    void heed(const std::atomic<bool>* cancelled) { cancelled_ = cancelled; }

    /// Ends the meetings of `pieces` that can no longer be, or not in the same manner (K5): exits
    /// at `frac`, for the reason that `causeOf(change)` says.
    template <class CauseOf>
    const std::vector<Change>& endMeetings(const World& world, std::span<const PieceIndex> pieces, double frac,
                                           CauseOf&& causeOf)
    {
        findEnded(world, pieces);
        for (Change& change : report_.changes()) {
            change.cause = causeOf(change);
            change.frac = frac;
        }
        return report_.changes();
    }

    /// Whether the last detection found so much that it gave up: the run cannot go on.
    bool gaveUp() const { return gaveUp_; }

    /// Forgets all meetings, without events (T5).
    void forget();

    /// Calls `visit(shape)` for each shape that may be within the bounds, as far as the last
    /// detection knows: all but those that something happened to since (World::changed).
    template <class Visit> void visitIn(const geometry::Bounds& bounds, Visit&& visit) const
    {
        grid_.visitOverlapping(Box{bounds}, visit);
    }

    /// All pairs of shapes that touch now, sorted.
    std::vector<Meeting> meetings() const;
    std::size_t meetingCount() const { return graph_.size(); }

    /// What is kept for the shapes and for the meetings, in bytes.
    std::size_t shapeBytes() const;
    std::size_t meetingBytes() const;

  private:
    bool isCancelled() const { return cancelled_ && cancelled_->load(std::memory_order_relaxed); }

    scene::Contact contactOf(const World& world, int a, int b) const;
    Course& courseOf(const KnownShape& known) { return courses_[static_cast<std::size_t>(known.piece)]; }
    const Course& courseOf(const KnownShape& known) const { return courses_[static_cast<std::size_t>(known.piece)]; }
    bool isLookedAt(int shape) const
    {
        return (isLookedAt_[static_cast<std::size_t>(shape) / 64] >> (static_cast<unsigned>(shape) % 64) & 1U) != 0;
    }
    void refresh(const World& world, int shape);
    bool keepsItsCourse(const World& world, PieceIndex piece) const;
    void setCourse(const World& world, PieceIndex piece);
    geometry::Bounds placeNow(const World& world, int shape) const;
    void refit(const World& world, int shape);
    void findDue(World& world, bool atStart);
    void prefetch(const World& world, int shape, bool deeper, bool all) const;
    void findNear(std::size_t from, std::size_t to);
    bool isCrowded() const;
    void findNearUpwards(std::size_t from, std::size_t to);
    void findScheduled();
    /// `byChance`: most of the pairs will turn out to do nothing.
    void lookAtNear(const World& world, bool atStart, bool byChance);
    bool narrowPhaseAxial(const World& world, int a, int b);
    void setPlain(const World& world, int shape);
    void lookAtLeft(const World& world, bool atStart);
    struct NarrowPair;
    void narrowPhase(const World& world, int shape, int other, bool atStart);
    void narrowStraight(const World& world, NarrowPair& pair);
    void narrowTurning(const World& world, NarrowPair& pair);
    void sweepIf(const World& world, NarrowPair& pair, bool wanted);
    void schedule(int a, int b, double ticks);
    void sweepPair(const World& world, int a, int b, int link, scene::Contact contact, bool atStart);
    void addBumps(const World& world);
    void addOthers(const World& world);
    void addStays(const World& world);
    void findEnded(const World& world, std::span<const PieceIndex> pieces);

    Grid grid_;
    KnownShapes known_;
    geometry::Table<Course> courses_;    ///< by piece
    geometry::Table<Spin> spins_;        ///< by piece
    geometry::Table<std::uint32_t> due_; ///< by shape: the detection in which it is looked at next
    ContactGraph graph_;
    std::vector<int> looked_;               ///< shapes that are looked at in this detection, in order
    std::vector<std::uint64_t> isLookedAt_; ///< by shape, a bit each: so few that they are always at hand
    std::vector<PieceIndex> previous_;      ///< pieces that moved in the last tick
    std::vector<std::pair<int, int>> near_; ///< pairs to look at
    TimingWheel wheel_;                     ///< by detection
    bool gaveUp_ = false;
    const std::atomic<bool>* cancelled_ = nullptr;
    std::uint32_t round_ = 0; ///< detections so far
    std::uint32_t count_ = 0; ///< detections and settlings so far
    Report report_;
};

/// Whether two shapes can meet now, and how (M1, M2, M14); `pass` if not.
scene::Contact mannerBetween(const World& world, int a, int b);

/// Whether two shapes may meet in this manner as far as their groups go, whatever else keeps them
/// apart (M2).
bool groupsAllow(const World& world, int a, int b, Manner manner);

} // namespace snare::detect
