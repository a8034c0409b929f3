// SPDX-License-Identifier: Apache-2.0
/// Carrying out one response of a run: what `apply` has to work with. Private to the rules floor.
#pragma once

#include "rules/pending_change.h"
#include "rules/response_runs.h"
#include "rules/snare_matcher.h"
#include "rules/spawn_names.h"
#include "rules/values.h"

namespace snare::rules {

class ResponseContext {
  public:
    ResponseContext(const TickContext& tick, RunState& run);

    /// What follows is about this response. False if its conditions do not hold: then it is not to
    /// be carried out.
    bool begin(const scene::Response& response);

    // Where and when the response is carried out, and for whom.
    world::World& world() { return tick_.world; }
    const Surroundings& around() const { return around_; }
    const scene::Scene& scene() const { return tick_.scene; }
    int rate() const { return tick_.scene.rate; }
    std::int64_t tick() const { return tick_.number; }
    int snare() const { return run_.snare; }
    PieceIndex self() const { return run_.self; }

    /// What the targets name now, each piece once in the order of first mention, with `tellShapes`
    /// each shape of it; names that lead to nothing are noted and left out (S9). If nothing is left
    /// the step does nothing else.
    Targets on(const scene::Target& target, bool tellShapes = false);
    /// Whether the scene alone is meant, as for most values.
    static bool isScene(const scene::Target& target)
    {
        return target.names.size() == 1 && target.names.front() == "scene";
    }
    /// The snare of that name, or -1.
    int findSnare(std::string_view id) const { return tick_.book.find(id); }
    /// The same, pieces alone.
    Targets piecesOn(const scene::Target& target, bool tellShapes = false);

    /// Writes the response line; `on` is `nobody` for responses without a target. Returns its
    /// number.
    std::int32_t tell(PieceIndex on, std::string_view text = {}, std::int64_t until = -1);
    /// The same with a number beside it that the text does not show.
    void tellWith(PieceIndex on, std::string_view text, double number);
    /// The same of a value that was set.
    void tellValue(PieceIndex on, std::string_view name, const scene::Scalar& value);
    /// Returns the name as a text of the journal.
    Texts::Id tellNumber(PieceIndex on, std::string_view name, double value);
    void note(std::string_view text);

    // A field of the response that was told last, as it was worked out.
    void with(const char* name, double value) { field(name).x = value; }
    void withValue(const char* name, const scene::Scalar& value);
    void with(const char* name, std::string_view text);
    void with(const char* name, const Vec& point, double height);
    void with(const char* name, const scene::Named<scene::Scalar>& values);
    void withList(const char* name, const std::vector<std::string>& words);
    /// The name of the shape that is acted on, if it is one.
    void withShape(const Acted& target);
    void withUntil(std::optional<scene::Until> until);

    /// Whether the meeting that caused the run goes on (S13).
    bool isMeetingOn() const;
    /// S13: whether a response that lasts until the meeting ends can be done: false, and noted, if
    /// it is over.
    bool mayHold(std::optional<scene::Until> until);
    /// Keeps what was before until the meeting ends; 0 if it is not to be kept.
    std::uint32_t hold(std::optional<scene::Until> until, Hold hold);

    /// A change of the world, made when the tick is settled (K4).
    void addPending(PendingChange noted);
    /// The next response comes in that tick; now, if it is not after this one.
    void waitUntil(std::int64_t tick) { run_.waiting.untilTick = tick > tick_.number ? tick : -1; }
    /// The next response comes when the order is done or given up.
    void waitForOrder(std::uint32_t order) { run_.waiting.orders.push_back(order); }
    /// A piece's move or turn is taken over by a new order: who waits for it goes on (V3).
    void endMove(PieceIndex piece);
    void endTurn(PieceIndex piece);
    std::uint32_t nextOrder() { return tick_.world.newOrder(); }
    void raise(RaisedSignal signal, bool wait);
    /// A property or variable that is a number; nullptr if it is none, or not there.
    double* numberOf(PieceIndex owner, std::string_view name);
    /// Sets what `numberOf` gave; `word` is its name in the journal.
    void setNumber(PieceIndex owner, const std::string& name, Texts::Id word, double& held, double now)
    {
        tick_.storms.remember(run_.snare);
        tick_.values.setNumber(owner, name, word, held, now, tick_);
    }
    void setValue(PieceIndex owner, const std::string& name, const scene::Scalar& value);
    void rearm(int snare) { tick_.matcher.rearm(snare); }
    void putOn(PieceIndex piece, int look) { tick_.values.putOn(piece, look, tick_); }
    bool hasTimer(std::string_view name) { return tick_.values.hasTimer(name, run_.self); }
    bool changeTimer(std::string_view name, bool runs)
    {
        return tick_.values.changeTimer(name, run_.self, runs, tick_);
    }
    std::string freeName(const std::string& form)
    {
        return tick_.names.next(form, tick_.world, tick_.scene.pieces.size());
    }
    void runRoutine(const scene::Routine& routine, scene::Named<scene::Scalar> with, bool wait, std::string_view name);
    void script(const std::string& lua);

  private:
    std::string_view word() const { return scene::wordOfResponse(response_).key; }
    Line& newLine(LineKind kind, std::string_view text);
    ResponseField& field(const char* name);

    const TickContext& tick_;
    RunState& run_;
    Surroundings around_;
    std::uint8_t response_ = 0; ///< the one that is carried out
    std::int32_t told_ = -1;    ///< the last response line
};

} // namespace snare::rules
