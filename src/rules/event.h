// SPDX-License-Identifier: Apache-2.0
/// An event of a run, as it is offered to snares.
#pragma once

#include "detect/detection.h"
#include "scene/scene.h"

#include <memory>

namespace snare::rules {

using scene::EventKind;
using world::Cause;
using world::isPointer;
using world::Manner;
using world::nobody;
using world::PieceIndex;
using world::pointerThrough;
using world::thePointer;
using world::theScene;
using world::Vec;

/// A signal under way: its values and who is to hear it.
struct RaisedSignal {
    std::string name;
    scene::Named<scene::Scalar> with;
    std::optional<std::vector<PieceIndex>> to; ///< sorted; nothing: everybody
    std::uint32_t waited = 0; ///< not 0: the runs that it starts are waited for under this number (S10)
    int raiser = -1;          ///< the snare
};

/// What the pointer did with a button (P3 to P5).
struct PointerAct {
    scene::Button button = scene::Button::left;
    std::vector<scene::Modifier> modifiers; ///< held, in the order of their words
    double hold = 0;                        ///< s since the button went down
    int count = 0;                          ///< which click in a quick row it is, from 1
    std::vector<PieceIndex> swept;          ///< of `sweep-end`: what is in the box
};

/// One event. Contact events are about a shape of self and a visitor; the others happen at the
/// scene or at a piece.
struct Event {
    Event() noexcept {} // of its own, so that new ones are not filled with zeros first
    EventKind kind = EventKind::start;
    PieceIndex self = theScene;
    PieceIndex visitor = nobody;
    PieceIndex sender = nobody; ///< of a signal: who raised it
    int shape = -1;             ///< of self, index in World::shapes
    int part = -1;              ///< of the visitor, index in World::shapes
    Manner manner = Manner::sense;
    Cause cause = Cause::moved;
    double frac = -1; ///< in [0, 1]; negative: the event has none
    Vec point{0, 0};
    Vec normal{0, 0};
    double speed = 0;
    std::string word;                   ///< the key, source, timer, watched path, call, phase or value that it is about
    std::optional<scene::Scalar> value; ///< the new one, of `rises`, `falls` and `changed`
    std::shared_ptr<const RaisedSignal> signal;
    std::shared_ptr<const scene::Named<scene::Scalar>> with; ///< values of a call
    std::shared_ptr<const PointerAct> act;                   ///< of pointer events
    int watch = -1;          ///< of `rises` and `falls`: which number and level (rules/watches.h)
    int keptBy = -1;         ///< the snare that sprang on it and claims it (S12)
    int onlySnare = -1;      ///< offered to this snare alone (S7)
    bool through = false;    ///< of a pointer event: at what others cover (P2)
    bool afterEnd = false;   ///< an exit of K5 or a `removed`: offered though a piece of it is gone
    std::int32_t line = -1;  ///< of the log, once written
    std::int32_t because = -1; ///< the line of the log that led to it; -1: see Journal::because
    int tick = 0;            ///< in which it was delivered
    std::uint32_t order = 0; ///< of the move or turn that ended
    bool silent = false;     ///< only wakes the runs that wait for the order
};

/// True of events at which a snare can wait for the visitor to stay (S4).
constexpr bool canDwell(EventKind kind)
{
    return kind == EventKind::enter || kind == EventKind::stay;
}

/// True if a contact event (enter, stay, exit, hit).
constexpr bool isContact(EventKind kind)
{
    return scene::familyOf(kind) == scene::EventFamily::contact;
}

/// Fills in what the event has of a change.
void fillIn(Event& event, const detect::Change& change);
Event eventOf(const detect::Change& change);

} // namespace snare::rules
