// SPDX-License-Identifier: Apache-2.0
/// A take made as short as it can be while it still shows something.
#pragma once

#include "scene/take.h"

#include <functional>

namespace snare::check {

/// The second, >= 0, in which a take shows what is looked for, or nothing if it does not.
using Shows = std::function<std::optional<double>(const scene::Take&)>;

/// Ends a take at a moment, s. What would come later is left out, but for the next place of each
/// driven piece, which it is on its way to (V10).
void endAt(scene::Take& take, double seconds);

struct Shortened {
    scene::Take take;
    std::optional<double> shown; ///< when it shows it, s; nothing if it does not
};

/// The take with as few of its inputs as were found to do, begun as early as may be, and ended half
/// a second after what it shows. The take itself if it does not show it. Presses go with their
/// releases, drags with their way. `mostRuns` (> 0) is how often `shows` is asked at most.
///
/// Delta debugging: Zeller and Hildebrandt, Simplifying and Isolating Failure-Inducing Input, IEEE
/// TSE 28(2), 2002; here with removals alone.
Shortened shortened(scene::Take take, const Shows& shows, int mostRuns = 80);

} // namespace snare::check
