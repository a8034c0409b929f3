// SPDX-License-Identifier: Apache-2.0
#include "rules/gate.h"

#include "rules/clock.h"

#include <fmt/format.h>

namespace snare::rules {

std::optional<std::string> GateMemory::turnedAway(const scene::Gate& gate, const Entry& entry, std::int64_t tick,
                                                  int rate)
{
    const double last = static_cast<double>(entry.last) / rate;
    const std::string_view each = gate.each == scene::Each::visitor ? " per visitor" : "";
    if (gate.limit && entry.times >= *gate.limit) {
        if (*gate.limit == 1)
            return fmt::format("once{}, already at {:.3f} s", each, last);
        return fmt::format("{} times{}, the last at {:.3f} s", *gate.limit, each, last);
    }
    if (gate.cooldown && tick < tickAfter(entry.last, *gate.cooldown, rate))
        return fmt::format("not again for {:.9g} s{}, last at {:.3f} s", *gate.cooldown, each, last);
    return std::nullopt;
}

void GateMemory::sprang(const scene::Gate& gate, PieceIndex self, PieceIndex visitor, std::int64_t tick)
{
    if (!gate.limit && !gate.cooldown)
        return;
    Entry& entry = entries_[self][counted(gate, visitor)];
    ++entry.times;
    entry.last = tick;
}

} // namespace snare::rules
