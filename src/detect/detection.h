// SPDX-License-Identifier: Apache-2.0
/// Meetings: which shapes touch which, when that began and when it ends (section Meetings of the semantics).
///
/// Detection knows nothing of snares. It looks at the motion of one tick and tells what changed, in the order of M12.
///
/// A piece is expected to go on as it does: straight, evenly, turning evenly. While it keeps to that course, up to a
/// small leeway, a pair cannot change before a tick that is known from its distance; until then nobody looks at it. A
/// shape is looked at, with all that are near it, when it leaves its course, when something happened to it, or when it
/// is due, because it leaves the room ahead of it that it has in the grid.
#pragma once

#include "detect/timing_wheel.h"
#include "geometry/grid.h"
#include "geometry/memory.h"
#include "scene/event_kind.h"
#include "world/world.h"

#include <atomic>

namespace snare::detect {

using geometry::Box;
using geometry::Grid;
using world::Cause;
using world::Manner;
using world::PieceIndex;
using world::Vec;
using world::World;

/// A stop meeting begins at this separation and ends beyond the other one (M4), m.
inline constexpr double stopBegins = 0.01;
inline constexpr double stopEnds = 0.02;

/// More than this that begins or ends in one tick is not told: the run stops. It is what fifteen hundred pieces in one
/// place come to.
inline constexpr std::size_t mostChangesInATick = 2'000'000;

/// One side of what happened between a shape and a visiting piece (M8, M9).
struct Change {
    scene::EventKind kind = scene::EventKind::enter; ///< enter, stay, exit or hit
    PieceIndex self = 0;
    PieceIndex visitor = 0;
    int shape = 0;   ///< of self, index in World::shapes
    int part = 0;    ///< of the visitor, index in World::shapes
    double frac = 0; ///< in [0, 1] (M7)
    Manner manner = Manner::sense;
    Cause cause = Cause::moved;
    Vec point{0, 0};  ///< hit only (M10)
    Vec normal{0, 0}; ///< hit only: unit, from self towards the visitor
    double speed = 0; ///< hit only: m/s
};

/// Sorts by the order of M12.
void sortChanges(std::vector<Change>& changes);

/// Two shapes that touch now; `a` < `b`.
struct Meeting {
    int a = 0;
    int b = 0;
    Manner manner = Manner::sense;

    friend auto operator<=>(const Meeting&, const Meeting&) = default;
};

class Detection {
  public:
    /// Finds what the motion from World::before to World::pose changed and clears the marks of K7.
    /// With `atStart` everything has cause `start` and there are no hits (K9). Stays are told only if asked for.
    /// The list is valid until the next call. Nothing is allocated once as much was found before.
    const std::vector<Change>& detect(World& world, bool atStart, bool withStays);

    /// Once `cancelled` is set, a detection under way is left as soon as may be. What it found is of no use then, and
    /// neither is this detection until it is told to `forget`. Null heeds nothing.
    void heed(const std::atomic<bool>* cancelled) { cancelled_ = cancelled; }

    /// Ends the meetings of `pieces` that can no longer be, or not in the same manner (K5): exits at `frac`, for the
    /// reason that `causeOf(change)` says.
    template <class CauseOf>
    const std::vector<Change>& endMeetings(const World& world, std::span<const PieceIndex> pieces, double frac,
                                           CauseOf&& causeOf)
    {
        findEnded(world, pieces);
        for (Change& change : changes_) {
            change.cause = causeOf(change);
            change.frac = frac;
        }
        return changes_;
    }

    /// Whether the last detection found so much that it gave up: the run cannot go on.
    bool gaveUp() const { return gaveUp_; }

    /// Forgets all meetings, without events (T5).
    void forget();

    /// Calls `visit(shape)` for each shape that may be within the bounds, as far as the last detection knows: all but
    /// those that something happened to since (World::changed).
    template <class Visit> void visitIn(const geometry::Bounds& bounds, Visit&& visit) const
    {
        grid_.visitOverlapping(Box{bounds}, visit);
    }

    /// All pairs of shapes that touch now, sorted.
    std::vector<Meeting> meetings() const;
    std::size_t meetingCount() const { return links_.size() - free_.size(); }

    /// What is kept for the shapes and for the meetings, in bytes.
    std::size_t shapeBytes() const;
    std::size_t meetingBytes() const;

  private:
    bool isCancelled() const { return cancelled_ && cancelled_->load(std::memory_order_relaxed); }

    /// A meeting in the lists of its two shapes.
    struct alignas(32) Link {
        int a;
        int b;
        std::array<int, 2> next; ///< in the list of a, of b
        std::array<int, 2> last;
        std::uint32_t seen;       ///< the detection that looked at it last
        std::uint32_t begun : 31; ///< the detection that began it
        std::uint32_t stops : 1;

        Manner manner() const { return stops != 0 ? Manner::stop : Manner::sense; }
        Meeting meeting() const { return {a, b, manner()}; }
    };

    /// The meetings of one shape that has many, by the other shape.
    struct Crowd {
        int shape = -1;
        std::uint32_t round = 0;                          ///< an entry counts if it is of this one
        std::vector<std::pair<std::uint32_t, int>> links; ///< by shape; -1: none
        std::pair<int, int> last{-1, -1};                 ///< the pair that was asked for last

        void note(int a, int b, int link)
        {
            if (shape < 0 || (shape != a && shape != b))
                return;
            const auto other = static_cast<std::size_t>(shape == a ? b : a);
            if (other >= links.size()) // spawned since
                links.resize(other + 1);
            links[other] = {round, link};
        }
    };

