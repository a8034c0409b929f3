// SPDX-License-Identifier: Apache-2.0
#include "rules/tick_context.h"

#include <fmt/format.h>

namespace snare::rules {

void TickContext::stopForOverrun(int snare) const
{
    storms.stop(fmt::format("the script of the snare {} took too much, line {}: {}", snareAt(snare).id,
                            evaluator.overrun.line, evaluator.overrun.text));
}

} // namespace snare::rules
