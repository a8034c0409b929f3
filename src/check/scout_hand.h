// SPDX-License-Identifier: Apache-2.0
/// A hand that plays by chance, as a person may who does not know the scene (N38): it walks to
/// places, presses the keys that the scene listens to, points, clicks, drags, turns dials and
/// raises calls.
///
/// What it does follows from the state of the run and from its own chance alone, so that a play can
/// be repeated.
#pragma once

#include "rules/book.h"
#include "rules/counter_generator.h"
#include "scene/take.h"
#include "world/world.h"

#include <deque>
#include <functional>
#include <string>
#include <vector>

namespace snare::check {

/// An input that has no time yet.
using Deed = scene::OneOf<scene::AnyInput>;

/// What of a scene a hand can take hold of.
struct Handles {
    struct Dial {
        std::string name;
        double low = 0;
        double high = 1;
    };

    bool walks = false;                 ///< a walker is steered by keys
    bool leads = false;                 ///< a piece is driven (V10)
    std::vector<std::string> keys;      ///< that snares catch, and that sets of keys have; each once
    std::vector<std::string> modifiers; ///< keys that are to be held while the pointer does something
    bool pointer = false;               ///< something can be pointed at, or dragged
    std::vector<scene::Button> buttons; ///< of the pointer; the left one first
    std::vector<Dial> dials;
    std::vector<scene::CallInput> calls; ///< as their sources have them

    /// Nothing a hand does makes a difference.
    bool none() const { return !walks && !leads && keys.empty() && !pointer && dials.empty() && calls.empty(); }
};

/// Of a scene as it runs (see sim::wholeOf).
Handles handlesOf(const scene::Scene& whole);

/// The part of the plan that the scene is in: its bounds, or what is about its pieces.
geometry::Bounds areaOf(const scene::Scene& whole);

class ScoutHand {
  public:
    /// `sprung`: by snare, whether it ever sprang: what never did draws more. `held`: keys and
    /// buttons that are down from before; they are let go first. All that is given by reference
    /// must live as long as the hand.
    ScoutHand(const scene::Scene& whole, const Handles& handles, const rules::Book& book,
              const std::vector<bool>& sprung, rules::CounterGenerator random, std::vector<scene::Input> held);

    /// What it does in `tick`, the one that comes next in the world; its times are those of that
    /// tick (T2).
    std::vector<scene::Input> act(const world::World& world, std::int64_t tick);

    /// Where driven pieces are led from `tick`, the last that was run, up to `end`; not those that
    /// `isLed` says something else leads.
    std::vector<scene::Input> lead(const world::World& world, std::int64_t tick, std::int64_t end,
                                   const std::function<bool(const std::string& piece)>& isLed);

  private:
    /// Something that is done later.
    struct Planned {
        std::int64_t tick;
        Deed what;
    };
    struct Target {
        geometry::Vec at{0, 0}; ///< m, in the scene
        bool isPinned = false;  ///< `at` is on the glass
    };

    double chance() { return random_.next(); }
    std::int64_t ticks(double low, double high); ///< of a time between, s; the shorter the likelier
    /// The time of inputs of a tick, s: in few figures, and never in the tick after it (T2).
    double timeOf(std::int64_t tick) const;
    void give(Deed what, std::int64_t tick);
    void setKey(const std::string& key, bool down, std::int64_t tick);
    void plan(std::int64_t tick, Deed what) { planned_.push_back({tick, std::move(what)}); }

    void beginWalk(const world::World& world, std::int64_t tick);
    void walk(const world::World& world, std::int64_t tick);
    void endWalk(std::int64_t tick);
    void steer(const world::LivePiece& walker, const geometry::Vec& way, std::int64_t tick);

    void beginDeed(const world::World& world, std::int64_t tick);
    void pressKey(std::int64_t tick);
    void point(const world::World& world, std::int64_t tick);
    void drag(const world::World& world, const Target& from, std::int64_t tick);
    void turnDial(std::int64_t tick);
    void raiseCall(std::int64_t tick);
    Deed placeAt(const world::World& world, const Target& target) const;
    Target somewhere(const world::World& world);
    Target someTarget(const world::World& world);
    geometry::Vec pointOf(const world::World& world, world::PieceIndex piece);
    double weightOf(std::span<const int> snares) const;
    template <class Weight> world::PieceIndex somePiece(const world::World& world, const Weight& weightAt);

    const scene::Scene& scene_;
    const Handles& handles_;
    const rules::Book& book_;
    const std::vector<bool>& sprung_;
    rules::CounterGenerator random_;
    geometry::Bounds area_; ///< where the scene is
    std::vector<scene::Input> inputs_;
    std::vector<scene::Input> held_;
    std::deque<Planned> planned_; ///< in order of time
    std::int64_t deedFrom_ = 0;   ///< the tick in which the next deed may begin

    world::PieceIndex walker_ = world::nobody;
    geometry::Vec goal_{0, 0};
    geometry::Vec lastAt_{0, 0};
    std::int64_t walkFrom_ = 0; ///< the tick in which the next walk may begin
    std::int64_t walkUntil_ = 0;
    std::int64_t sidestepUntil_ = 0; ///< it goes another way for so long, having come to a wall
    geometry::Vec sidestep_{0, 0};
    int stuck_ = 0;
    std::vector<std::string> down_; ///< keys
    std::vector<int> room_;
};

} // namespace snare::check
