// SPDX-License-Identifier: Apache-2.0
#include "check/compare.h"

#include <fmt/format.h>

#include <cmath>
#include <map>

namespace snare::check {

using rules::Line;
using rules::LineKind;

namespace {

/// What a line tells, without its time. Two sides of one meeting are one happening: only the
/// shape's side with the zone or, between equals, the earlier one counts.
std::string happening(const sim::Record& record, const Line& line)
{
    if (line.kind == LineKind::snare)
        return fmt::format("snare {} {} {} {}", record.snareNameOf(line.snare), record.nameOf(line.self),
                           record.nameOf(line.visitor), static_cast<int>(line.outcome));
    return fmt::format("{} {} {} {} {}", scene::wordOf(line.event), record.nameOf(line.self),
                       record.shapeNameOf(line.shape), record.nameOf(line.visitor), record.journal.textOf(line));
}

using Found = std::map<std::string, std::vector<std::size_t>>;

Found happenings(const sim::Record& record)
{
    Found found;
    for (std::size_t i = 0; i < record.journal.lines.size(); ++i) {
        const Line& line = record.journal.lines[i];
        if (line.kind == LineKind::event || line.kind == LineKind::snare)
            found[happening(record, line)].push_back(i);
    }
    return found;
}

/// Pairs the lines of one happening: those of the same tick first, then the nearest in order.
void pairUp(const sim::Record& before, std::vector<std::size_t> old, const sim::Record& after,
            std::vector<std::size_t> now, Differences& result)
{
    const auto tickOld = [&](std::size_t i) { return before.journal.lines[i].tick; };
    const auto tickNow = [&](std::size_t i) { return after.journal.lines[i].tick; };
    std::vector<std::size_t> oldLeft;
    std::vector<std::size_t> nowLeft;
    std::size_t i = 0;
    std::size_t j = 0;
    while (i < old.size() || j < now.size()) {
        if (j == now.size() || (i < old.size() && tickOld(old[i]) < tickNow(now[j])))
            oldLeft.push_back(old[i++]);
        else if (i == old.size() || tickNow(now[j]) < tickOld(old[i]))
            nowLeft.push_back(now[j++]);
        else
            ++i, ++j;
    }
    const double within = movedWithin * after.scene->rate;
    i = 0;
    for (const std::size_t line : nowLeft) {
        while (i < oldLeft.size() && tickOld(oldLeft[i]) < tickNow(line) - within)
            result.gone.push_back(oldLeft[i++]);
        if (i < oldLeft.size() && std::abs(tickOld(oldLeft[i]) - tickNow(line)) <= within)
            result.moved.push_back({oldLeft[i++], line});
        else
            result.fresh.push_back(line);
    }
    result.gone.insert(result.gone.end(), oldLeft.begin() + static_cast<std::ptrdiff_t>(i), oldLeft.end());
}

} // namespace

Differences compare(const sim::Record& before, const sim::Record& after)
{
    Differences result;
    const Found old = happenings(before);
    const Found now = happenings(after);
    for (const auto& [what, lines] : now) {
        const auto was = old.find(what);
        pairUp(before, was == old.end() ? std::vector<std::size_t>{} : was->second, after, lines, result);
    }
    for (const auto& [what, lines] : old)
        if (!now.contains(what))
            result.gone.insert(result.gone.end(), lines.begin(), lines.end());
    std::ranges::sort(result.fresh);
    std::ranges::sort(result.gone);
    std::ranges::sort(result.moved, {}, &Moved::after);
    return result;
}

} // namespace snare::check
