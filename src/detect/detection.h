// SPDX-License-Identifier: Apache-2.0
/// Meetings: which shapes touch which, when that began and when it ends (section Meetings of the semantics).
///
/// Detection knows nothing of snares. It looks at the motion of one tick and tells what changed, in the order of M12.
#pragma once

#include "scene/event_kind.h"
#include "world/world.h"

namespace snare::detect {

using world::Cause;
using world::Manner;
using world::PieceIndex;
using world::Vec;
using world::World;

/// A stop meeting begins at this separation and ends beyond the other one (M4), m.
inline constexpr double stopBegins = 0.01;
inline constexpr double stopEnds = 0.02;

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

class Detection {
  public:
    /// Finds what the motion from World::before to World::pose changed and clears the marks of K7.
    /// With `atStart` everything has cause `start` and there are no hits (K9). Stays are told only if asked for.
    /// The list is valid until the next call.
    const std::vector<Change>& detect(World& world, bool atStart, bool withStays);

    /// Ends the meetings of shapes that can no longer meet, or not in the same manner (K5): exits at `frac`, with what
    /// `causeOf(shape)` says of the visitor's shape, else of self's.
    template <class CauseOf> const std::vector<Change>& settle(const World& world, double frac, CauseOf&& causeOf)
    {
        findEnded(world);
        for (Change& change : changes_) {
            const Cause visitors = causeOf(change.part);
            change.cause = visitors != Cause::moved ? visitors : causeOf(change.shape);
            change.frac = frac;
        }
        return changes_;
    }

    /// Forgets all meetings, without events (T5).
    void forget();

    /// The number of pairs of shapes that touch now.
    std::size_t pairCount() const { return pairs_.size(); }

  private:
    /// Two shapes that touch; `a` < `b`.
    struct Pair {
        int a;
        int b;
        Manner manner;

        friend auto operator<=>(const Pair& x, const Pair& y) { return x.a != y.a ? x.a <=> y.a : x.b <=> y.b; }
        friend bool operator==(const Pair& x, const Pair& y) { return x.a == y.a && x.b == y.b; }
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

    void findCandidates(const World& world);
    void followPair(const World& world, const Pair& candidate, const Pair* existing, bool atStart);
    void tellTouches(const World& world, bool atStart, bool withStays);
    void tellGroup(const World& world, std::span<const Touch> touches, bool atStart, bool withStays);
    void tellHit(const World& world, const Touch& touch);
    void findEnded(const World& world);

    std::vector<Pair> pairs_; ///< sorted
    std::vector<Pair> next_;
    std::vector<Pair> candidates_; ///< sorted
    std::vector<Touch> touches_;
    std::vector<Change> changes_;
    std::vector<geometry::Bounds> bounds_;
    std::vector<int> order_;
    std::vector<int> activeMovers_;
    std::vector<int> activeResting_;
};

/// Whether two shapes can meet now, and how (M1, M2); `pass` if not.
scene::Contact mannerBetween(const World& world, int a, int b);

} // namespace snare::detect
