// SPDX-License-Identifier: Apache-2.0
/// Dynamic pieces: gravity, contacts, carrying and sleep (V1, V2, V4, V7).
///
/// What rests for half a second among what rests falls asleep: it is not moved and costs nothing
/// until something that moves comes near, something near it changes, or a response pushes it.
#pragma once

#include "motion/contacts.h"
#include "motion/mass.h"
#include "motion/solids.h"

namespace snare::motion {

/// The mass of a dynamic piece with what rides on it, or of a walker; 0 for others, which nothing
/// can push; kg.
double massOf(const world::World& world, world::PieceIndex piece);

class Dynamics {
  public:
    /// Wakes those near pieces that something happened to since the last tick. Before and after
    /// `Solids::refresh`.
    void wakeNear(world::World& world, const Solids& solids, std::span<const world::PieceIndex> pieces);

    /// Moves dynamic pieces by `dt` seconds. Kinematic pieces have moved already; walkers take part
    /// with the velocity that they want (`approach`), but are moved by themselves.
    void advance(world::World& world, Solids& solids, double dt);
    void forget();

    /// Whether there is a dynamic piece or a walker.
    bool any() const { return !loose_.empty(); }
    /// Dynamic pieces and walkers that are not removed, in scene order.
    std::span<const world::PieceIndex> bodies() const { return loose_; }
    /// Learns of pieces that are new.
    void follow(world::World& world);
    /// The contacts of the last tick.
    std::span<const Contact> contacts() const { return contacts_; }

  private:
    /// What is kept of a piece from tick to tick.
    struct State {
        Mass mass; ///< of it and its riders, in its axes
        bool isMassKnown = false;
        bool isNew = true;                         ///< it has not moved yet
        bool touched = false;                      ///< something pressed it in the last tick
        double still = 0;                          ///< s, for how long it has rested
        double inner = 0;                          ///< m: half as thick as its thinnest part
        double radius = 0;                         ///< m: its farthest corner from the centre of mass
        world::PieceIndex carrier = world::nobody; ///< the kinematic piece that carries it (V4),
        Vec carried{0, 0};                         ///< and how that moved it in the last tick, m/s
        double carriedSpin = 0;                    ///< degrees/s
    };

    State& stateOf(world::PieceIndex piece) { return states_[static_cast<std::size_t>(piece)]; }
    int& slotOf(world::PieceIndex piece) { return slots_[static_cast<std::size_t>(piece)]; }
    Body& bodyAt(int body) { return bodies_[static_cast<std::size_t>(body)]; }
    bool isOwn(int body) const { return body > 0 && static_cast<std::size_t>(body) < ownBodies_; }
    void wake(world::World& world, world::PieceIndex piece);
    void sleep(world::World& world, world::PieceIndex piece);
    void wakeAround(world::World& world, const Solids& solids, world::PieceIndex piece);
    void wakeThoseInTheWay(world::World& world, Solids& solids, double dt);
    void weigh(const world::World& world, world::PieceIndex piece);
    void ride(world::World& world, world::PieceIndex piece, double dt);
    void setUp(world::World& world, Solids& solids, double dt);
    int bodyOf(const world::World& world, world::PieceIndex piece, double dt);
    void findContacts(world::World& world, const Solids& solids, double dt);
    void findContactsOf(const world::World& world, const Solids& solids, int body, double dt);
    void dropInnerJoints(const world::World& world, std::size_t from);
    void warmUp();
    void writeBack(world::World& world, Solids& solids, double dt);
    geometry::Motion wayOf(const world::World& world, const Body& body, world::PieceIndex piece) const;
    double freeWay(const world::World& world, Solids& solids, const Body& body) const;
    void tellBumps(world::World& world, double dt) const;
    void findCarriers(world::World& world, double dt);
    void settleDown(world::World& world, double dt);

    std::vector<State> states_;            ///< by piece
    std::vector<world::PieceIndex> loose_; ///< dynamic pieces and walkers, in order
    std::size_t known_ = 0;                ///< pieces that were looked at
    std::vector<Body> bodies_;
    std::vector<int> slots_;    ///< by piece: its body in this tick, or 0
    std::size_t ownBodies_ = 0; ///< bodies of dynamic pieces and walkers, the ground included
    std::vector<Contact> contacts_;
    std::vector<Contact> previous_;
    std::vector<int> carriers_; ///< by body: the kinematic piece that carries it, or nobody
};

} // namespace snare::motion
