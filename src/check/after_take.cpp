// SPDX-License-Identifier: Apache-2.0
#include "check/after_take.h"

#include <fmt/format.h>

namespace snare::check {

std::vector<NeverSprang> neverSprang(const sim::Record& record)
{
    std::vector<NeverSprang> found;
    for (std::size_t i = 0; i < record.scene->snares.size(); ++i) {
        const auto snare = static_cast<std::int32_t>(i);
        const auto [caught, filtered, gated, sprang] = record.index.countsOf(snare);
        const auto missed = record.index.missedBy(snare);
        if (caught == 0 || sprang > 0 || missed.empty())
            continue;
        const auto& most = *std::ranges::max_element(missed, {}, &sim::RecordIndex::Missed::times);
        const std::string& id = record.scene->snares[i].id;
        const std::string_view reason = record.index.textOf(most);
        const std::string how = most.times == caught ? caught == 1 ? "and slipped" : "each time it slipped"
                                                     : fmt::format("{} times it slipped", most.times);
        found.push_back({id,
                         fmt::format("{} never sprang, though its event came {}: {} at {}{}{}", id,
                                     caught == 1 ? std::string("once") : fmt::format("{} times", caught), how,
                                     rules::wordOf(most.stage), reason.empty() ? "" : ", ", reason),
                         most.lines[0]});
    }
    return found;
}

} // namespace snare::check
