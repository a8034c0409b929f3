// SPDX-License-Identifier: Apache-2.0
/// Where solids touch at a moment: points and normals, worked out anew from the record (M2, M10).
#pragma once

#include "app/ground/ground_scene.h"

namespace snare::app {

struct ShownContact {
    std::vector<Vec> points; ///< m, one or two
    Vec normal{1, 0};        ///< unit, from the first piece towards the second
};

/// The contacts of all stop meetings at the end of `tick`, each told once. Not more than a few
/// hundred are looked for.
std::vector<ShownContact> contactsAt(const sim::Record& record, std::int64_t tick,
                                     const std::vector<ShownPiece>& pieces);

} // namespace snare::app
