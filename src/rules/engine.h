// SPDX-License-Identifier: Apache-2.0
/// The engine: offers events to snares and carries out what they respond, in the order of K2 to K8.
///
/// A value without clock or global state. It works on a world and a detection that belong to the run and are handed in.
#pragma once

#include "detect/detection.h"
#include "motion/motion.h"
#include "rules/agenda.h"
#include "rules/book.h"
#include "rules/clocks.h"
#include "rules/dwells.h"
#include "rules/end_marks.h"
#include "rules/gate.h"
#include "rules/holds.h"
#include "rules/journal.h"
#include "rules/occupancy.h"
#include "rules/pointer_input.h"
#include "rules/presence.h"
#include "rules/values.h"
#include "rules/waiting_runs.h"
#include "rules/watches.h"
#include "scene/take.h"

#include <atomic>
#include <memory>

namespace snare::rules {

/// More deliveries of signals and phase events than this in one tick stop the run (K8).
inline constexpr int mostSignalsInATick = 10'000;

/// More other events that responses cause than this in one tick, and more routines run, stop it too: what changes and
/// what is spawned can go round in a ring as well. It is far more than a tick should take.
inline constexpr int mostCausedInATick = 1'000'000;

/// More spawned pieces than this at once stop the run (K8).
inline constexpr int mostSpawnedAtOnce = 10'000;

/// More restarts than this in one tick stop the run: the scene restarts itself whenever it starts.
inline constexpr int mostRestartsInATick = 100;

/// Routines that run each other deeper than this stop the run.
inline constexpr int mostRoutinesDeep = 100;

/// More pieces than this in one run, those that are gone counted in, stop it.
inline constexpr std::size_t mostPieces = 200'000;

/// The parts of a run that rules act on.
struct TickContext {
    world::World& world;
    detect::Detection& detection;
    Journal& journal;
    const std::atomic<bool>* cancelled = nullptr; ///< once it is set, the tick is left as soon as may be

    bool isCancelled() const { return cancelled && cancelled->load(std::memory_order_relaxed); }
};

class Engine {
  public:
    /// Nothing happens before `reset`.
    Engine(std::shared_ptr<const scene::Scene> scene, std::uint64_t seed);

    /// Back to the start state at `tick`; keys keep theirs (T5). `world` is as it starts.
    void reset(std::int64_t tick, const world::World& world);

    void beginTick(std::int64_t tick);

    // What happens, in the order in which it is to be delivered (K2).
    void queue(const detect::Change& change) { fillIn(agenda_.add(Item::Kind::event).event, change); }
    void queue(Event&& event) { agenda_.add(Item::Kind::event).event = std::move(event); }
    /// A new event behind all others, to be filled in.
    Event& queueNew(EventKind kind, PieceIndex self)
    {
        Event& event = agenda_.add(Item::Kind::event).event;
        event.kind = kind;
        event.self = self;
        return event;
    }
    void queueStart(const world::World& world);
    /// Notes what a snare says and that cannot be heeded, once a run.
    void noteIgnored(Journal& journal) const;
    void queueInput(const scene::Input& input);
    /// What was still to come of the inputs when a restart was asked for (T5).
    void queueLaterInputs();
    /// What the inputs of the tick come to once all are there.
    void queueInputsEnd();
    /// What the pointer meets now that everything has moved, and what it no longer does (P2); the marks of K7 must
    /// still be there.
    std::vector<detect::Change> meetPointer(const world::World& world, bool atStart, bool withStays)
    {
        return pointer_.meetAfterMotion(pointerContext(world), atStart, withStays);
    }
    void queueHeldKeys(bool evenIfUnheard);
    void queueClocks(const world::World& world);
    void queueArrivals(std::span<const motion::Arrival> arrivals);
    /// Pieces whose centre has left the bounds (V9). Those that stop there are brought back before anything is met.
    void findStrays(world::World& world);
    void queueStrays();

    /// Delivers all that is queued and what comes of it. Ends early when a restart or an error stops it.
    void deliverAll(const TickContext& hand);

    /// Someone asked for a restart: the caller puts the world back and calls `reset` (T5).
    bool restartAsked() const { return restartAsked_; }

    /// Why the run cannot go on, or empty (K8, S14).
    const std::string& stopReason() const { return stopReason_; }
    void stop(std::string reason)
    {
        if (stopReason_.empty())
            stopReason_ = std::move(reason);
    }

    /// More meets in this tick than can be told.
    void stopForCrowd();

