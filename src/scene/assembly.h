// SPDX-License-Identifier: Apache-2.0
/// Assemblies: pieces and the snares between them, laid as one (A1, A6).
#pragma once

#include "scene/piece.h"
#include "scene/snare.h"

namespace snare::scene {

struct Assembly;
template <> inline constexpr bool sharesEntries<Assembly> = true;

/// What is laid. Its snares name its pieces as `part:NAME` (A2).
struct Assembly {
    std::vector<Piece> pieces; ///< placed about the assembly's origin
    std::vector<Snare> snares;

    friend bool operator==(const Assembly&, const Assembly&) = default;
};

template <>
inline constexpr auto fieldsOf<Assembly> = fields(word("assembly", "pieces and the snares between them, laid as one"),
                                                  field("pieces", &Assembly::pieces, "its parts, about its origin"),
                                                  field("snares", &Assembly::snares, "rules between its parts"));

/// An assembly that is laid. Its parts stand among the pieces of the scene, one after another, as
/// `ID.PART`; what differs from the assembly is their own.
struct Laid {
    std::string id;
    std::string assembly;
    Vec at{0, 0};    ///< m, where the assembly's origin is
    double turn = 0; ///< degrees
    /// JSON text: what a file says of parts that are not there, because their kit is missing or has
    /// changed. It is written again, and read when they are there.
    std::string lost = {};

    friend bool operator==(const Laid&, const Laid&) = default;
};

template <>
inline constexpr auto fieldsOf<Laid> = fields(word("laid", "an assembly that is laid"),
                                              field("id", &Laid::id, "name of this one").required(),
                                              field("assembly", &Laid::assembly, "what is laid").required(),
                                              field("at", &Laid::at, "where its origin is").in(Unit::metres),
                                              field("turn", &Laid::turn, "turned as a whole").in(Unit::degrees));

} // namespace snare::scene
