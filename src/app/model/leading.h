// SPDX-License-Identifier: Apache-2.0
/// Leading a driven piece by hand (V10).
#pragma once

#include "app/model/stage.h"

#include <string>

namespace snare::app {

/// Where a piece is at the end of a tick of a record, m; nothing if it is not there.
std::optional<geometry::Vec> standsAt(const sim::Record& record, const std::string& piece, std::int64_t tick);

/// The take with one more place of a piece, at the cursor or a second after its last place,
/// whichever is later: two metres to the right of where it is then. Its first place comes with one
/// where it stands, so that there is a way.
scene::Take ledOn(const scene::Take& take, const Stage& stage, const std::string& piece);

/// The take with the piece at a place, m, in the moment of the cursor; a place that it has there is
/// moved. Led for the first time it comes from where it stands, at the start of the take.
scene::Take ledTo(const scene::Take& take, const Stage& stage, const std::string& piece, const geometry::Vec& to);

} // namespace snare::app
