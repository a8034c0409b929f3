// SPDX-License-Identifier: Apache-2.0
/// Who is inside what, as the snares were told: a visitor is in from when its enter was offered until its exit was.
#pragma once

#include "rules/event.h"

namespace snare::rules {

class Insiders {
  public:
    struct Entry {
        int shape; ///< of self, index in World::shapes
        PieceIndex visitor;
        int part;
        std::int64_t since; ///< tick
    };

    void clear() { of_.clear(); }

    /// Those inside a piece, in order of arrival.
    const std::vector<Entry>& of(PieceIndex self) const
    {
        static const std::vector<Entry> none;
        return static_cast<std::size_t>(self) < of_.size() ? of_[static_cast<std::size_t>(self)] : none;
    }

    bool has(PieceIndex self, int shape, PieceIndex visitor) const
    {
        return std::ranges::any_of(of(self), [&](const Entry& e) { return e.shape == shape && e.visitor == visitor; });
    }

    /// True if the visitor is inside any shape of self (M9: the piece as a whole).
    bool has(PieceIndex self, PieceIndex visitor) const
    {
        return std::ranges::any_of(of(self), [&](const Entry& e) { return e.visitor == visitor; });
    }

    void enter(PieceIndex self, Entry entry)
    {
        if (of_.size() <= static_cast<std::size_t>(self))
            of_.resize(static_cast<std::size_t>(self) + 1);
        of_[static_cast<std::size_t>(self)].push_back(entry);
    }

    void leave(PieceIndex self, int shape, PieceIndex visitor)
    {
        if (static_cast<std::size_t>(self) < of_.size())
            std::erase_if(of_[static_cast<std::size_t>(self)],
                          [&](const Entry& e) { return e.shape == shape && e.visitor == visitor; });
    }

    /// True if `shape` is the one whose stay speaks for the piece as a whole in this tick: the first that was entered
    /// before.
    bool speaksForWhole(PieceIndex self, int shape, PieceIndex visitor, std::int64_t tick) const
    {
        return std::ranges::none_of(
            of(self), [&](const Entry& e) { return e.visitor == visitor && e.shape < shape && e.since < tick; });
    }

  private:
    std::vector<std::vector<Entry>> of_; ///< by piece
};

} // namespace snare::rules
