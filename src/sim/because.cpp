// SPDX-License-Identifier: Apache-2.0
#include "sim/because.h"

#include <algorithm>

namespace snare::sim {

using rules::EventKind;
using rules::Line;
using rules::LineKind;

namespace {

std::int32_t becauseOf(const Record& record, std::int32_t line)
{
    return record.journal.because[static_cast<std::size_t>(line)];
}

/// The event of `tick` at `owner` that `fits`, the last of them; -1 if there is none.
template <class Fits>
std::int32_t eventOf(const Record& record, std::int64_t tick, EventKind kind, world::PieceIndex owner, Fits&& fits)
{
    const std::span<const Line> lines = record.linesOf(tick);
    for (std::size_t i = lines.size(); i-- > 0;)
        if (lines[i].kind == LineKind::event && lines[i].event == kind && lines[i].self == owner && fits(lines[i]))
            return static_cast<std::int32_t>(&lines[i] - record.journal.lines.data());
    return -1;
}

} // namespace

std::vector<std::int32_t> chainTo(const Record& record, std::int32_t line)
{
    std::vector<std::int32_t> chain;
    if (line >= static_cast<std::int32_t>(record.journal.lines.size()))
        return chain;
    for (; line >= 0; line = becauseOf(record, line))
        chain.push_back(line);
    std::ranges::reverse(chain);
    return chain;
}

std::vector<std::int32_t> resultsOf(const Record& record, std::int32_t line, std::size_t most)
{
    std::vector<std::int32_t> results;
    const auto& because = record.journal.because;
    if (line < 0)
        return results;
    for (std::size_t i = static_cast<std::size_t>(line) + 1; i < because.size() && results.size() < most; ++i)
        if (because[i] == line)
            results.push_back(static_cast<std::int32_t>(i));
    return results;
}

std::int32_t lineBehindPlace(const Record& record, world::PieceIndex piece, std::int64_t tick)
{
    const std::vector<PieceState> states = record.snapshots.at(tick);
    if (piece < 0 || static_cast<std::size_t>(piece) >= states.size())
        return -1;
    const std::int32_t line = states[static_cast<std::size_t>(piece)].movedBy;
    return line >= 0 ? line : record.index.startBefore(tick);
}

std::int32_t lineOfValue(const Record& record, world::PieceIndex owner, std::string_view name, std::int64_t tick)
{
    const auto word = record.journal.texts.known(name);
    if (!word)
        return -1;
    const auto& values = record.journal.values;
    const auto tickOf = [&](std::int32_t change) -> std::int64_t {
        return values[static_cast<std::size_t>(change)].tick;
    };
    const auto changes = record.index.changesOf(owner, *word);
    const auto after = std::ranges::upper_bound(changes, tick, {}, tickOf);
    return after == changes.begin() ? -1
                                    : eventOf(record, tickOf(*(after - 1)), EventKind::changed, owner,
                                              [&](const Line& line) { return line.text == *word; });
}

std::int32_t lineOfPhase(const Record& record, world::PieceIndex owner, std::int64_t tick)
{
    const auto& phases = record.journal.phases;
    const auto tickOf = [&](std::int32_t change) -> std::int64_t {
        return phases[static_cast<std::size_t>(change)].tick;
    };
    const auto changes = record.index.phasesOf(owner);
    const auto after = std::ranges::upper_bound(changes, tick, {}, tickOf);
    return eventOf(record, after == changes.begin() ? 0 : tickOf(*(after - 1)), EventKind::phaseBegin, owner,
                   [](const Line&) { return true; });
}

} // namespace snare::sim
