// SPDX-License-Identifier: Apache-2.0
/// The journal of a run: everything that the log shows, in order, as flat lines of indices.
#pragma once

#include "rules/event.h"

namespace snare::rules {

enum class LineKind : std::uint8_t { event, snare, response, note };
enum class Outcome : std::uint8_t { sprung, slipped };
enum class Stage : std::uint8_t { armed, phase, filter, gate, gone };

std::string_view wordOf(LineKind kind);
std::string_view wordOf(Outcome outcome);
std::string_view wordOf(Stage stage);

/// One line of the log. What applies depends on `kind`.
struct Line {
    std::int32_t tick = 0;
    LineKind kind = LineKind::event;
    EventKind event = EventKind::start; ///< event and snare lines
    Manner manner = Manner::sense;
    Cause cause = Cause::moved;
    Outcome outcome = Outcome::sprung;
    Stage stage = Stage::armed;
    double frac = -1;
    PieceIndex self = theScene;  ///< event: at; snare: self; response: on (`nobody`: none)
    PieceIndex visitor = nobody; ///< event: by; snare: visitor
    std::int32_t shape = -1;     ///< of self, index in World::shapes
    std::int32_t part = -1;      ///< of the visitor, index in World::shapes
    std::int32_t snare = -1;     ///< index in Scene::snares
    std::int32_t about = -1;     ///< the event line that this line follows from
    std::int32_t until = -1;     ///< tick up to which a caption shows
    std::string_view response;   ///< the word of the response, a constant
    std::string text;            ///< reason, note, caption, or the word that an event is about
    Vec point{0, 0};
    Vec normal{0, 0};
    double speed = 0;
};

/// A property or variable that was set.
struct ValueChange {
    std::int32_t tick = 0;
    PieceIndex owner = theScene;
    std::string name;
    std::optional<scene::Scalar> value; ///< nothing: it no longer has one
};

/// The values of a signal that was raised; none if it carries none.
struct SignalValues {
    std::int32_t line = 0; ///< where it is heard
    scene::Named<scene::Scalar> with;
};

/// A snare that was armed or disarmed.
struct Arming {
    std::int32_t tick = 0;
    std::int32_t snare = -1;
    bool armed = false;
};

/// A piece, or the scene, that changed its phase.
struct PhaseChange {
    std::int32_t tick = 0;
    PieceIndex owner = theScene;
    std::string phase; ///< empty: it has none
};

struct Journal {
    bool withStays = false; ///< stay and key-held events are written too
    std::int32_t tick = 0;  ///< of what is being written
    std::vector<Line> lines;
    std::vector<ValueChange> values;
    std::vector<Arming> armings;
    std::vector<PhaseChange> phases;
    std::vector<SignalValues> signalValues; ///< in the order of their lines

    std::int32_t add(Line line)
    {
        line.tick = tick;
        lines.push_back(std::move(line));
        return static_cast<std::int32_t>(lines.size()) - 1;
    }
};

} // namespace snare::rules
