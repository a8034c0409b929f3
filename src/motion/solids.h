// SPDX-License-Identifier: Apache-2.0
/// The solids of the world as convex parts in a grid: who is near whom, for those that solids stop
/// (M6).
///
/// A part is told by its index in World::parts. What rests is placed once; what moves is placed
/// with the way that it goes. The grid knows only solids that take part in meetings.
#pragma once

#include "geometry/grid.h"
#include "world/world.h"

namespace snare::motion {

class Solids {
  public:
    /// Follows what happened to the world since the last call: pieces that are new, were settled or
    /// woken.
    void refresh(const world::World& world);
    void forget();

    /// Places a part where it covers `bounds`, if it is a solid.
    void place(int part, const geometry::Bounds& bounds);
    /// Places all parts of a piece with the way from `motion.from` to `motion.to` as fat AABBs,
    /// `fatMargin` (m) larger on every side.
    void placePiece(const world::World& world, world::PieceIndex piece, const geometry::Motion& motion,
                    double fatMargin);
    bool holds(int part) const { return part < static_cast<int>(shapes_.size()) && grid_.holds(part); }
    bool covers(int part, const geometry::Bounds& bounds) const
    {
        return grid_.boxOf(part).contains(geometry::Box{bounds});
    }
    /// The shape of a part that the grid holds.
    int shapeOf(int part) const { return shapes_[static_cast<std::size_t>(part)]; }
    /// Calls `visit(other)` once for each other part whose place overlaps that of `part`, which is
    /// in the grid.
    template <class Visit> void visitNear(int part, Visit&& visit) const { grid_.visitNear(part, visit); }

  private:
    struct Range {
        std::uint32_t first = 0;
        std::uint32_t count = 0;
    };

    void follow(const world::World& world, world::PieceIndex piece);

    geometry::Grid grid_;
    std::vector<int> shapes_;   ///< by part; -1: not in the grid
    std::vector<Range> ranges_; ///< by shape: the parts of it that are in the grid
};

/// Whether two shapes stop each other where they are now (M1, M2, M14, M15).
bool stopEachOther(const world::World& world, const world::LiveShape& a, const world::LiveShape& b);

} // namespace snare::motion
