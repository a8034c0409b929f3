// SPDX-License-Identifier: Apache-2.0
/// Fields that are found by name.
#pragma once

#include <QString>

namespace snare::app {

/// A field that a card can open: of the selected piece, or of the scene.
struct CardField {
    QString slot; ///< the name of its slot
    QString text; ///< "friction of trunk"
    QString about;
};

} // namespace snare::app
