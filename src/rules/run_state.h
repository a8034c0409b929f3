// SPDX-License-Identifier: Apache-2.0
/// A response list on its way through its steps, and what it waits for (S8 to S10).
#pragma once

#include "rules/presence.h"

namespace snare::rules {

/// What a run waits for before its next step; one of these, or nothing.
struct Waiting {
    std::int64_t untilTick = -1;       ///< a time
    std::vector<std::uint32_t> orders; ///< moves and turns to end
    std::uint32_t signal = 0;          ///< all runs started by a signal
    std::uint32_t run = 0;             ///< a routine

    bool anything() const { return untilTick >= 0 || !orders.empty() || signal != 0 || run != 0; }
};

/// The meeting that caused a run, if one did: `until: "exit"` lasts as long (S13).
struct CausingMeeting {
    enum class State : std::uint8_t {
        none, ///< a key, a clock, …: what is changed stays
        on,   ///< it may have ended since: `meeting` tells
        over  ///< the run began with its end
    };
    State state = State::none;
    MeetingId meeting = noMeeting;
    int shape = -1; ///< of self, if the snare catches at one shape; else -1: the piece as a whole (M9)
};

struct RunState {
    RunState() noexcept {} // of its own, so that new ones are not filled with zeros first
    std::uint32_t id = 0;
    int snare = -1;
    PieceIndex self = theScene;
    PieceIndex visitor = nobody;
    CausingMeeting cause;
    const Event* lent = nullptr; ///< the event while it is delivered
    std::optional<Event> kept;   ///< the event once the run has waited
    std::size_t step = 0;        ///< the next response
    Waiting waiting;
    std::uint32_t sequence = 0;                         ///< when the waiting began, among waits and dwells (K2)
    std::uint32_t startedBy = 0;                        ///< the waited signal that started it
    const std::vector<scene::Response>* list = nullptr; ///< the snare's responses, or those of a routine
    scene::Named<scene::Scalar> with = {};              ///< values of a routine
    int depth = 0;                                      ///< how many routines it is in
    std::string_view routine = {};                      ///< the one that it is in, or empty

    const Event& event() const { return kept ? *kept : *lent; }
    /// What a run that goes on later needs of its event, which is gone by then.
    void keepEvent()
    {
        if (!kept)
            kept = *lent;
        lent = nullptr;
    }
};

/// A signal whose runs are waited for.
struct SignalWait {
    int open = 0; ///< runs not ended yet
    bool delivered = false;
};

/// A piece to be made from a template.
struct SpawnOrder {
    const scene::Piece* model = nullptr;
    std::string form; ///< name of the template
    std::string id;
    world::Pose pose;
    Vec velocity{0, 0};
    bool hasVelocity = false;
    scene::Named<scene::Scalar> properties;
    int snare = -1; ///< that asked for it
};

/// A change noted during a delivery, to take effect at settling (K4).
struct PendingChange {
    enum class Kind {
        show,
        hide,
        enable,
        disable,
        regroup,
        resize,
        retrace,
        put,
        attach,
        detach,
        remove,
        spawn,
        phase,
        arm,
        disarm,
        restart
    };
    Kind kind = Kind::show;
    PieceIndex piece = nobody;
    int shape = -1; ///< index in World::shapes; -1: the whole piece
    Vec at{0, 0};   ///< put
    bool relative = false;
    std::optional<double> height = {}; ///< put, m: the new height, or with `relative` how much higher
    double scale = 1;                  ///< resize: times its size as drawn, or with `relative` as it is
    PieceIndex carrier = nobody;       ///< attach
    double turn = 0;                   ///< put home
    bool turns = false;
    int group = 0;          ///< regroup
    int snare = -1;         ///< arm, disarm, and who asked for it
    int by = -1;            ///< the snare whose step it is
    std::int32_t step = -1; ///< of that snare, or of the routine
    std::string_view routine = {};
    bool ifClear = false;   ///< put
    std::string phase = {}; ///< phase: its name, or `next`
    std::uint32_t hold = 0; ///< what was before is kept under this number (S13)
    std::shared_ptr<const SpawnOrder> spawn = {};
};

} // namespace snare::rules
