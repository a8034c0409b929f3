// SPDX-License-Identifier: Apache-2.0
/// The evaluator: paths, formulas, targets, random numbers and scripts, worked out while an event
/// is dealt with. It reads the world and changes nothing but what it uses up.
#pragma once

#include "rules/counter_generator.h"
#include "rules/event.h"
#include "rules/presence.h"
#include "script/sandbox.h"

#include <boost/container/small_vector.hpp>

namespace snare::rules {

/// A script that used up its budget: the run stops with this (S14).
struct Overrun {
    int line = 0; ///< 0: none has
    std::string text;
};

/// What working values out uses up. A value: a copy draws the same random numbers.
struct Evaluator {
    explicit Evaluator(std::uint64_t seed) : random(seed) {}

    CounterGenerator random;
    script::Sandbox scripts;
    Overrun overrun;
};

/// What paths and targets are read in: self, visitor and event of the snare that springs.
struct Surroundings {
    const world::World& world;
    const detect::Detection& detection;
    const Event& event;
    PieceIndex self = theScene;
    PieceIndex visitor = nobody;
    std::int64_t tick = 0;
    const scene::Scene& scene;
    const Presence& presence;
    Evaluator& evaluator;
    const scene::Named<scene::Scalar>* with = nullptr; ///< the values of a routine

    int rate() const { return scene.rate; }
};

/// A piece that is looking for a place: its parts in its own axes, and the way it is turned.
struct Figure {
    std::vector<geometry::Hull> parts;
    std::vector<geometry::Hull> solids; ///< those that must be clear of others; all if there are none
    double turn = 0;                    ///< degrees
    double z = 0;                       ///< m
    PieceIndex itself = nobody;         ///< not in its own way
    bool pinned = false;                ///< it lies on the glass
};

/// What of a piece must be clear of solids when it is put somewhere: one that stands in the world,
/// or a template.
Figure figureOf(const world::World& world, PieceIndex piece);
Figure figureOf(const scene::Piece& model);

/// Where the visitor of a contact event came from: the side of self's shape that it was beyond at
/// the start of the tick; nothing if it was beyond none (S3).
std::optional<scene::Side> sideOf(const Event& event, const world::World& world);

/// The value at a path such as `self.ring`, `scene.parcels`, `signal.ring`, `event.speed` or
/// `barrow.x`; nothing if there is none.
std::optional<scene::Answer> answerAt(std::string_view path, const Surroundings& around);

/// The same as a scalar: a point is none.
std::optional<scene::Scalar> valueAt(std::string_view path, const Surroundings& around);

/// A value of a piece, the scene or a source by name: a property or variable, else one of the
/// built-in ones.
std::optional<scene::Scalar> valueOf(PieceIndex owner, std::string_view name, const Surroundings& around);

/// Whether responses may set a value of this name there now: not those that are only read, such as
/// `id` or `scene.age`, no speed of a driven piece, and no place of one that is led (V10).
bool canBeSet(PieceIndex owner, std::string_view name, const world::World& world);

/// Works out a formula; nothing if a path leads nowhere, a script fails or there is no room.
/// `figure` is for `somewhere`; `why` gets the reason.
std::optional<scene::Answer> answerOf(const scene::Formula& formula, const Surroundings& around,
                                      const Figure* figure = nullptr, std::string* why = nullptr);

/// Works out a value; nothing if it leads nowhere or to another kind of value.
std::optional<scene::Scalar> resolve(const scene::Value<scene::Scalar>& value, const Surroundings& around);
std::optional<double> resolve(const scene::Value<double>& value, const Surroundings& around);
std::optional<std::string> resolve(const scene::Value<std::string>& value, const Surroundings& around);
std::optional<Vec> resolve(const scene::Offset& value, const Surroundings& around);
std::optional<Vec> resolve(const scene::Coordinates& value, const Surroundings& around);

/// A text with the values of its slots put in: "{self.load} kg". What is no value stays as it is.
std::string filledIn(std::string_view text, const Surroundings& around);

/// Something that a response acts on: a piece, a shape of it, the scene or a source.
struct Acted {
    PieceIndex piece = nobody;
    int shape = -1; ///< index in World::shapes; -1: the whole piece
};

/// Most responses act on one or a few things: those take no memory of their own.
using Targets = boost::container::small_vector<Acted, 4>;

/// The targets by one name, each once. Empty if it names nothing that is there.
Targets targetsOf(std::string_view name, const Surroundings& around);

/// Takes out what was named before: the same piece, with `tellShapes` the same shape of it.
void dropRepeated(Targets& targets, bool tellShapes);

/// How many pieces the targets are, each counted once.
double countOf(std::span<const std::string> names, const Surroundings& around);

/// All present pieces that a selector (`tag:…`, `group:…`, `template:…`, `part:…`) or an id names,
/// in scene order.
std::vector<PieceIndex> piecesOf(std::string_view selector, const world::World& world);

/// True if the piece is the one named, or has the tag or group of the selector.
bool isSelected(std::string_view selector, const world::World& world, PieceIndex piece);

/// A random point in a piece, a shape of it or the scene where the figure fits; nothing if none was
/// found in a thousand tries.
std::optional<Vec> somewhereIn(const scene::Formula& formula, const Surroundings& around, const Figure* figure);

/// The solid in the way of a figure at a pose, or `nobody`.
PieceIndex inTheWay(const world::World& world, const detect::Detection& detection, const Figure& figure,
                    const world::Pose& pose);

/// Works out an expression, or runs a script that may assign through `set`; `fault` gets what went
/// wrong.
std::optional<scene::Answer> runScript(const std::string& code, const Surroundings& around, std::string* fault);
using Assign = std::function<std::optional<std::string>(PieceIndex owner, std::string_view name, scene::Scalar value)>;
void runScript(const std::string& code, const Surroundings& around, const Assign& set,
               const std::function<void(std::string_view name, scene::Scalar value)>& setWith,
               const std::function<void(std::string)>& note, std::string* fault);

} // namespace snare::rules
