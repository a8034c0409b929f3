// SPDX-License-Identifier: Apache-2.0
/// What scouting found, as it is told to people, and takes that show it.
#pragma once

#include "check/scout.h"

#include <span>

namespace snare::check {

/// A take that shows something, and a name for it.
struct ScoutedTake {
    std::string name; ///< "springs-weigh", "broken-1"
    scene::Take take; ///< its note says what it shows; of a snare it expects that it springs
};

/// One thing that was found.
struct ScoutLine {
    enum class Of { broken, never, deadEnd, detour, sprung };

    Of of = Of::sprung;
    std::string text;  ///< "weigh: first at 3.283 s, in 12 plays"
    std::string snare; ///< that it is about, as the run calls it; may be empty
    std::optional<ScoutedTake> take;
};

/// What lines of a kind are listed under: "never sprang".
std::string_view headOf(ScoutLine::Of of);

/// All that was found: what breaks first, what sprang last. `takes` are those of the options.
std::vector<ScoutLine> linesOf(const Scouted& found, std::span<const scene::Take> takes);

/// "2000 plays, 35304 s of play, 5817 states: 13 of 15 snares sprang".
std::string summaryOf(const Scouted& found);

} // namespace snare::check
