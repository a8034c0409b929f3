// SPDX-License-Identifier: Apache-2.0
/// Recorded tracks: tables of places over time that lead driven pieces (V10).
#pragma once

#include "io/json_node.h"
#include "scene/scene.h"
#include "scene/take.h"

#include <string>
#include <string_view>
#include <vector>

namespace snare::io {

struct TrackOptions {
    std::string piece;  ///< whose places they are, if the table has no column for it
    double metres = 1;  ///< of a unit of length in the table, > 0
    double seconds = 1; ///< of a unit of time in the table, > 0
};

/// The places of one piece in a table.
struct Track {
    std::string piece;
    std::vector<scene::Input> places; ///< of the kind `TrackPlace`, by time
};

/// What a table gives.
struct TrackTable {
    std::vector<Track> tracks;      ///< in the order in which their pieces come in the table
    std::vector<std::string> notes; ///< columns that were passed over
    /// Of all places, s; 0 without any.
    double end() const;
};

/// Reads CSV (RFC 4180; semicolons and tabs part cells too). The first row names the columns, in
/// any order and any case: `time` (or `t`), `x`, `y`, and if they are there `piece` and `turn`
/// (degrees; an empty cell keeps the turn). Rows without a time are passed over. A problem says
/// line and column, the column in letters of the line from 1. Refused: a missing column, what is no
/// number, a time below 0 or after the longest take, a name that no piece can have.
tl::expected<TrackTable, Problem> tracksFrom(std::string_view csv, const std::string& file,
                                             const TrackOptions& options = {});

/// The take with the places of `table`. Of pieces that it led before, the earlier places are gone.
/// It grows if they end after it.
scene::Take withTracks(scene::Take take, const TrackTable& table);

/// Makes the pieces of `table` driven. One that is not there is added as a disc of 0.5 m at its
/// first place. Returns the names of those that were changed or added.
std::vector<std::string> makeDriven(scene::Scene& scene, const TrackTable& table);

} // namespace snare::io
