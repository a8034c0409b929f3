// SPDX-License-Identifier: Apache-2.0
/// What the player does, drawn over the ground: where the pointer is, its box, the keys that are
/// down.
#pragma once

#include "app/ground/handles.h"
#include "app/ground/transform.h"
#include "sim/record.h"

#include <QPainter>

namespace snare::app {

/// The edge of the view, in which the glass lies (P6).
void paintViewFrame(QPainter& painter, const GroundTransform& transform, const geometry::Bounds& frame, bool named);

/// The pointer of the record at a tick, with the button that it presses and the box that it sweeps
/// (P5). While recording the real pointer is there already: only the box is drawn.
void paintPointer(QPainter& painter, const GroundTransform& transform, const sim::Record& record, std::int64_t tick,
                  bool recording);

/// A strip of keys along the lower edge: those that are down at a tick, and while recording, paler,
/// all that the scene listens to.
void paintKeyStrip(QPainter& painter, const QSizeF& size, const sim::Record& record, std::int64_t tick, bool recording);

/// Where the pointer goes in the take: a line through its places, each a dot that can be taken.
void paintPath(QPainter& painter, const GroundTransform& transform, const std::vector<PathPoint>& path,
               const QColor& colour);

} // namespace snare::app
