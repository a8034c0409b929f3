// SPDX-License-Identifier: Apache-2.0
/// Working out the fields of a response, with a note about what is missing. Private to the rules
/// floor.
#pragma once

#include "rules/evaluator.h"

namespace snare::rules {

class ResponseContext;

/// Where something is to go.
struct Goal {
    Vec at;
    std::optional<double> z; ///< nothing: as high as before
    bool home = false;
};

/// Where a piece of the world is to go; nothing, and a note, if there is no such place.
std::optional<Goal> placeOf(const scene::Destination& destination, PieceIndex mover, ResponseContext& context);

/// Where something of this figure is to go; `mover` is `nobody` if it is not in the world yet.
std::optional<Goal> placeOf(const scene::Destination& destination, PieceIndex mover, const Figure& figure,
                            ResponseContext& context);

/// The offset, zero if none is given; nothing, and a note, if a number is missing.
std::optional<Vec> offsetOf(const std::optional<scene::Offset>& offset, ResponseContext& context);

/// A name, or an empty text and a note; `what` says in the note what is missing.
std::string nameOf(const scene::Value<std::string>& value, std::string_view what, ResponseContext& context);

/// Named values; those that are missing are noted and left out.
scene::Named<scene::Scalar> valuesOf(const scene::Named<scene::Value<scene::Scalar>>& values, ResponseContext& context);

} // namespace snare::rules
