// SPDX-License-Identifier: Apache-2.0
/// The engine: offers events to snares and carries out what they respond, in the order of K2 to K8.
///
/// A value without clock or global state. It works on a world and a detection that belong to the run and are handed in.
#pragma once

#include "detect/detection.h"
#include "motion/motion.h"
#include "rules/book.h"
#include "rules/gate.h"
#include "rules/insiders.h"
#include "rules/journal.h"
#include "rules/occupancy.h"
#include "rules/run_state.h"
#include "rules/values.h"

#include <memory>

namespace snare::rules {

/// More deliveries of signals than this in one tick stop the run (K8).
inline constexpr int mostSignalsInATick = 10'000;

/// More restarts than this in one tick stop the run: the scene restarts itself whenever it starts.
inline constexpr int mostRestartsInATick = 100;

/// The parts of a run that rules act on.
struct Stagehand {
    world::World& world;
    detect::Detection& detection;
    Journal& journal;
};

class Engine {
  public:
    explicit Engine(std::shared_ptr<const scene::Scene> scene);

    /// Back to the start state at `tick`; keys keep theirs (T5).
    void reset(std::int64_t tick);

    void beginTick(std::int64_t tick);

    // What happens, in the order in which it is to be delivered (K2).
    void queue(Event event);
    void queueKey(const std::string& key, bool down);
    void queueHeldKeys(bool evenIfUnheard);
    void queueClocks();
    void queueArrivals(std::span<const motion::Arrival> arrivals);

    /// Delivers all that is queued and what comes of it. Ends early when a restart or an error stops it.
    void deliverAll(Stagehand hand);

    /// Someone asked for a restart: the caller puts the world back and calls `reset` (T5).
    bool restartAsked() const { return restartAsked_; }

    /// Why the run cannot go on, or empty (K8).
    const std::string& stopReason() const { return stopReason_; }
    void stop(std::string reason) { stopReason_ = std::move(reason); }

    const std::vector<std::string>& keysDown() const { return keysDown_; }
    const Insiders& insiders() const { return insiders_; }
    bool hearsStays() const { return !book_.listeningTo(EventKind::stay).empty(); }
    bool isArmed(int snare) const { return armed_[static_cast<std::size_t>(snare)] != 0; }
    const scene::Scene& scene() const { return *scene_; }
    std::int64_t tick() const { return tick_; }
    /// The snares that asked for the last restart, as names.
    const std::string& restartedBy() const { return restartedBy_; }

  private:
    friend class Doing;

    struct Item {
        enum class Kind { event, resume, dwellDone } kind = Kind::event;
        Event event;
        std::uint32_t id = 0; ///< of the run, or the dwell's sequence
    };

    struct TimerState {
        std::int64_t from = 0;
        std::int64_t elapsed = 0;
        bool runs = false;
    };

    void deliver(Event& event, Stagehand hand);
    void offer(Event& event, bool gone, bool whole, Stagehand hand);
    bool catches(int snare, const Event& event, bool whole, const world::World& world) const;
    void consider(int snare, PieceIndex self, const Event& event, bool gone, bool afterDwell, Stagehand hand);
    void spring(int snare, PieceIndex self, const Event& event, Stagehand hand);
    void slip(int snare, PieceIndex self, const Event& event, Stage stage, std::string reason, Stagehand hand);
    void writeEvent(Event& event, Stagehand hand);
    /// M11: counts a visitor in or out and queues what comes of it behind the events of its kind and moment (M12).
    void countVisitor(const Event& event, bool whole, Stagehand hand);
    void queueInOrder(Event event);
    void cancelDwells(const Event& exit, Stagehand hand);
    void finishDwell(std::uint32_t sequence, Stagehand hand);

    void resume(std::uint32_t id, Stagehand hand);
    /// Carries out steps until the run waits or ends.
    void carryOut(RunState run, Stagehand hand);
    void ended(const RunState& run);
    /// All runs that a waited signal started have ended (S10).
    void signalDone(std::uint32_t number);
    void orderEnded(std::uint32_t order, std::string_view overtaken, Stagehand hand);

    void settle(double frac, Stagehand hand);
    void apply(const Noted& noted, Stagehand hand);
    template <class Visit> void forEachRider(PieceIndex piece, Stagehand hand, Visit&& visit);
    void offerToInsiders(int snare, Stagehand hand);

    std::shared_ptr<const scene::Scene> scene_;
    Book book_;
    std::int64_t tick_ = 0;

    std::vector<Item> queue_;
    std::size_t head_ = 0;
    std::vector<Noted> noted_;
    std::vector<PieceIndex> removedNow_;
    std::vector<PieceIndex> touched_; ///< pieces that something happened to, while settling
    std::vector<int> armedNow_;
    std::vector<Cause> endCauses_; ///< by shape, while settling

    std::vector<char> armed_; ///< by snare
    std::vector<GateMemory> gates_;
    std::vector<RunState> runs_;
    std::vector<DwellState> dwells_;
    std::vector<SignalWait> signalWaits_;
    std::vector<TimerState> timers_; ///< by source
    Insiders insiders_;
    Occupancy occupancy_;
    std::vector<std::string> keysDown_;

    std::uint32_t lastRun_ = 0;
    std::uint32_t lastSequence_ = 0;
    std::uint32_t lastSignal_ = 0;
    int signalsInTick_ = 0;
    std::vector<int> raisers_; ///< the last snares that raised signals in this tick, for the message of K8
    bool restartAsked_ = false;
    std::string restartedBy_;
    std::string stopReason_;
};

} // namespace snare::rules
