// SPDX-License-Identifier: Apache-2.0
/// Threads as they lie on the ground: where they run, what their labels say, which are lit.
/// Painting and picking share it.
#pragma once

#include "app/ground/ground_scene.h"
#include "app/ground/transform.h"
#include "app/model/selection.h"

#include <QPainterPath>

namespace snare::app {

/// All snares from one piece to another, as one line.
struct DrawnThread {
    std::vector<std::string> snares; ///< as a run calls them
    std::size_t from = 0;            ///< piece
    std::size_t to = 0;
    QPainterPath path;
    QRectF pill;
    QString label;
    bool lit = false;
    bool chosen = false;
};

/// The threads that are shown: those of the selection, those lit, or all.
std::vector<DrawnThread> drawnThreads(const scene::Scene& scene, const std::vector<ShownPiece>& pieces,
                                      const sim::Record& record, std::int64_t tick, const Selection& selection,
                                      const GroundOptions& options, const GroundTransform& transform);

/// The bend of a thread between two points of the view.
QPainterPath threadPath(const QPointF& from, const QPointF& to);

void paintThread(QPainter& painter, const DrawnThread& thread);

/// What a press on a thread takes.
enum class ThreadPart { label, end };
struct ThreadHit {
    DrawnThread thread;
    ThreadPart part;
};
std::optional<ThreadHit> threadAt(const std::vector<DrawnThread>& threads, const QPointF& point);

/// How long an event's pennant and a thread's light stay, s.
inline constexpr double longAgoSeconds = 0.35;

} // namespace snare::app
