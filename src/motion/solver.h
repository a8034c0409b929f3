// SPDX-License-Identifier: Apache-2.0
/// The solver: what bodies that touch do to each other's velocities in one tick.
///
/// Sequential impulses with Coulomb friction, the two points of an edge solved together, started
/// with the impulses of the last tick. The tick is cut into sub-steps; in each, contacts that are
/// too deep are pushed apart softly and the velocity which that gave is taken out again, so that
/// nothing gains energy by it. Contacts that are not reached yet hold a body back just so far that
/// it reaches them at the end of the sub-step. What bounces gets its speed back at the end of the
/// tick. docs/motion.md tells the method and where it comes from.
#pragma once

#include "geometry/vec.h"
#include "world/world.h"

#include <span>
#include <vector>

namespace snare::motion {

using geometry::Vec;

/// What solids keep between each other at rest: within the distance at which a stop meeting begins
/// (M4), m.
inline constexpr double skinWidth = 0.005;

/// Slower than this nothing bounces, m/s: a hop that is too low to end the meeting would not be
/// told anyway (M4).
inline constexpr double restitutionThreshold = 0.3;

/// A body in one tick.
struct Body {
    world::PieceIndex piece = world::nobody;
    double inverseMass = 0; ///< 1/kg; 0: nothing moves it
    double inverseInertia = 0;
    Vec start{0, 0}; ///< centre of mass at the start of the tick
    Vec velocity{0, 0};
    double spin = 0; ///< radians/s
    Vec acceleration{0, 0};
    bool free = false;   ///< nothing touched it in the last tick: the whole tick's gravity comes first (V2)
    Vec shift{0, 0};     ///< since the start of the tick
    double turned = 0;   ///< radians, since the start of the tick
    Vec arm{1, 0};       ///< cosine and sine of `turned`
    int stirred = 0;     ///< the last pass in which a contact changed its speed by more than nothing
    bool thrown = false; ///< it went elsewhere than it was expected to

    Vec velocityAt(const Vec& fromCentre) const { return velocity + geometry::perpendicular(fromCentre) * spin; }
};

/// One point at which two bodies touch or will.
struct ContactPoint {
    Vec onA{0, 0}; ///< from the centre of A at the start of the tick
    Vec onB{0, 0};
    double separation = 0;     ///< m beyond `skinWidth`, at the start of the tick
    double normalImpulse = 0;  ///< N s, of the last sub-step, along the normal
    double tangentImpulse = 0; ///< N s, across it
    double normalMass = 0;
    double tangentMass = 0;
    double before = 0; ///< m/s along the normal at the start of the tick
    double most = 0;   ///< N s, the largest `normalImpulse` of the tick
    Vec mark{0, 0};    ///< the point in the axes of B's piece: known again in the next tick
};

struct Contact {
    std::uint64_t key = 0; ///< the two parts
    int shapeA = 0;
    int shapeB = 0;
    int a = 0; ///< index of the body; 0 is the ground
    int b = 0;
    Vec normal{1, 0}; ///< unit, from A to B
    double friction = 0;
    double bounce = 0;
    double roundA = 0;   ///< m, the rounding of the part of A: it does not turn with A
    double roundB = 0;   ///< m
    double coupling = 0; ///< 1/kg: how much an impulse at one of two points moves the other
    int count = 0;
    std::array<ContactPoint, 2> points{};

    bool presses() const { return (count > 0 && points[0].most > 0) || (count > 1 && points[1].most > 0); }
};

/// Solves one tick of `dt` seconds. Body 0 is the ground. Velocities and shifts of the bodies and
/// impulses of the contacts are changed. `fixed` contacts (with a body that nothing moves) are
/// solved after the others, so that what is squeezed gives way to them last.
void solve(std::span<Body> bodies, std::span<Contact> contacts, double dt);

} // namespace snare::motion
