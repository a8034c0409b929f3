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

    /// Whether it waits for something.
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

/// A list of responses being carried out, and where it stands.
struct RunState {
    RunState() noexcept {} // of its own, so that new ones are not filled with zeros first
    std::uint32_t id = 0;
    int snare = -1;
    std::int32_t sprang = -1; ///< the line of the log that tells that the snare sprang
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

    /// The event that it sprang on, kept if the run outlives it.
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

} // namespace snare::rules
