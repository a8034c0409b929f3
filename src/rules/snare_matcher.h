// SPDX-License-Identifier: Apache-2.0
/// The snare matcher: offers events to snares, in book order, and tells what each makes of them: it
/// springs, it slips at one of its stages, or it waits for the visitor to stay (S1 to S7, S12, M11,
/// P11).
///
/// It owns what decides that: who is inside (Presence), who was counted, which snares are armed,
/// what their gates remember, and the dwells. All of it is told from the enters and exits that pass
/// through here, by the number of the meeting, so that nothing outlasts the meeting that it belongs
/// to (K6).
#pragma once

#include "rules/book.h"
#include "rules/dwells.h"
#include "rules/gate.h"
#include "rules/occupancy.h"
#include "rules/run_state.h"
#include "rules/tick_context.h"

namespace snare::rules {

class SnareMatcher {
  public:
    explicit SnareMatcher(const scene::Scene& scene) : book_(scene), gates_(scene.snares.size()) {}

    /// Back to the start (T5): nobody is inside, the snares are armed as the scene says, gates
    /// forget unless they never do (S5).
    void reset(const scene::Scene& scene);

    /// Goes on with a scene that differs only in what its snares do and let pass.
    void rebind(const scene::Scene& scene) { book_ = Book(scene); }

    /// Who listens, who is inside, and which snares are armed.
    const Book& book() const { return book_; }
    const Presence& presence() const { return presence_; }
    bool isArmed(int snare) const { return armed_[static_cast<std::size_t>(snare)] != 0; }
    /// True if it was not armed before.
    bool arm(int snare) { return std::exchange(armed_[static_cast<std::size_t>(snare)], 1) == 0; }
    /// True if it was armed before.
    bool disarm(int snare) { return std::exchange(armed_[static_cast<std::size_t>(snare)], 0) != 0; }
    /// The gate of a snare forgets how often it sprang.
    void rearm(int snare) { gates_[static_cast<std::size_t>(snare)].forget(); }

    /// Offers an event other than enter, stay and exit to all who hear it. `gone`: what it is about
    /// has left the scene (K6).
    void offer(Event& event, bool gone, const TickContext& tick) { offer(event, gone, true, tick); }
    /// Enter, stay and exit: who is inside is told as they are delivered. An exit ends what its
    /// meeting held, whoever is gone by then (K6).
    void offerContact(Event& event, bool gone, const TickContext& tick);

    /// Calls `visit(sequence)` for each dwell that is over by `tick`.
    template <class Visit> void forEachDueDwell(std::int64_t tick, Visit&& visit) const
    {
        dwells_.forEachDue(tick, visit);
    }
    /// A visitor has stayed as long as it must, if it is still there.
    void finishDwell(std::uint32_t sequence, const TickContext& tick);

    /// S7 with `catchUp`: those inside already are offered to a snare that did not listen before,
    /// at one self or, with `nobody`, at all.
    void catchUp(int snare, PieceIndex only, const TickContext& tick);
    /// The same to all snares that begin to listen because a phase of `owner` has changed.
    void catchUpWithPhase(PieceIndex owner, const std::string& from, const std::string& to, const TickContext& tick);

    /// Whether the meeting that caused a run goes on (S13).
    bool isOn(const CausingMeeting& cause, PieceIndex self, PieceIndex visitor) const;

  private:
    void offer(Event& event, bool gone, bool whole, const TickContext& tick);
    void offerEverywhere(int snare, Event& event, bool gone, const TickContext& tick);
    void offerAt(int snare, PieceIndex self, Event& event, bool gone, const TickContext& tick);
    void consider(int snare, PieceIndex self, Event& event, bool gone, bool afterDwell, const TickContext& tick);
    void spring(int snare, PieceIndex self, const Event& event, const TickContext& tick);

    bool catches(int snare, const Event& event, bool whole, const TickContext& tick) const;
    bool catchesContact(int snare, const Event& event, bool whole, const TickContext& tick) const;
    bool catchesAct(int snare, const Event& event, const TickContext& tick) const;
    bool isTimeToStay(int snare, const Event& event, const TickContext& tick) const;
    bool isNearest(int snare, PieceIndex self, PieceIndex visitor, const TickContext& tick) const;
    std::vector<std::pair<PieceIndex, Presence::InShape>> insidersFor(int snare, PieceIndex self,
                                                                      const TickContext& tick) const;
    std::optional<std::string> turnedAwayByGate(int snare, PieceIndex self, const Event& event, bool afterDwell,
                                                const TickContext& tick);
    void startDwell(int snare, PieceIndex self, const Event& event, const TickContext& tick);
    CausingMeeting causeOf(int snare, PieceIndex self, const Event& event, const TickContext& tick) const;

    /// M11: counts a visitor in or out and queues what comes of it behind the events of its kind
    /// and moment (M12).
    void countIn(const Event& enter, bool whole, const TickContext& tick);
    void countOut(const Event& exit, const Presence::Ended& ended, const TickContext& tick);
    void cancelDwells(const Presence::Ended& ended, const TickContext& tick);
    /// S5: gates that forget when the place is empty.
    void forgetVacated(PieceIndex self, const TickContext& tick);

    Book book_;
    std::vector<char> armed_; ///< by snare
    std::vector<GateMemory> gates_;
    Lookup<PieceIndex, std::vector<int>> forgetful_; ///< by self: the snares whose gates there forget when it is empty
    Dwells dwells_;
    Presence presence_;
    Occupancy occupancy_;
};

} // namespace snare::rules
