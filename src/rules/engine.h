// SPDX-License-Identifier: Apache-2.0
/// The engine: offers events to snares and carries out what they respond, in the order of K2 to K8.
///
/// A value without clock or global state. It works on a world and a detection that belong to the
/// run and are handed in. It owns its parts and the loop that joins them: take an item from the
/// queue, deliver it, commit what it changed.
#pragma once

#include "motion/motion.h"
#include "rules/commit.h"
#include "rules/event_queue.h"
#include "rules/pointer_input.h"
#include "rules/response_runs.h"
#include "rules/snare_matcher.h"
#include "rules/spawn_names.h"
#include "rules/values.h"
#include "scene/take.h"

#include <memory>

namespace snare::rules {

class Engine {
  public:
    /// Nothing happens before `reset`.
    Engine(std::shared_ptr<const scene::Scene> scene, std::uint64_t seed);

    /// Back to the start state at `tick`; keys keep theirs (T5). `world` is as it starts.
    void reset(std::int64_t tick, const world::World& world);

    /// Everything that is told from now on belongs to this tick.
    void beginTick(std::int64_t tick);

    // What happens, in the order in which it is to be delivered (K2).
    void queue(const detect::Change& change, const world::World& world);
    void queue(Event&& event) { queue_.add(std::move(event)); }
    /// K9: the phases begin, then `start`.
    void queueStart(const world::World& world);
    /// Notes what a snare says and that cannot be heeded, once a run.
    void noteIgnored(Journal& journal) const;
    void queueInput(const scene::Input& input);
    /// What was still to come of the inputs when a restart was asked for (T5).
    void queueLaterInputs();
    /// What the inputs of the tick come to once all are there.
    void queueInputsEnd();
    /// What the pointer meets now that everything has moved, and what it no longer does (P2); the
    /// marks of K7 must still be there.
    std::vector<detect::Change> meetPointer(const world::World& world, bool atStart, bool withStays)
    {
        return pointer_.meetAfterMotion(pointerContext(world), atStart, withStays);
    }
    void queueHeldKeys(bool evenIfUnheard);
    void queueClocks(const world::World& world);
    void queueArrivals(std::span<const motion::Arrival> arrivals, const world::World& world);
    /// Pieces whose centre has left the bounds (V9). Those that stop there are brought back before
    /// anything is met.
    void findStrays(world::World& world);
    void queueStrays(const world::World& world);

    /// Delivers all that is queued and what comes of it. Ends early when a restart or an error
    /// stops it.
    void deliverAll(const RunParts& parts);

    /// Someone asked for a restart: the caller puts the world back and calls `reset` (T5).
    bool restartAsked() const { return commit_.restartAsked(); }
    /// The snare that asked for the last restart, as a name.
    const std::string& restartedBy() const { return commit_.restartedBy(); }

    /// Why the run cannot go on, or empty (K8, S14).
    const std::string& stopReason() const { return storms_.reason(); }
    /// The run cannot go on; the tick is put before the reason.
    void stop(std::string_view why) { storms_.stop(why); }
    /// More meets in this tick than can be told.
    void stopForCrowd();

    /// X keysym names, in the order in which they went down.
    const std::vector<std::string>& keysDown() const { return pointer_.keysDown(); }
    /// The buttons that are down, in the order in which they went down.
    std::vector<scene::Button> buttonsDown() const { return pointer_.buttonsDown(); }
    const Presence& presence() const { return matcher_.presence(); }
    /// A value as paths name it, between two ticks: `barrow.x`, `scene.parcels`, of a part
    /// `lock-1.gate.number`. What is removed has its last values. Nothing if there is none.
    std::optional<scene::Scalar> valueAt(std::string_view path, const world::World& world,
                                         const detect::Detection& detection);
    bool hearsStays() const { return !matcher_.book().listeningTo(EventKind::stay).empty(); }
    bool isArmed(int snare) const { return matcher_.isArmed(snare); }
    const scene::Scene& scene() const { return *scene_; }
    /// Goes on with another scene: see Run::goOnWith.
    void rebind(std::shared_ptr<const scene::Scene> scene)
    {
        scene_ = std::move(scene);
        matcher_.rebind(*scene_);
    }
    std::int64_t tick() const { return tick_; }

  private:
    TickContext contextFor(const RunParts& parts);
    PointerContext pointerContext(const world::World& world) const { return {*scene_, matcher_.book(), world, tick_}; }

    // What an input of each kind comes to (K1).
    void queue(const scene::KeyInput& key);
    void queue(const scene::PointerMove& move);
    void queue(const scene::GlassMove& move);
    void queue(const scene::ButtonInput& button);
    void queue(const scene::DialInput& dial);
    void queue(const scene::CallInput& call);
    void queue(const scene::TrackPlace& place);
    void deliver(Event& event, const TickContext& tick);
    /// Remembers what an event that is told leads to without a response (C1).
    void follow(const Event& event, const TickContext& tick);
    /// The start of the scene if nothing is known that came later.
    std::int32_t orStart(std::int32_t line) const { return line >= 0 ? line : startLine_; }
    void tellUnheard(const Item& item, Journal& journal);
    /// Carries out an item that is no event.
    void carryOut(Item& item, const TickContext& tick);
    void carryOutPointer(Item& item, const TickContext& tick);
    void deliverKey(const Item& item);
    void applyOutside(PieceIndex piece, const world::World& world);
    void addDragged(const world::World& world);

    std::shared_ptr<const scene::Scene> scene_;
    std::int64_t tick_ = 0;

    EventQueue queue_;
    StormGuard storms_;
    Evaluator evaluator_;
    SnareMatcher matcher_;
    PointerInput pointer_;
    Values values_;
    ResponseRuns runs_;
    PendingChanges pending_;
    SpawnNames names_;
    Commit commit_;

    std::vector<Item> laterInputs_; ///< of this tick, while the scene starts anew
    std::vector<PieceIndex> strays_;
    std::int32_t startLine_ = -1; ///< of the log, of the last start; -1: it is still to come
    std::vector<std::pair<std::string, std::int32_t>> keyLines_; ///< the keys that are down, and the lines that tell it
};

} // namespace snare::rules
