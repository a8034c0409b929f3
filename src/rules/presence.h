// SPDX-License-Identifier: Apache-2.0
/// Who is inside what, as the snares were told: a visitor is in from when its enter was offered
/// until its exit was.
///
/// The one place that knows it. Each meeting has a number of its own: that of a visitor with the
/// piece as a whole, and that of a visitor with each of its shapes (M9). What hangs on a meeting
/// (dwells, counts, what is held) is kept under that number and ends with it, whatever became of
/// the piece, its tags or the snare meanwhile (K6).
#pragma once

#include "rules/event.h"
#include "rules/lookup.h"

#include <boost/container/small_vector.hpp>

namespace snare::rules {

using MeetingId = std::uint32_t;
inline constexpr MeetingId noMeeting = 0;

class Presence {
  public:
    /// A visitor in one shape of a piece.
    struct InShape {
        int shape = -1;         ///< of self, index in World::shapes
        int part = -1;          ///< of the visitor, that came in first
        std::int64_t since = 0; ///< tick
        MeetingId meeting = noMeeting;
        std::int32_t line = -1; ///< of the log, that tells its enter
    };

    /// A visitor in a piece, from the first of its shapes to the last.
    struct Stay { // NOLINT(bugprone-exception-escape): moving a small_vector of these does not throw
        PieceIndex self = nobody;
        PieceIndex visitor = nobody;
        std::int64_t since = 0; ///< tick
        MeetingId meeting = noMeeting;
        boost::container::small_vector<InShape, 1> shapes; ///< in order of arrival

        const InShape* in(int shape) const
        {
            const auto found = std::ranges::find(shapes, shape, &InShape::shape);
            return found == shapes.end() ? nullptr : &*found;
        }
    };

    /// The meetings that an exit ends: that with the shape and, with the last shape, that with the
    /// piece.
    struct Ended {
        MeetingId shape = noMeeting;
        MeetingId whole = noMeeting;
    };

    void clear();

    /// A visitor comes into a shape; true if it was not in the piece before. Being in already
    /// changes nothing. `line` of the log tells it.
    bool enter(PieceIndex self, int shape, PieceIndex visitor, int part, std::int64_t tick, std::int32_t line);

    /// It leaves the shape. Nothing ended if it was not in.
    Ended leave(PieceIndex self, int shape, PieceIndex visitor);

    /// The visitor's stay in the piece, or nullptr. Valid until the next change.
    const Stay* find(PieceIndex self, PieceIndex visitor) const;
    bool has(PieceIndex self, PieceIndex visitor) const { return find(self, visitor) != nullptr; }
    bool has(PieceIndex self, int shape, PieceIndex visitor) const
    {
        const Stay* stay = find(self, visitor);
        return stay && stay->in(shape);
    }

    /// Calls `visit(const Stay&)` for each visitor in a piece, in order of arrival at it.
    template <class Visit> void forEachIn(PieceIndex self, Visit&& visit) const
    {
        if (static_cast<std::size_t>(self) >= places_.size())
            return;
        for (int slot = places_[static_cast<std::size_t>(self)].first; slot >= 0;) {
            const Slot& one = slots_[static_cast<std::size_t>(slot)];
            slot = one.next;
            visit(one.stay);
        }
    }

    /// Calls `visit(const Stay&)` for each piece that a visitor is in, in no order that means
    /// anything.
    template <class Visit> void forEachOf(PieceIndex visitor, Visit&& visit) const
    {
        if (const auto* all = ofVisitor_.find(visitor))
            for (const int slot : *all)
                visit(slots_[static_cast<std::size_t>(slot)].stay);
    }

    /// How many are in a piece, the pointer counted too.
    int allIn(PieceIndex self) const { return placeOf(self).all; }
    /// How many pieces are in a piece, each counted once.
    int piecesIn(PieceIndex self) const { return placeOf(self).pieces; }
    /// How many are in a shape, the pointer counted too.
    int allInShape(int shape) const
    {
        return static_cast<std::size_t>(shape) < inShape_.size() ? inShape_[static_cast<std::size_t>(shape)] : 0;
    }

    /// Whether the stay in `shape` is the one that speaks for the piece as a whole in this tick:
    /// the first in the scene of those that were entered before.
    bool speaksForWhole(PieceIndex self, int shape, PieceIndex visitor, std::int64_t tick) const
    {
        const Stay* stay = find(self, visitor);
        return !stay || std::ranges::none_of(stay->shapes,
                                             [&](const InShape& one) { return one.shape < shape && one.since < tick; });
    }

  private:
    struct Slot { // NOLINT(bugprone-exception-escape): as a stay
        Stay stay;
        int next = -1; ///< in the list of self
        int last = -1;
        std::size_t atVisitor = 0; ///< its place in the list of the visitor
    };
    struct Place {
        int first = -1;
        int last = -1;
        int all = 0;
        int pieces = 0;
    };

    static std::uint64_t keyOf(PieceIndex self, PieceIndex visitor)
    {
        return static_cast<std::uint64_t>(static_cast<std::uint32_t>(self)) << 32 | static_cast<std::uint32_t>(visitor);
    }
    const Place& placeOf(PieceIndex self) const
    {
        static constexpr Place none;
        return static_cast<std::size_t>(self) < places_.size() ? places_[static_cast<std::size_t>(self)] : none;
    }

    std::vector<Slot> slots_;
    std::vector<int> free_;
    Lookup<std::uint64_t, int> slotOf_;              ///< by self and visitor
    std::vector<Place> places_;                      ///< by piece
    Lookup<PieceIndex, std::vector<int>> ofVisitor_; ///< slots
    std::vector<int> inShape_;                       ///< by shape
    MeetingId last_ = noMeeting;
};

/// The meeting that a catch at a shape of this name means, or at the piece as a whole if it names
/// none (M9); nothing if the visitor is in no such shape.
std::optional<MeetingId> meetingMeant(const Presence::Stay& stay, std::string_view shape, const world::World& world);

} // namespace snare::rules
