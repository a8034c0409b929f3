// SPDX-License-Identifier: Apache-2.0
/// What led to the chosen event, on the ground: one thin line from where it began to where it
/// happened.
#pragma once

#include "app/ground/transform.h"
#include "sim/record.h"

#include <QPainter>

namespace snare::app {

/// Where the steps of a chain (sim::chainTo) happened, in the scene, m. Steps that happened nowhere
/// are left out, and those at the place of the step before.
std::vector<Vec> placesOf(const sim::Record& record, const std::vector<std::int32_t>& chain);

void paintBecause(QPainter& painter, const GroundTransform& transform, const std::vector<Vec>& places);

} // namespace snare::app
