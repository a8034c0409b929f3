// SPDX-License-Identifier: Apache-2.0
/// Where the driven pieces of a take are led (V10).
#pragma once

#include "geometry/vec.h"
#include "scene/take.h"

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace snare::sim {

/// The places of each piece in a take, by time; of two for one time the later in the file is gone
/// on from.
class Tracks {
  public:
    /// Where a piece is led in one tick.
    struct Place {
        std::string_view piece;              ///< its id
        geometry::Vec at{0, 0};              ///< m
        std::optional<double> turn = {};     ///< degrees; as it was if left out
        std::optional<double> turnTo = {};   ///< degrees, of the place that it is on the way to, if that says
        double part = 0;                     ///< how much of the way there it is, 0 to 1
        bool isFirst = false;                ///< in this tick it begins to be led
    };

    /// Null if the take leads nothing.
    static std::shared_ptr<const Tracks> of(const scene::Take& take);

    /// Adds the places of all pieces that are led in `tick` to `places`: between two of its places
    /// straight and evenly, from the tick of the first to that of the last. A view of the names is
    /// valid as long as the tracks.
    void placesAt(std::int64_t tick, int rate, std::vector<Place>& places) const;
    /// Whether the piece is led in a tick: from its first place to its last.
    bool leads(const std::string& piece, std::int64_t tick, int rate) const;

  private:
    struct Given {
        double t = 0; ///< s
        geometry::Vec at{0, 0};
        std::optional<double> turn; ///< that of the last place before if it says none itself
    };
    struct Track {
        std::string piece;
        std::vector<Given> places; ///< by `t`
    };

    static bool isOn(const Track& track, std::int64_t tick, int rate);

    std::vector<Track> tracks_;
    std::unordered_map<std::string, std::size_t> slots_; ///< of `tracks_` by piece; to look up, never to walk over
};

} // namespace snare::sim
