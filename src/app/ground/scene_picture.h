// SPDX-License-Identifier: Apache-2.0
/// A small picture of a whole scene as it begins.
#pragma once

#include "io/pictures.h"
#include "scene/scene.h"

#include <QImage>

namespace snare::app {

/// The scene at its start, as large as it fits in `size` pixels. `pictures`: those beside it, or
/// nullptr. `bare`: its pieces alone, without grid, names and scale.
QImage pictureOfScene(const std::shared_ptr<const scene::Scene>& scene, const QSize& size, io::Pictures* pictures,
                      bool bare = false);

} // namespace snare::app
