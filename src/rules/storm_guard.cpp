// SPDX-License-Identifier: Apache-2.0
#include "rules/storm_guard.h"

#include <fmt/format.h>

#include <set>

namespace snare::rules {

void StormGuard::beginTick(std::int64_t tick)
{
    tick_ = tick;
    signals_ = 0;
    caused_ = 0;
    routines_ = 0;
}

bool StormGuard::isStorm(EventKind kind, const scene::Scene& scene)
{
    switch (kind) {
    case EventKind::heard:
    case EventKind::phaseBegin:
    case EventKind::phaseEnd:
        if (++signals_ <= mostSignalsInATick)
            return false;
        stop(fmt::format("the snares {} set each other off without end (more than {} signals and phases in one tick)",
                         raisers(scene), mostSignalsInATick));
        return true;
    case EventKind::spawned:
    case EventKind::removed:
    case EventKind::changed:
    case EventKind::rises:
    case EventKind::falls:
        if (++caused_ <= mostCausedInATick)
            return false;
        stop(fmt::format("the snares {} set each other off without end (more than {} changes in one tick)",
                         raisers(scene), mostCausedInATick));
        return true;
    default:
        return false;
    }
}

std::string StormGuard::raisers(const scene::Scene& scene) const
{
    std::set<std::string> names; // of this tick, or of those before if nothing was set off in it
    for (std::size_t i = 0; i < std::min(raised_, raisers_.size()); ++i)
        names.insert(scene.snares[static_cast<std::size_t>(raisers_[i])].id);
    return fmt::format("{}", fmt::join(names, ", "));
}

void StormGuard::stop(std::string_view why)
{
    if (reason_.empty())
        reason_ = fmt::format("tick {}: {}", tick_, why);
}

} // namespace snare::rules
