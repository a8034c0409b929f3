// SPDX-License-Identifier: Apache-2.0
/// One tick of movement: what pieces do by themselves, by orders, by gravity and by keys (K1 (2),
/// section Movement).
///
/// Kinematic pieces go first and are stopped by nothing. Then dynamic pieces move, then walkers, in
/// scene order; last what is attached to them. docs/motion.md tells how.
#pragma once

#include "motion/dynamics.h"
#include "motion/orders.h"
#include "motion/walk.h"

namespace snare::motion {

/// What moves in a run, with what must be remembered from tick to tick. A value: a copy goes on
/// alike.
class Movement {
  public:
    /// Moves everything by `dt` seconds (> 0). `keysDown` are the keys that steer walkers.
    /// `arrivals` is filled in scene order.
    void advance(world::World& world, const std::vector<std::string>& keysDown, double dt,
                 std::vector<Arrival>& arrivals);

    /// Forgets what is remembered, for a world that begins anew (T5).
    void forget();

    /// Where dynamic pieces touched something in the last tick.
    std::span<const Contact> contacts() const { return dynamics_.contacts(); }

  private:
    Solids solids_;
    Dynamics dynamics_;
};

} // namespace snare::motion
