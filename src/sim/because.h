// SPDX-License-Identifier: Apache-2.0
/// What led to what in a record (C1). Lines are indices into its journal; -1: none.
#pragma once

#include "sim/record.h"

#include <string_view>
#include <vector>

namespace snare::sim {

/// The line and what led to it: first what began it (an input, the start of the scene), last the
/// line itself.
std::vector<std::int32_t> chainTo(const Record& record, std::int32_t line);

/// What the line led to at once, in order, not more than `most`.
std::vector<std::int32_t> resultsOf(const Record& record, std::int32_t line, std::size_t most);

/// What moved a piece last before the end of `tick`: an order, a key, an impact, else the start of
/// the scene.
std::int32_t lineBehindPlace(const Record& record, world::PieceIndex piece, std::int64_t tick);

/// The event that tells how a value of a piece or of the scene came to what it is at the end of
/// `tick`; -1 if it is as it was given, or was set from outside.
std::int32_t lineOfValue(const Record& record, world::PieceIndex owner, std::string_view name, std::int64_t tick);

/// The event that tells that the phase began in which a piece or the scene is at the end of `tick`;
/// -1 if it has none.
std::int32_t lineOfPhase(const Record& record, world::PieceIndex owner, std::int64_t tick);

} // namespace snare::sim
