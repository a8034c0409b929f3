// SPDX-License-Identifier: Apache-2.0
/// The events that snares catch, and what is true of each kind.
#pragma once

#include "scene/fields.h"

#include <array>

namespace snare::scene {

/// What can happen. A new one gets a row in `wordsOf<EventKind>` and a place in `familyOf`.
enum class EventKind : std::uint8_t {
    start,
    enter,
    stay,
    exit,
    hit,
    occupied,
    vacated,
    down,
    up,
    click,
    doubled,
    dragBegin,
    drag,
    dragEnd,
    drop,
    sweepBegin,
    sweepEnd,
    keyDown,
    keyHeld,
    keyUp,
    elapsed,
    rises,
    falls,
    called,
    heard,
    spawned,
    removed,
    strays,
    phaseBegin,
    phaseEnd,
    arrived,
    changed,
    lookEnded
};

/// What an event kind needs to be caught; the cards and the checker ask this.
enum class EventFamily { scene, contact, pointer, key, timer, watch, call, signal, piece, phase, value };

/// What is true of an event by its kind.
struct EventWord {
    EventKind value;
    std::string_view word;
    std::string_view about;
    EventFamily family;
    std::string_view verb; ///< "When {visitor} enters {at}"
};

template <>
inline constexpr auto wordsOf<EventKind> = std::array{
    EventWord{EventKind::start, "start", "the run begins, or begins again", EventFamily::scene, "starts"},
    EventWord{EventKind::enter, "enter", "a visitor comes in", EventFamily::contact, "enters"},
    EventWord{EventKind::stay, "stay", "a visitor is still inside, every tick", EventFamily::contact, "stays in"},
    EventWord{EventKind::exit, "exit", "a visitor leaves", EventFamily::contact, "leaves"},
    EventWord{EventKind::hit, "hit", "a visitor bumps into a solid", EventFamily::contact, "hits"},
    EventWord{EventKind::occupied, "occupied", "the first visitor that passes the filter is inside",
              EventFamily::contact, "is first in"},
    EventWord{EventKind::vacated, "vacated", "the last visitor that had passed the filter is gone",
              EventFamily::contact, "is last out of"},
    EventWord{EventKind::down, "down", "a button of the pointer goes down here", EventFamily::pointer, "presses"},
    EventWord{EventKind::up, "up", "a button of the pointer is let go here", EventFamily::pointer, "lets go at"},
    EventWord{EventKind::click, "click", "pressed and let go here, without a drag", EventFamily::pointer, "clicks"},
    EventWord{EventKind::doubled, "double", "two clicks within 0.4 s", EventFamily::pointer, "double-clicks"},
    EventWord{EventKind::dragBegin, "drag-begin", "the pointer begins to drag it", EventFamily::pointer,
              "begins to drag"},
    EventWord{EventKind::drag, "drag", "the pointer drags it, in every tick it moves", EventFamily::pointer, "drags"},
    EventWord{EventKind::dragEnd, "drag-end", "the pointer lets go of what it dragged", EventFamily::pointer,
              "ends dragging"},
    EventWord{EventKind::drop, "drop", "what was dragged is let go over it", EventFamily::pointer, "is dropped on"},
    EventWord{EventKind::sweepBegin, "sweep-begin", "the pointer opens a box over the ground", EventFamily::pointer,
              "begins to sweep"},
    EventWord{EventKind::sweepEnd, "sweep-end", "the pointer lets go of the box", EventFamily::pointer,
              "ends sweeping"},
    EventWord{EventKind::keyDown, "key-down", "a key is pressed", EventFamily::key, "is pressed"},
    EventWord{EventKind::keyHeld, "key-held", "a key is down, every tick", EventFamily::key, "is held"},
    EventWord{EventKind::keyUp, "key-up", "a key is let go", EventFamily::key, "is let go"},
    EventWord{EventKind::elapsed, "elapsed", "a timer has run its time", EventFamily::timer, "elapses"},
    EventWord{EventKind::rises, "rises", "a number goes above a level", EventFamily::watch, "rises"},
    EventWord{EventKind::falls, "falls", "a number goes below a level", EventFamily::watch, "falls"},
    EventWord{EventKind::called, "called", "a call comes from outside", EventFamily::call, "is called"},
    EventWord{EventKind::heard, "heard", "a signal is raised", EventFamily::signal, "is heard"},
    EventWord{EventKind::spawned, "spawned", "a piece is made from a template", EventFamily::piece, "is spawned"},
    EventWord{EventKind::removed, "removed", "a piece is taken out of the scene", EventFamily::piece, "is removed"},
    EventWord{EventKind::strays, "strays", "a piece leaves the bounds of the scene", EventFamily::piece, "strays"},
    EventWord{EventKind::phaseBegin, "phase-begin", "a phase begins", EventFamily::phase, "begins"},
    EventWord{EventKind::phaseEnd, "phase-end", "a phase ends", EventFamily::phase, "ends"},
    EventWord{EventKind::arrived, "arrived", "a moving piece has reached its target", EventFamily::piece, "arrives"},
    EventWord{EventKind::changed, "changed", "a variable or property has another value", EventFamily::value, "changes"},
    EventWord{EventKind::lookEnded, "look-ended", "a look that plays once has played", EventFamily::piece,
              "has played its look"},
};

/// The row of a kind; every kind has one.
constexpr const EventWord& wordFor(EventKind kind)
{
    return wordsOf<EventKind>[static_cast<std::size_t>(kind)];
}

constexpr EventFamily familyOf(EventKind kind)
{
    return wordFor(kind).family;
}

static_assert(
    [] {
        for (std::size_t i = 0; i < wordsOf<EventKind>.size(); ++i)
            if (wordsOf<EventKind>[i].value != static_cast<EventKind>(i))
                return false;
        return true;
    }(),
    "the table of events stands in the order of the enumeration");

} // namespace snare::scene