    const std::vector<std::string>& keysDown() const { return keysDown_; }
    /// The buttons that are down, in the order in which they went down.
    std::vector<scene::Button> buttonsDown() const { return pointer_.buttonsDown(); }
    const Presence& presence() const { return presence_; }
    bool hearsStays() const { return !book_.listeningTo(EventKind::stay).empty(); }
    bool isArmed(int snare) const { return armed_[static_cast<std::size_t>(snare)] != 0; }
    const scene::Scene& scene() const { return *scene_; }
    std::int64_t tick() const { return tick_; }
    /// The snares that asked for the last restart, as names.
    const std::string& restartedBy() const { return restartedBy_; }

  private:
    friend class ResponseContext;

    // delivery
    void deliver(Event& event, const TickContext& hand);
    void deliverInside(Event& event, bool gone, const TickContext& hand);
    void deliverKey(const Item& item);
    void tellUnheard(const Item& item, Journal& journal);
    /// The snares that set something off in this tick last, for the message of an error.
    std::string raisers() const;
    /// Carries out an item that is no event.
    void carryOut(Item& item, const TickContext& hand);
    bool isStorm(EventKind kind);
    void offer(Event& event, bool gone, bool whole, const TickContext& hand);
    void offerEverywhere(int snare, Event& event, bool gone, const TickContext& hand);
    void offerAt(int snare, PieceIndex self, Event& event, bool gone, const TickContext& hand);
    void applyOutside(PieceIndex piece, const world::World& world);
    bool catches(int snare, const Event& event, bool whole, const world::World& world) const;
    bool catchesContact(int snare, const Event& event, bool whole, const world::World& world) const;
    bool isTimeToStay(int snare, const Event& event) const;
    bool isNearest(int snare, PieceIndex self, PieceIndex visitor, const world::World& world) const;
    std::vector<std::pair<PieceIndex, Presence::InShape>> insidersFor(int snare, PieceIndex self,
                                                                      const world::World& world) const;
    CausingMeeting causeOf(int snare, PieceIndex self, const Event& event, const world::World& world) const;
    bool isOn(const CausingMeeting& cause, PieceIndex self, PieceIndex visitor) const;
    void consider(int snare, PieceIndex self, Event& event, bool gone, bool afterDwell, const TickContext& hand);
    std::optional<std::string> turnedAwayByPhase(const scene::Snare& snare, PieceIndex self,
                                                 const world::World& world) const;
    std::optional<std::string> turnedAwayByGate(int snare, PieceIndex self, const Event& event, bool afterDwell);
    void spring(int snare, PieceIndex self, const Event& event, const TickContext& hand);
    void slip(int snare, PieceIndex self, const Event& event, SlipStage stage, std::string_view reason,
              const TickContext& hand);
    void writeEvent(Event& event, bool gone, const TickContext& hand);
    Sources sources() { return {*scene_, presence_, random_, scripts_, overrun_}; }
    Surroundings around(const TickContext& hand, const Event& event, PieceIndex self)
    {
        return {hand.world, hand.detection, event, self, event.visitor, tick_, sources(), nullptr};
    }
    void checkOverrun(int snare)
    {
        if (overrun_.line != 0)
            stopForOverrun(snare);
    }
    void stopForOverrun(int snare);
    /// For the message of K8: a snare that set something off.
    void remember(int snare) { raisers_[raised_++ % raisers_.size()] = snare; }
    /// M11: counts a visitor in or out and queues what comes of it behind the events of its kind and moment (M12).
    void countIn(const Event& enter, bool whole, const TickContext& hand);
    void countOut(const Event& exit, const Presence::Ended& ended);
    void queueCounted(const Event& event, EventKind kind, int snare);
    void queueInOrder(const Event& event);
    void cancelDwells(const Presence::Ended& ended, const TickContext& hand);
    void finishDwell(std::uint32_t sequence, const TickContext& hand);
    /// A visitor has left: gates that forget then, and holds that end then.
    void afterExit(const Event& exit, const Presence::Ended& ended, const TickContext& hand);

    bool catchesAct(int snare, const Event& event, const world::World& world) const;
    PointerContext pointerContext(const world::World& world) const { return {*scene_, book_, world, keysDown_, tick_}; }
    void addDragged(const world::World& world);

