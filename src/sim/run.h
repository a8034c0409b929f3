// SPDX-License-Identifier: Apache-2.0
/// One run of a scene: state in, events out. A value: a copy goes on by itself from the same
/// moment, with the same events.
#pragma once

#include "rules/engine.h"
#include "scene/take.h"
#include "sim/tracks.h"

namespace snare::sim {

class Run {
  public:
    /// Sets the scene up. Nothing happens before `start`.
    /// The chance of the run comes from `seed`, else from that of the scene (T3).
    explicit Run(std::shared_ptr<const scene::Scene> scene, std::optional<std::uint32_t> seed = {});

    /// Driven pieces go along these from the next tick on. Those that these do not lead in a tick
    /// go in it to the place that an input of that tick says (V10).
    void lead(std::shared_ptr<const Tracks> tracks) { tracks_ = std::move(tracks); }

    /// Goes on with another scene, which differs only in what has not shown yet: how snares that
    /// were offered nothing so far filter and respond, and looks that nobody wore (see
    /// sim/resume.h). What is under way may still lie in the scene of before: the run keeps it.
    void goOnWith(std::shared_ptr<const scene::Scene> scene);

    /// Tick 0 (K9).
    void start(rules::Journal& journal);

    /// The next tick with its inputs, in the order of K1. Does nothing once stopped.
    void tick(std::span<const scene::Input> inputs, rules::Journal& journal);

    /// Once `cancelled` is set, the tick that is under way is left as soon as may be; the run is of
    /// no use then.
    void heed(const std::atomic<bool>* cancelled)
    {
        cancelled_ = cancelled;
        detection_.heed(cancelled);
    }

    /// How many scenes it went on from.
    std::size_t changes() const { return before_.size(); }
    std::int64_t tickNumber() const { return tick_; }
    const world::World& world() const { return world_; }
    /// See Engine::valueAt.
    std::optional<scene::Scalar> valueAt(std::string_view path) { return engine_.valueAt(path, world_, detection_); }
    const rules::Engine& engine() const { return engine_; }
    /// Why the run cannot go on, or empty (K8).
    const std::string& stopReason() const { return engine_.stopReason(); }

  private:
    bool isCancelled() const { return cancelled_ && cancelled_->load(std::memory_order_relaxed); }
    rules::RunParts parts(rules::Journal& journal) { return {world_, detection_, journal, cancelled_}; }
    void begin(rules::Journal& journal);
    void leadDriven(rules::Journal& journal);
    void noteReturned(const world::World& before, rules::Journal& journal) const;
    void deliver(rules::Journal& journal);
    void queueMeetings(bool atStart, bool withStays);
    void deliverMeetings(rules::Journal& journal);

    std::shared_ptr<const scene::Scene> scene_;
    std::vector<std::shared_ptr<const scene::Scene>> before_; ///< the scenes that it went on from
    world::World world_;
    detect::Detection detection_;
    rules::Engine engine_;
    motion::Movement movement_;
    std::vector<motion::Arrival> arrivals_;
    std::shared_ptr<const Tracks> tracks_;
    std::vector<Tracks::Place> places_; ///< where driven pieces go in this tick
    std::int64_t tick_ = 0;
    bool hasBegun_ = false; ///< the world is no longer as it was set up
    const std::atomic<bool>* cancelled_ = nullptr;
};

} // namespace snare::sim
