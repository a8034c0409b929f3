// SPDX-License-Identifier: Apache-2.0
/// The journal of a run: everything that the log shows, in order, as flat lines of indices.
#pragma once

#include "rules/event.h"
#include "rules/texts.h"

#include <algorithm>
#include <span>

namespace snare::rules {

enum class LineKind : std::uint8_t { event, snare, response, note };
using scene::Outcome;
using scene::SlipStage;
using scene::wordOf;

/// As files call it.
std::string_view wordOf(LineKind kind);

/// One line of the log, in 64 bytes. What applies depends on `kind`.
struct Line {
    std::int32_t tick = 0;
    LineKind kind = LineKind::event;
    EventKind event = EventKind::start; ///< event and snare lines
    Manner manner = Manner::sense;
    Cause cause = Cause::moved;
    Outcome outcome = Outcome::sprung;
    SlipStage stage =
        SlipStage::armed;        ///< of a snare line that slipped; of an event `gone`: nobody was offered it (K6)
    std::uint8_t response = 0;   ///< which of `scene::ResponseKind`
    bool showsNumber = false;    ///< the text is the name of a value, and `number` what it is now
    PieceIndex self = theScene;  ///< event: at; snare: self; response: on (`nobody`: none)
    PieceIndex visitor = nobody; ///< event: by; snare: visitor
    std::int32_t shape = -1;     ///< of self, index in World::shapes
    union {
        std::int32_t part = -1; ///< event and snare: of the visitor, index in World::shapes
        Texts::Id routine;      ///< response and note: the routine that its step belongs to; 0: none
    };
    std::int32_t snare = -1; ///< index in Scene::snares
    std::int32_t about = -1; ///< the event line that this line follows from
    std::int32_t until = -1; ///< tick up to which a caption shows
    Texts::Id text = 0;      ///< reason, note, caption, or the word that an event is about; see Journal::textOf
    union {
        std::int32_t spot =
            -1;            ///< event: where a hit or an act of the pointer was, index in Journal::spots; -1: nowhere
        std::int32_t step; ///< response and note: which of the list it is, from 1; of a note also -1: none
    };
    double frac = -1;  ///< in [0, 1] of the tick; negative: none
    double number = 0; ///< speed of a hit, m/s; the new value of `rises`, `falls`, `changed`; the gain
                       ///< of a sound; see showsNumber
};
static_assert(sizeof(Line) == 64);

/// The word of a response line.
std::string_view responseOf(const Line& line);

/// Where something happened, in the scene.
struct Spot {
    Vec point{0, 0};  ///< m
    Vec normal{0, 0}; ///< of self's edge there, of length 1; (0, 0): none
};

/// A property or variable that was set.
struct ValueChange {
    std::int32_t tick = 0;
    PieceIndex owner = theScene;
    Texts::Id name = 0;
    enum class Kind : std::uint8_t { none, number, flag, text } kind = Kind::number; ///< none: it no longer has one
    union {
        double number = 0; ///< of a flag: 1 or 0
        Texts::Id text;
    };
};

/// The values of a signal that was raised; none if it carries none.
struct SignalValues {
    std::int32_t line = 0; ///< where it is heard
    scene::Named<scene::Scalar> with;
};

/// A field of a response, worked out.
struct ResponseField {
    enum class Kind : std::uint8_t { number, flag, text, point, place };

    std::int32_t line = 0;      ///< of the response
    const char* name = nullptr; ///< as in the file
    Texts::Id key = 0;          ///< in an object of values: the name of the value; 0: the field is none
    Kind kind = Kind::number;
    bool ofList = false; ///< one of several words
    Texts::Id text = 0;
    double x = 0; ///< of a flag: 1 or 0; of a point, m
    double y = 0;
    double z = 0;
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

/// The log of a run: what happened, in order, and what each line came of.
struct Journal {
    bool withStays = false; ///< stay and key-held events are written too
    std::int32_t tick = 0;  ///< of what is being written
    Texts texts;
    std::vector<Line> lines;
    /// By line: the line that led to it, an earlier one. -1: nothing did; it is an input, the start
    /// of the scene, or where the pointer leads (C1, C2).
    std::vector<std::int32_t> because;
    std::int32_t cause = -1; ///< of the lines to come
    std::vector<Spot> spots;
    std::vector<ValueChange> values;
    std::vector<Arming> armings;
    std::vector<PhaseChange> phases;
    std::vector<SignalValues> signalValues; ///< in the order of their lines
    std::vector<ResponseField> fields;      ///< in the order of their lines

    /// A new line behind all others, to be filled in before the next one.
    Line& add(LineKind kind)
    {
        Line& line = lines.emplace_back();
        because.push_back(cause);
        line.tick = tick;
        line.kind = kind;
        if (kind == LineKind::response || kind == LineKind::note)
            line.routine = 0;
        return line;
    }
    /// The line of an event, which is told it; of a stay or held key only if they are asked for.
    /// `gone`: nobody was offered it (K6).
    void addEvent(Event& event, bool gone);
    /// A value that changed; no `value`: it no longer has one. Returns its name as a text of the
    /// journal.
    Texts::Id addValue(PieceIndex owner, std::string_view name, const scene::Scalar* value);
    /// The same of a number, by its name as a text of the journal.
    void addNumber(PieceIndex owner, Texts::Id name, double value)
    {
        ValueChange& change = values.emplace_back();
        change.tick = tick;
        change.owner = owner;
        change.name = name;
        change.number = value;
    }
    std::optional<scene::Scalar> valueOf(const ValueChange& change) const;
    /// The fields of the response in a line, in the order in which they were told.
    std::span<const ResponseField> fieldsOf(std::int32_t line) const
    {
        const auto first = std::ranges::lower_bound(fields, line, {}, &ResponseField::line);
        return {first, std::ranges::upper_bound(first, fields.end(), line, {}, &ResponseField::line)};
    }

    /// "load = 3", "gate closed": what a line says.
    std::string textOf(const Line& line) const;
    /// (0, 0) if it has none.
    Spot spotOf(const Line& line) const
    {
        return line.kind != LineKind::event || line.spot < 0 ? Spot{} : spots[static_cast<std::size_t>(line.spot)];
    }
};

} // namespace snare::rules