    // values; no `value`: it has one no longer
    void setDial(std::size_t source, double value, const TickContext& hand);
    void setValue(PieceIndex owner, const std::string& name, const scene::Scalar* value, const TickContext& hand);
    /// The same for a number that is there already: `held` is where, `word` its name in the journal.
    void setNumber(PieceIndex owner, const std::string& name, Texts::Id word, double& held, double now,
                   const TickContext& hand);
    bool isChangeHeard() const { return !book_.listeningTo(EventKind::changed).empty(); }
    void setAny(PieceIndex owner, const std::string& name, const scene::Scalar* value, const TickContext& hand);
    void judge(PieceIndex owner, std::string_view name, double old, double now, const world::World& world);
    void giveBack(std::vector<Hold> holds, const TickContext& hand);
    void putOn(PieceIndex piece, int look, const TickContext& hand);

    // runs
    void resume(std::uint32_t id, const TickContext& hand);
    /// Carries out steps until the run waits or ends. Returns its id if it waits, else 0.
    std::uint32_t carryOut(RunState&& run, const TickContext& hand);
    void ended(const RunState& run);
    void endRuns(std::vector<RunState> runs);
    void goOn(std::uint32_t run) { agenda_.add(Item::Kind::resume, run); }
    SignalWait* signalWait(std::uint32_t number) { return signalWaits_.find(number); }
    /// All runs that a waited signal started have ended (S10).
    void signalDone(std::uint32_t number);
    void orderEnded(std::uint32_t order, std::string_view overtaken, const TickContext& hand);

    // commit
    void commit(double frac, const TickContext& hand);
    void apply(const PendingChange& pending, const TickContext& hand);
    void applyPhase(const PendingChange& pending, const TickContext& hand);
    void applySpawn(const SpawnOrder& order, const TickContext& hand);
    bool applyPut(const PendingChange& pending, const TickContext& hand);
    void moveScenePhase(int phase, const TickContext& hand);
    template <class Visit> void forEachRider(PieceIndex piece, const TickContext& hand, Visit&& visit);
    /// S7: those inside already are offered, at one self or at all.
    void offerToInsiders(int snare, PieceIndex only, const TickContext& hand);
    void catchUpWithPhase(PieceIndex owner, const std::string& from, const std::string& to, const TickContext& hand);
    /// The id of the next piece of a template: TEMPLATE-1, TEMPLATE-2, …
    std::string freeName(const std::string& form, const world::World& world);

    const scene::Snare& snareAt(int snare) const { return scene_->snares[static_cast<std::size_t>(snare)]; }

    std::shared_ptr<const scene::Scene> scene_;
    Book book_;
    std::int64_t tick_ = 0;

    Agenda agenda_;
    std::vector<PendingChange> pending_;
    std::vector<PieceIndex> removedNow_; ///< in this commit
    Lookup<PieceIndex, bool> isRemovedNow_;
    std::vector<PieceIndex> touched_; ///< pieces that something happened to, in this commit
    std::vector<int> armedNow_;
    std::vector<Event> spawnedNow_;
    std::vector<Event> phasesNow_;
    std::vector<std::tuple<PieceIndex, std::string, std::string>> movedPhases_;
    EndMarks ends_; ///< of this commit

    std::vector<char> armed_; ///< by snare
    std::vector<GateMemory> gates_;
    Lookup<PieceIndex, std::vector<int>> forgetful_; ///< by self: the snares whose gates there forget when it is empty
    WaitingRuns runs_;
    Dwells dwells_;
    Lookup<std::uint32_t, SignalWait> signalWaits_; ///< by number
    Clocks clocks_;
    Watches watches_;
    Holds holds_;
    Presence presence_;
    Occupancy occupancy_;
    PointerInput pointer_;
    std::vector<std::string> keysDown_;
    std::vector<Item> laterInputs_; ///< of this tick, while the scene starts anew
    std::vector<PieceIndex> strays_;
    std::vector<std::pair<std::string, int>> spawned_; ///< how many each template has given so far
    CounterGenerator random_;
    script::Sandbox scripts_;
    Overrun overrun_;

    std::uint32_t lastRun_ = 0;
    std::uint32_t lastSequence_ = 0;
    std::uint32_t lastSignal_ = 0;
    int signalsInTick_ = 0;
    int causedInTick_ = 0;
    int spawnedAtOnce_ = 0; ///< spawned pieces that are there
    int routinesInTick_ = 0;
    std::array<int, 64> raisers_{}; ///< the last snares that set something off in this tick
    std::size_t raised_ = 0;        ///< how many have
    bool restartAsked_ = false;
    std::string restartedBy_;
    std::string stopReason_;
};

} // namespace snare::rules
