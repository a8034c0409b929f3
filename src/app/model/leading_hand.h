// SPDX-License-Identifier: Apache-2.0
/// Leading driven pieces with the pointer while a take is recorded (V10).
#pragma once

#include "sim/run.h"

#include <optional>
#include <string>
#include <vector>

namespace snare::app {

/// Takes hold of the driven piece under the pointer and gives its place for every tick. A piece
/// that was led once stays where it was let go until the recording ends, as the take leads it from
/// its first place to its last.
class LeadingHand {
  public:
    /// The pointer is pressed at a point of the scene, m. It takes hold of the topmost driven piece
    /// there, unless another solid lies over that.
    void press(const world::World& world, const scene::Scene& scene, const geometry::Vec& at);
    /// The pointer is here now, m. A piece is led from there on where a drag begins (P4). Gives
    /// back its name when that is just now.
    std::optional<std::string> move(const world::World& world, const scene::Scene& scene, const geometry::Vec& at);
    void release() { held_.reset(); }
    /// Nothing is held or led any more.
    void forget();

    /// Where the pieces that were led go in a tick, as inputs of the take by time; none for one
    /// that is gone. `world` is that of the end of the tick before: where a piece is then is the
    /// first of its places.
    std::vector<scene::Input> placesAt(std::int64_t tick, int rate, const world::World& world);
    /// Without those of their places that change nothing: the piece rests there before and after.
    scene::Take withoutRests(const scene::Take& take) const;

  private:
    struct Held {
        std::string piece;
        geometry::Vec pressed{0, 0}; ///< where the pointer took hold, m, in the axes that the piece lies in
        geometry::Vec grip{0, 0};    ///< from there to the place of the piece
    };
    struct Led {
        std::string piece;
        geometry::Vec at{0, 0};
        bool hasBegun = false; ///< it has a place already
    };

    std::optional<Held> held_;
    std::vector<Led> led_;
};

} // namespace snare::app
