// SPDX-License-Identifier: Apache-2.0
/// A change that a response asked for and that takes effect with the commit after its delivery
/// (K4).
#pragma once

#include "rules/event.h"

#include <utility>
#include <vector>

namespace snare::rules {

/// A piece to be made from a template.
struct SpawnOrder {
    const scene::Piece* model = nullptr;
    std::string form; ///< name of the template
    std::string id;
    std::string laid; ///< the assembly that is spawned whole, and which part of it this is (A4)
    std::string part;
    geometry::Pose about; ///< where that is
    world::Pose pose;
    Vec velocity{0, 0};
    bool hasVelocity = false;
    scene::Named<scene::Scalar> properties;
    int snare = -1; ///< that asked for it
};

/// A change noted during a delivery, to take effect with the commit (K4).
struct PendingChange {
    enum class Kind {
        show,
        hide,
        enable,
        disable,
        regroup,
        resize,
        retrace,
        put,
        attach,
        detach,
        remove,
        spawn,
        phase,
        arm,
        disarm,
        restart
    };
    Kind kind = Kind::show;
    PieceIndex piece = nobody;
    int shape = -1; ///< index in World::shapes; -1: the whole piece
    Vec at{0, 0};   ///< put
    bool relative = false;
    std::optional<double> height = {}; ///< put, m: the new height, or with `relative` how much higher
    double scale = 1;                  ///< resize: times its size as drawn, or with `relative` as it is
    PieceIndex carrier = nobody;       ///< attach
    double turn = 0;                   ///< put home
    bool turns = false;
    int group = 0;          ///< regroup
    int snare = -1;         ///< arm, disarm, and who asked for it
    int by = -1;            ///< the snare whose step it is
    std::int32_t step = -1; ///< of that snare, or of the routine
    std::string_view routine = {};
    bool ifClear = false;   ///< put
    std::string phase = {}; ///< phase: its name, or `next`
    std::uint32_t hold = 0; ///< what was before is kept under this number (S13)
    std::int32_t because = -1; ///< the line of the log that asked for it (C1)
    std::shared_ptr<const SpawnOrder> spawn = {};
};

/// The changes that wait for the next commit, in the order in which they were asked for.
class PendingChanges {
  public:
    /// What is added from now on is because of this line of the log.
    void because(std::int32_t line) { because_ = line; }
    void add(PendingChange change)
    {
        changes_.push_back(std::move(change));
        if (changes_.back().because < 0)
            changes_.back().because = because_;
    }
    bool empty() const { return changes_.empty(); }
    /// All of them; there are none then.
    std::vector<PendingChange> take() { return std::exchange(changes_, {}); }
    void clear() { changes_.clear(); }

  private:
    std::vector<PendingChange> changes_;
    std::int32_t because_ = -1;
};

} // namespace snare::rules
