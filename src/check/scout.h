// SPDX-License-Identifier: Apache-2.0
/// Scouting (N38): the bench plays a scene by itself, many times, to see what can be reached and
/// what breaks.
///
/// It keeps every state that is new to it (who is where, which phases hold, what has sprung),
/// returns to one that was seldom tried, and plays on from there by chance: Ecoffet, Huizinga,
/// Lehman, Stanley and Clune, First return, then explore, Nature 590, 2021. What it finds depends
/// on the scene and the options alone, not on the number of threads.
#pragma once

#include "check/scout_options.h"
#include "scene/scene.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace snare::check {

/// What was found of a snare.
struct ScoutedSnare {
    std::string snare;               ///< as the run calls it
    int plays = 0;                   ///< in which it sprang
    double first = 0;                ///< s, in `take`
    std::optional<scene::Take> take; ///< in which it springs; none if it never did
    int caught = 0;                  ///< how often its event came in plays in which it did not spring
    std::string nearest; ///< where it slipped most often: "filter, tag staff is missing"; empty: its event never came
};

/// Something that must not be, and was.
struct ScoutedBreak {
    std::string stop;            ///< why the run stopped (K8, S14); empty: an expectation did not hold
    std::size_t take = 0;        ///< of the options, whose expectation it is
    std::size_t expectation = 0; ///< of that take
    int plays = 0;
    scene::Take how;
};

/// A snare of meetings, which a given take springs too, sprang for a visitor that had not been in
/// zones that its visitor goes through in the take.
struct ScoutedDetour {
    std::string snare;
    std::string visitor;
    std::vector<std::string> zones; ///< pieces, in scene order
    scene::Take how;
};

/// A state from which no play led to what others of the same stage lead to: a pit without a way
/// out.
struct ScoutedDeadEnd {
    std::vector<std::string> lost;                              ///< the snares that do not spring any more
    double t = 0;                                               ///< s, when it is reached in `how`
    std::string phase;                                          ///< of the scene then
    std::vector<std::pair<std::string, geometry::Vec>> walkers; ///< that are steered, and where they are, m
    int tries = 0;                                              ///< plays that went on from there
    scene::Take how;
};

struct Scouted {
    int plays = 0;
    double played = 0;                ///< s, of all plays together
    std::size_t states = 0;           ///< that were told apart
    bool noHandles = false;           ///< nothing in the scene listens to a hand
    std::vector<ScoutedSnare> snares; ///< in the order of the run
    std::vector<ScoutedBreak> broken; ///< the first of each kind, in the order in which they came
    std::vector<ScoutedDetour> detours;
    std::vector<ScoutedDeadEnd> deadEnds; ///< the earliest of them
};

/// Scouts a scene. The takes that it gives back name no file of the scene.
Scouted scout(std::shared_ptr<const scene::Scene> scene, const ScoutOptions& options);

} // namespace snare::check
