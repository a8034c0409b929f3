// SPDX-License-Identifier: Apache-2.0
/// Where in a journal things stand, so that a moment is told without reading all of it. Grows with
/// the journal.
#pragma once

#include "rules/journal.h"
#include "rules/lookup.h"

#include <array>
#include <span>
#include <vector>

namespace snare::sim {

class RecordIndex {
  public:
    /// Takes in what was added to the journal since. Costs what was added.
    void follow(const rules::Journal& journal);

    /// Calls `visit(line)` for all that came of the event at `line`, in order: who sprang or
    /// slipped, what was done.
    template <class Visit> void forEachAbout(std::int32_t line, Visit&& visit) const
    {
        if (line < 0 || static_cast<std::size_t>(line) >= firstAbout_.size())
            return;
        for (std::int32_t at = firstAbout_[static_cast<std::size_t>(line)]; at >= 0;
             at = nextAbout_[static_cast<std::size_t>(at)])
            visit(at);
    }

    /// The last line before `before` that tells what a snare did with an event, or -1.
    std::int32_t lastOutcomeBefore(std::int32_t before) const;

    /// The last start of the scene up to the end of `tick`, or -1.
    std::int32_t startBefore(std::int64_t tick) const;

    /// How far events came at a snare: caught, passed the filter, passed the gate, sprang.
    std::array<int, 4> countsOf(std::int32_t snare) const;

    /// Slips of a snare for one reason. What differs from time to time, such as "; it is 3", is
    /// left out of it.
    struct Missed {
        rules::SlipStage stage = rules::SlipStage::armed;
        rules::Texts::Id reason = 0; ///< in `reasons`
        int times = 0;
        std::array<std::int32_t, 4> lines{-1, -1, -1, -1}; ///< the first of them
    };
    /// When a snare did not spring though it listened, in order, each with the reason as a text.
    std::span<const Missed> missedBy(std::int32_t snare) const;
    std::string_view textOf(const Missed& missed) const { return reasons_.at(missed.reason); }

    /// The changes of a value, as indices into the journal's `values`, in order.
    std::span<const std::int32_t> changesOf(world::PieceIndex owner, rules::Texts::Id name) const;

    /// The phases that a piece or the scene went into, as indices into the journal's `phases`, in
    /// order.
    std::span<const std::int32_t> phasesOf(world::PieceIndex owner) const;

  private:
    struct OfSnare {
        std::array<int, 4> counts{};
        std::vector<Missed> missed;
        rules::Lookup<std::uint32_t, std::uint32_t> missedAt; ///< in `missed`, by reason and stage
    };

    void takeOutcome(const rules::Line& line, std::int32_t index, const rules::Journal& journal);
    rules::Texts::Id reasonOf(rules::Texts::Id text, const rules::Journal& journal);

    std::vector<std::int32_t> firstAbout_; ///< by line: the first that came of it, or -1
    std::vector<std::int32_t> lastAbout_;
    std::vector<std::int32_t> nextAbout_; ///< by line: the next that came of the same event, or -1
    std::vector<std::int32_t> outcomes_;  ///< lines
    std::vector<std::pair<std::int64_t, std::int32_t>> starts_; ///< ticks and lines
    std::vector<OfSnare> snares_;
    rules::Texts reasons_;
    std::vector<std::int64_t> reasonOfText_; ///< by text of the journal; -1: not asked for yet
    rules::Lookup<std::uint64_t, std::vector<std::int32_t>> changes_;
    rules::Lookup<world::PieceIndex, std::vector<std::int32_t>> phases_;
    std::size_t values_ = 0; ///< of the journal that are known
    std::size_t phaseChanges_ = 0;
};

} // namespace snare::sim
