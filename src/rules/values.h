// SPDX-License-Identifier: Apache-2.0
/// Working out values and targets while an event is dealt with.
#pragma once

#include "rules/event.h"

namespace snare::rules {

/// What paths and targets are read in: self, visitor and event of the snare that springs.
struct Surroundings {
    const world::World& world;
    const Event& event;
    PieceIndex self = theScene;
    PieceIndex visitor = nobody;
    int tick = 0;
    int rate = 60;
};

/// The value at a path such as `self.ring`, `scene.parcels`, `signal.ring`, `event.speed` or `barrow.x`; nothing if
/// there is none.
std::optional<scene::Scalar> valueAt(std::string_view path, const Surroundings& around);

/// A value of a piece or of the scene by name: a property or variable, else one of the built-in ones.
std::optional<scene::Scalar> valueOf(const world::World& world, PieceIndex owner, std::string_view name, int tick,
                                     int rate);

/// Works out a value; nothing if its path leads nowhere or to another kind of value.
std::optional<scene::Scalar> resolve(const scene::Value<scene::Scalar>& value, const Surroundings& around);
std::optional<double> resolve(const scene::Value<double>& value, const Surroundings& around);
std::optional<std::string> resolve(const scene::Value<std::string>& value, const Surroundings& around);

/// Something that a response acts on: a piece, a shape of it, or the scene.
struct Acted {
    PieceIndex piece = nobody;
    int shape = -1; ///< index in World::shapes; -1: the whole piece
};

/// The targets by one name. Empty if it names nothing that is there.
std::vector<Acted> targetsOf(std::string_view name, const Surroundings& around);

/// All present pieces that a selector (`tag:…`, `group:…`, `template:…`) or an id names, in scene order.
std::vector<PieceIndex> piecesOf(std::string_view selector, const world::World& world);

/// True if the piece is the one named, or has the tag or group of the selector.
bool isSelected(std::string_view selector, const world::World& world, PieceIndex piece);

} // namespace snare::rules
