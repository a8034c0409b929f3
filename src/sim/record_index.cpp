// SPDX-License-Identifier: Apache-2.0
#include "sim/record_index.h"

namespace snare::sim {

using rules::Line;
using rules::LineKind;

namespace {

std::uint64_t keyOf(world::PieceIndex owner, rules::Texts::Id name)
{
    return static_cast<std::uint64_t>(static_cast<std::uint32_t>(owner)) << 32 | name;
}

/// The reason without what differs from time to time: values and moments.
std::string_view withoutFigures(std::string_view text)
{
    for (const std::string_view tail : {"; it is ", ", already at ", ", the last at ", ", last at "})
        if (const std::size_t at = text.find(tail); at != std::string_view::npos)
            text = text.substr(0, at);
    return text;
}

} // namespace

void RecordIndex::follow(const rules::Journal& journal)
{
    for (std::size_t i = firstAbout_.size(); i < journal.lines.size(); ++i) {
        const Line& line = journal.lines[i];
        const auto index = static_cast<std::int32_t>(i);
        firstAbout_.push_back(-1);
        lastAbout_.push_back(-1);
        nextAbout_.push_back(-1);
        if (line.kind == LineKind::event && line.event == rules::EventKind::start)
            starts_.emplace_back(line.tick, index);
        if (line.kind == LineKind::snare)
            takeOutcome(line, index, journal);
        if (line.about < 0 || line.about >= index)
            continue;
        const auto about = static_cast<std::size_t>(line.about);
        (firstAbout_[about] < 0 ? firstAbout_[about] : nextAbout_[static_cast<std::size_t>(lastAbout_[about])]) = index;
        lastAbout_[about] = index;
    }
    for (; values_ < journal.values.size(); ++values_)
        changes_[keyOf(journal.values[values_].owner, journal.values[values_].name)].push_back(
            static_cast<std::int32_t>(values_));
    for (; phaseChanges_ < journal.phases.size(); ++phaseChanges_)
        phases_[journal.phases[phaseChanges_].owner].push_back(static_cast<std::int32_t>(phaseChanges_));
}

void RecordIndex::takeOutcome(const Line& line, std::int32_t index, const rules::Journal& journal)
{
    if (line.about >= 0)
        outcomes_.push_back(index);
    const auto snare = static_cast<std::size_t>(line.snare);
    if (snares_.size() <= snare)
        snares_.resize(snare + 1);
    OfSnare& of = snares_[snare];
    const bool sprang = line.outcome == rules::Outcome::sprung;
    ++of.counts[0];
    of.counts[1] += sprang || line.stage == rules::SlipStage::gate ? 1 : 0;
    of.counts[2] += sprang ? 1 : 0;
    of.counts[3] += sprang ? 1 : 0;
    if (sprang)
        return;
    const rules::Texts::Id reason = reasonOf(line.text, journal);
    std::uint32_t& at = of.missedAt[reason * 8 + static_cast<std::uint32_t>(line.stage)]; // 1 more than its place
    if (at == 0) {
        of.missed.push_back({line.stage, reason, 0, {-1, -1, -1, -1}});
        at = static_cast<std::uint32_t>(of.missed.size());
    }
    Missed& missed = of.missed[at - 1];
    if (static_cast<std::size_t>(missed.times) < missed.lines.size())
        missed.lines[static_cast<std::size_t>(missed.times)] = index;
    ++missed.times;
}

rules::Texts::Id RecordIndex::reasonOf(rules::Texts::Id text, const rules::Journal& journal)
{
    if (reasonOfText_.size() <= text)
        reasonOfText_.resize(static_cast<std::size_t>(text) + 1, -1);
    std::int64_t& known = reasonOfText_[text];
    if (known < 0)
        known = reasons_.keep(withoutFigures(journal.texts.at(text)));
    return static_cast<rules::Texts::Id>(known);
}

std::int32_t RecordIndex::lastOutcomeBefore(std::int32_t before) const
{
    const auto after = std::ranges::lower_bound(outcomes_, before);
    return after == outcomes_.begin() ? -1 : *(after - 1);
}

std::int32_t RecordIndex::startBefore(std::int64_t tick) const
{
    const auto after =
        std::ranges::upper_bound(starts_, tick, {}, &std::pair<std::int64_t, std::int32_t>::first);
    return after == starts_.begin() ? -1 : (after - 1)->second;
}

std::array<int, 4> RecordIndex::countsOf(std::int32_t snare) const
{
    return static_cast<std::size_t>(snare) < snares_.size() ? snares_[static_cast<std::size_t>(snare)].counts
                                                            : std::array<int, 4>{};
}

std::span<const RecordIndex::Missed> RecordIndex::missedBy(std::int32_t snare) const
{
    if (static_cast<std::size_t>(snare) >= snares_.size())
        return {};
    return snares_[static_cast<std::size_t>(snare)].missed;
}

std::span<const std::int32_t> RecordIndex::changesOf(world::PieceIndex owner, rules::Texts::Id name) const
{
    const auto* found = changes_.find(keyOf(owner, name));
    return found ? std::span(*found) : std::span<const std::int32_t>();
}

std::span<const std::int32_t> RecordIndex::phasesOf(world::PieceIndex owner) const
{
    const auto* found = phases_.find(owner);
    return found ? std::span(*found) : std::span<const std::int32_t>();
}

} // namespace snare::sim
