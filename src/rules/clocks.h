// SPDX-License-Identifier: Apache-2.0
/// Everything that elapses by itself: timers of the scene and of pieces, lifetimes, and looks that
/// play once (P8, T6).
#pragma once

#include "rules/clock.h"
#include "rules/event.h"

namespace snare::rules {

class Clocks {
  public:
    /// Starts the clocks of the scene and of all pieces that are there.
    void reset(const scene::Scene& scene, const world::World& world, std::int64_t tick);

    /// A piece that has come into the scene.
    void add(const world::World& world, PieceIndex piece, std::int64_t tick, int rate);

    /// A look was put on a piece: if it plays once, it will end.
    void play(const world::World& world, PieceIndex piece, std::int64_t tick, int rate);

    bool hasTimer(std::string_view name, PieceIndex self) { return timerCalled(name, self) != nullptr; }

    /// Starts a timer of self, or else of the scene, anew, or stops it; false if there is none of
    /// that name. `because` of that line of the log.
    bool change(std::string_view name, PieceIndex self, bool runs, std::int64_t tick, std::int32_t because);

    /// What has elapsed by `tick`: timers of the scene first, then timers, lifetimes and looks by
    /// piece. A lifetime that is over is told with kind `removed`.
    std::vector<Event> due(const world::World& world, std::int64_t tick, int rate);

  private:
    struct Timer {
        std::string name;
        scene::TimerSource source;
        std::int64_t from = 0;
        std::int64_t elapsed = 0;
        bool runs = false;
        std::int32_t because = -1; ///< the line of the log that started it; -1: it came with its piece or the scene

        bool isDue(std::int64_t tick, int rate);
    };

    struct OfPiece {
        PieceIndex piece = nobody;
        std::vector<Timer> timers;
        std::int64_t end = -1;     ///< of its lifetime, tick; -1: it has none
        std::int64_t lookEnd = -1; ///< of its look, tick
    };

    static Timer timerOf(std::string name, const scene::TimerSource& source, std::int64_t tick);
    OfPiece& of(PieceIndex piece);
    OfPiece* find(PieceIndex piece);
    /// That of self, else of the scene, or nullptr.
    Timer* timerCalled(std::string_view name, PieceIndex self);

    std::vector<Timer> scene_;
    std::vector<OfPiece> pieces_; ///< those that have any, in scene order
};

} // namespace snare::rules
