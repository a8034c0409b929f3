// SPDX-License-Identifier: Apache-2.0
#include "check/scout_report.h"

#include "words/expectations.h"
#include "words/text.h"

#include <fmt/format.h>

#include <algorithm>

namespace snare::check {

namespace {

std::string plays(int count)
{
    return words::counted(static_cast<std::size_t>(count), "play", "plays");
}

ScoutedTake named(std::string name, scene::Take take, const std::string& shows)
{
    take.note = "Found by scouting: " + shows;
    return {std::move(name), std::move(take)};
}

ScoutLine lineOf(const ScoutedBreak& one, std::span<const scene::Take> takes, std::size_t number)
{
    const std::string what = one.stop.empty() ? words::expectationText(takes[one.take].expect[one.expectation])
                                              : "the run stopped: " + one.stop;
    return {ScoutLine::Of::broken,
            fmt::format("{}, in {}", what, plays(one.plays)),
            {},
            named(fmt::format("broken-{}", number), one.how, what)};
}

ScoutLine lineOf(const ScoutedDeadEnd& end, std::size_t number)
{
    std::vector<std::string> parts;
    for (const auto& [id, at] : end.walkers)
        parts.push_back(fmt::format("{} at {:.1f}, {:.1f}", id, at.x, at.y));
    if (!end.phase.empty())
        parts.push_back("phase " + end.phase);
    const std::string where =
        fmt::format("after {:.1f} s{}{}", end.t, parts.empty() ? "" : ", ", words::joinedBy(parts, ", "));
    const std::string lost = words::joinedBy(end.lost, ", ");
    return {ScoutLine::Of::deadEnd, fmt::format("{} never sprang any more in {}: {}", lost, plays(end.tries), where),
            end.lost.front(),
            named(fmt::format("dead-end-{}", number), end.how, fmt::format("{}, {} never springs.", where, lost))};
}

ScoutLine lineOf(const ScoutedDetour& one)
{
    const std::string zones = words::joinedBy(one.zones, ", ");
    const std::string text = fmt::format("{} sprang for {}, which had not been in {}", one.snare, one.visitor, zones);
    return {ScoutLine::Of::detour, text, one.snare, named("round-" + one.snare, one.how, text + ".")};
}

ScoutLine lineOf(const ScoutedSnare& one)
{
    if (one.take) {
        scene::Take take = *one.take;
        take.expect.emplace_back().line.snare = one.snare;
        const std::string text =
            one.plays == 0 ? fmt::format("{}: at {:.3f} s, in no play but the takes", one.snare, one.first)
                           : fmt::format("{}: first at {:.3f} s, in {}", one.snare, one.first, plays(one.plays));
        return {ScoutLine::Of::sprung, text, one.snare,
                named("springs-" + one.snare, std::move(take), one.snare + " springs.")};
    }
    const std::string came = one.caught == 1 ? std::string("once") : fmt::format("{} times", one.caught);
    return {ScoutLine::Of::never,
            one.caught == 0
                ? fmt::format("{}: its event never came", one.snare)
                : fmt::format("{}: its event came {}, and slipped most often at {}", one.snare, came, one.nearest),
            one.snare,
            {}};
}

} // namespace

std::string_view headOf(ScoutLine::Of of)
{
    constexpr std::array<std::string_view, 5> heads{"broken", "never sprang", "dead ends", "ways round", "sprang"};
    return heads.at(static_cast<std::size_t>(of));
}

std::vector<ScoutLine> linesOf(const Scouted& found, std::span<const scene::Take> takes)
{
    std::vector<ScoutLine> lines;
    for (std::size_t i = 0; i < found.broken.size(); ++i)
        lines.push_back(lineOf(found.broken[i], takes, i + 1));
    for (std::size_t i = 0; i < found.deadEnds.size(); ++i)
        lines.push_back(lineOf(found.deadEnds[i], i + 1));
    for (const ScoutedDetour& one : found.detours)
        lines.push_back(lineOf(one));
    for (const ScoutedSnare& one : found.snares)
        lines.push_back(lineOf(one));
    std::ranges::stable_sort(lines, {}, &ScoutLine::of);
    return lines;
}

std::string summaryOf(const Scouted& found)
{
    const auto sprung =
        std::ranges::count_if(found.snares, [](const ScoutedSnare& one) { return one.take.has_value(); });
    return fmt::format("{}, {:.0f} s of play, {} states: {} of {} snares sprang", plays(found.plays), found.played,
                       found.states, sprung, found.snares.size());
}

} // namespace snare::check