    /// How a piece is expected to go on: as it went in the tick in which it left its last course.
    struct alignas(32) Course {
        Vec at{0, 0};    ///< at the end of that tick
        float stepX = 0; ///< m a tick
        float stepY = 0;
        float leeway = 0;             ///< m that it may be off; 0 if it rests
        std::uint32_t since : 31 = 0; ///< that tick: a run of a year fits in
        std::uint32_t turns : 1 = 0;

        bool rests() const { return stepX == 0 && stepY == 0 && turns == 0; }
        Vec step() const { return {stepX, stepY}; }
        /// Where it is expected at the end of a tick, m.
        Vec placeIn(std::uint32_t round) const { return at + step() * static_cast<double>(round - since); }
    };

    /// What turning does to a piece, apart from its course since few turn.
    struct Spin {
        float step = 0;   ///< degrees a tick, of its course
        float radius = 0; ///< m, its farthest corner
    };

    /// What detection must know of a shape, to pass over most of those nearby without looking at the world.
    struct alignas(32) Known {
        PieceIndex piece = 0;
        std::int32_t first = -1; ///< of its meetings, or -1
        std::uint32_t round = 0; ///< the detection in which it was looked at last
        std::int32_t group : 24 = 0;
        bool takesPart : 1 = false;
        bool resting : 1 = false;
        bool zone : 1 = false;
        /// A plain hull around its piece's place, without margin or heights, while the piece keeps to its course
        /// without turning: all that is asked of it then is here. The sizes are rounded up.
        bool plain : 1 = false;
        float halfX = 0; ///< m
        float halfY = 0;
        float radius = 0;
    };

    /// What one tick did to a pair, told for one side.
    struct Touch {
        int shape;
        PieceIndex visitor;
        int part;
        Manner manner;
        bool was;     ///< touched before this tick
        bool is;      ///< touches at its end
        double begin; ///< frac, if it was not
        double end;   ///< frac, if it is not
        Cause beginCause;
        Cause endCause;
    };

    struct Key {
        std::uint64_t first;
        std::size_t index;
    };

    scene::Contact contactOf(const World& world, int a, int b) const;
    Course& courseOf(const Known& known) { return courses_[static_cast<std::size_t>(known.piece)]; }
    const Course& courseOf(const Known& known) const { return courses_[static_cast<std::size_t>(known.piece)]; }
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
    bool lookAtPlain(const World& world, int a, int b);
    void setPlain(const World& world, int shape);
    void lookAtLeft(const World& world, bool atStart);
    void look(const World& world, int shape, int other, bool atStart);
    void schedule(int a, int b, double ticks);
    void follow(const World& world, int a, int b, int link, scene::Contact contact, bool atStart);
    void addBumps(const World& world);
    void addOthers(const World& world);
    void addStays(const World& world);
    template <class Item, class FirstOf, class RestOf>
    void sortBy(std::vector<Item>& items, std::vector<Item>& room, FirstOf&& firstOf, RestOf&& restOf);
    void sortTold();
    void tellTouches(const World& world, bool atStart, bool withStays);
    void tellGroup(const World& world, std::span<const Touch> touches, bool atStart, bool withStays);
    void tellHit(const World& world, const Touch& touch);
    void findEnded(const World& world, std::span<const PieceIndex> pieces);

    int linkBetween(int a, int b);
    int linkInCrowd(int a, int b);
    int join(const Meeting& meeting);
    void part(int link);
    Link& linkAt(int link) { return links_[static_cast<std::size_t>(link)]; }
    const Link& linkAt(int link) const { return links_[static_cast<std::size_t>(link)]; }
    /// The next meeting in the list of one of its shapes, or -1.
    static int nextOf(const Link& link, int shape) { return link.next[link.a == shape ? 0 : 1]; }

    Grid grid_;
    geometry::Table<Known> known_;
    geometry::Table<Course> courses_;    ///< by piece
    geometry::Table<Spin> spins_;        ///< by piece
    geometry::Table<std::uint32_t> due_; ///< by shape: the detection in which it is looked at next
    geometry::Table<Link> links_;
    Crowd crowd_;
    std::vector<int> free_;                 ///< links that are not used
    std::vector<int> looked_;               ///< shapes that are looked at in this detection, in order
    std::vector<std::uint64_t> isLookedAt_; ///< by shape, a bit each: so few that they are always at hand
    std::vector<PieceIndex> previous_;      ///< pieces that moved in the last tick
    std::vector<std::pair<int, int>> near_; ///< pairs to look at
    TimingWheel wheel_;                     ///< by detection
    bool gaveUp_ = false;
    const std::atomic<bool>* cancelled_ = nullptr;
    std::uint32_t round_ = 0; ///< detections so far
    std::uint32_t count_ = 0; ///< detections and settlings so far
    std::vector<Touch> touches_;
    std::vector<Change> changes_;
    std::vector<Key> keys_; ///< for sorting, like the next ones
    std::vector<Key> spreadKeys_;
    std::vector<std::uint32_t> buckets_;
    std::vector<Touch> sortedTouches_;
    std::vector<Change> sortedChanges_;
};

/// Whether two shapes can meet now, and how (M1, M2, M14); `pass` if not.
scene::Contact mannerBetween(const World& world, int a, int b);

/// Whether two shapes may meet in this manner as far as their groups go, whatever else keeps them apart (M2).
bool groupsAllow(const World& world, int a, int b, Manner manner);

} // namespace snare::detect
