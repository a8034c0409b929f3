// SPDX-License-Identifier: Apache-2.0
/// Texts kept once each and known by number: a log of a million lines says the same few words again
/// and again.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace snare::rules {

class Texts {
  public:
    using Id = std::uint32_t; ///< 0 is the empty text

    /// The number of a text; one that is new is kept.
    Id keep(std::string_view text)
    {
        if (text.empty())
            return 0;
        if (last_ != 0 && at(last_) == text) // a value that changes is told three times in a row
            return last_;
        return last_ = find(text);
    }

    /// The number of a text that is kept, else nothing.
    std::optional<Id> known(std::string_view text) const;

    std::size_t count() const { return starts_.size() - 1; }
    /// The first `count` of them, under the same numbers.
    Texts first(std::size_t count) const;

    /// Valid until the next `keep`.
    std::string_view at(Id id) const
    {
        return id == 0 ? std::string_view()
                       : std::string_view(letters_.data() + starts_[id - 1], starts_[id] - starts_[id - 1]);
    }

  private:
    struct Slot {
        Id id = 0; ///< 0: free
        std::uint32_t hash = 0;
    };

    /// The slot of a text: where it is, or where it would be.
    std::size_t slotFor(std::string_view text, std::uint32_t hash) const;
    Id find(std::string_view text);
    void grow();

    std::string letters_;                ///< of all, one after the other
    std::vector<std::size_t> starts_{0}; ///< in `letters_`: of text 1, 2, …, and the end
    std::vector<Slot> slots_;            ///< by hash, a power of two of them; at most half are taken
    Id last_ = 0;                        ///< that was asked for
};

} // namespace snare::rules
