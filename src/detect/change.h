// SPDX-License-Identifier: Apache-2.0
/// What detection tells: meetings, and what a tick changed about them.
#pragma once

#include "world/world.h"

#include <vector>

namespace snare::detect {

using world::Cause;
using world::Manner;
using world::PieceIndex;
using world::Vec;
using world::World;

/// More than this that begins or ends in one tick is not told: the run stops. It is what fifteen
/// hundred pieces in one place come to.
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

    friend auto operator<=>(const Meeting&, const Meeting&) = default; // NOLINT(modernize-use-nullptr)
};

} // namespace snare::detect
