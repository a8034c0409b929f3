// SPDX-License-Identifier: Apache-2.0
/// One play of scouting: how it is played, and what is noted of it.
#pragma once

#include "check/scout_hand.h"
#include "check/scout_options.h"
#include "sim/recorder.h"

#include <map>

namespace snare::check {

/// All that was done in a play.
struct ScoutWay {
    scene::Take take;
    std::shared_ptr<const sim::Tracks> tracks; ///< of its driven pieces; may be null
};

/// What a snare came to in one play.
struct ScoutOutcome {
    std::int64_t sprang = -1;                ///< tick, the first time; -1: never
    int caught = 0;                          ///< how often it was offered something
    std::map<std::string, int> slipped = {}; ///< stage and reason, how often; only of what never sprang so far
    /// Of a snare of meetings: zones in which its visitor was before it sprang, of a given take;
    /// else those of them where its visitor was not.
    std::vector<world::PieceIndex> zones = {};
    world::PieceIndex visitor = world::nobody;
};

/// What a play showed.
struct ScoutPlay {
    struct Seen {
        std::uint64_t key;   ///< tells states apart
        std::uint64_t stage; ///< how far the scene is by then, wherever who stands
        std::int64_t tick;   ///< the first
    };

    std::shared_ptr<const ScoutWay> way;
    bool isGiven = false;     ///< a take of the options, as it is
    std::size_t from = 0;     ///< the state that it went on from
    std::int64_t began = 0;   ///< the tick of that
    std::int64_t ticks = 0;   ///< in all
    bool isLong = false;      ///< it went on for long enough to count as a try
    bool done = false;        ///< false: it was given up
    std::vector<Seen> states; ///< that it came to, in their order
    std::vector<ScoutOutcome> snares;
    std::string stop;         ///< why the run stopped, without when; empty: it did not
    std::vector<bool> broken; ///< by watched expectation
};

/// What plays need to know of those before them.
struct ScoutKnown {
    std::vector<bool> sprung; ///< by snare: it sprang in one
    /// By snare: the zones where its visitor was before it sprang, in the given take in which these
    /// were fewest.
    std::map<std::size_t, std::vector<world::PieceIndex>> zones;
};

/// An expectation of a given take that every play is held to.
struct ScoutWatched {
    std::size_t take;
    std::size_t expectation;
};

/// Plays. Can be used from several threads at once.
class ScoutPlayer {
  public:
    /// The options must live as long as the player.
    ScoutPlayer(std::shared_ptr<const scene::Scene> scene, const ScoutOptions& options);

    const std::shared_ptr<const scene::Scene>& scene() const { return scene_; }
    const scene::Scene& whole() const { return *whole_; }
    const Handles& handles() const { return handles_; }
    const std::vector<ScoutWatched>& watched() const { return watched_; }
    std::int64_t longest() const { return longest_; } ///< ticks of a play
    bool isCancelled() const { return options_.cancelled && options_.cancelled->load(std::memory_order_relaxed); }
    /// No more is played.
    bool isEnough() const
    {
        return isCancelled() || (options_.enough && options_.enough->load(std::memory_order_relaxed));
    }

    /// Goes the way up to `tick`, and on from there by chance. From the start it has a chance of
    /// its own. `number` tells one play from another.
    ScoutPlay playOn(const ScoutWay& there, std::int64_t tick, std::uint64_t number, const ScoutKnown& known) const;
    /// A given take as it is.
    ScoutPlay repeat(const scene::Take& take, const ScoutKnown& known) const;
    /// The record of a take, with what the log needs only.
    sim::Record recordOf(const scene::Take& take) const;
    /// When a snare springs first in a take, s. Nothing if it does not, or if its visitor was in
    /// one of the zones before.
    std::optional<double> firstSpring(const scene::Take& take, std::size_t snare,
                                      std::span<const world::PieceIndex> without = {}) const;

  private:
    class Playing;

    bool isListenedTo(const world::World& world, world::PieceIndex piece) const;
    std::vector<bool> brokenIn(const scene::Take& take) const;

    std::shared_ptr<const scene::Scene> scene_;
    std::shared_ptr<const scene::Scene> whole_;
    const ScoutOptions& options_;
    Handles handles_;
    rules::Book book_;
    geometry::Bounds area_;             ///< outside of it, places are not told apart
    std::vector<std::string> compared_; ///< variables of the scene that conditions compare
    std::int64_t longest_ = 0;
    std::vector<ScoutWatched> watched_;
};

} // namespace snare::check
