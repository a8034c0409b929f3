// SPDX-License-Identifier: Apache-2.0
/// What the ground shows at a moment: every piece with its pose and look, and the threads between
/// them. No painting here.
#pragma once

#include "scene/scene.h"
#include "sim/record.h"

#include <functional>
#include <optional>

namespace snare::app {

using geometry::Vec;

/// A piece as it is at the moment shown.
struct ShownPiece {
    const scene::Piece* piece = nullptr;
    std::size_t index = 0; ///< in the scene; `spawnedPiece` for one that is not in it
    geometry::Pose pose;
    const scene::Look* look = nullptr;
    geometry::Pose start; ///< where it stands at the start
    geometry::Bounds box; ///< around its shapes, as shown
    int layer = 0;
    bool present = true;
    bool shown = true;
    bool enabled = true;
    std::uint64_t hiddenShapes = 0;   ///< a bit for each of the first 64 shapes that is hidden for itself
    std::uint64_t disabledShapes = 0; ///< and for each that is disabled
    double dressed = 0;               ///< s since its look was put on
    bool pinned = false; ///< on the glass: its poses here are in the scene, under the glass as the view is now
    std::string phase;   ///< the one that it is in, or empty
    /// What `piece` points to if it was spawned, resized or traced from another look.
    std::shared_ptr<const scene::Piece> changed;
};

/// The index of what was spawned in the run: it is no piece of the scene and cannot be edited.
inline constexpr std::size_t spawnedPiece = static_cast<std::size_t>(-1);

/// The part of the scene that the view shows at a tick: where the glass lies (P6).
geometry::Bounds viewFrame(const scene::Scene& scene, const sim::Record& record, std::int64_t tick);

/// The pieces of the scene at a tick of the record, lowest layer first, what is on the glass last.
/// At tick 0 the scene itself decides, so that an edit shows before its re-run is finished.
std::vector<ShownPiece> shownPieces(const scene::Scene& scene, const sim::Record& record, std::int64_t tick);

/// A shape under a point.
struct Picked {
    std::size_t piece; ///< index in the scene
    std::size_t shape;
};

/// The topmost shape at the point; hidden and removed pieces are passed over, those that `may`
/// refuses too. `slack` (m) widens thin shapes.
std::optional<Picked> pick(const std::vector<ShownPiece>& pieces, const Vec& point, double slack,
                           const std::function<bool(const ShownPiece&)>& may = {});

/// All shapes at the point, the topmost first; what was spawned is passed over.
std::vector<Picked> pickAll(const std::vector<ShownPiece>& pieces, const Vec& point, double slack,
                            const std::function<bool(const ShownPiece&)>& may = {});

/// The rectangle around a piece as shown.
inline const geometry::Bounds& boundsOf(const ShownPiece& piece)
{
    return piece.box;
}

/// The rectangle around everything, or around the camera's view if the scene is empty.
geometry::Bounds boundsOf(const scene::Scene& scene);

/// A line from where a snare catches to what it acts on.
struct Thread {
    std::string snare; ///< as a run calls it
    std::size_t from; ///< piece
    std::size_t to;   ///< piece
};

/// The threads of all snares of a scene and its kits that catch at a piece and act on another; and
/// of those within the laid assemblies for which `within` says so, if it is given.
std::vector<Thread> threadsOf(const scene::Scene& scene, const std::function<bool(const scene::Laid&)>& within = {});

/// Indices of the pieces that a target or place name means, as far as that is known before running.
std::vector<std::size_t> piecesNamed(const scene::Scene& scene, std::string_view name, std::optional<std::size_t> self);

} // namespace snare::app
