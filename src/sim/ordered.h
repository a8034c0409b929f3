// SPDX-License-Identifier: Apache-2.0
/// A list in the order of arrival from which any entry is taken out by its key, in constant time on
/// average.
#pragma once

#include "rules/lookup.h"

#include <optional>

namespace snare::sim {

template <class Key, class Value> class Ordered {
  public:
    void clear()
    {
        entries_.clear();
        places_.clear();
    }

    /// Adds an entry behind all others; one of the same key goes.
    void add(const Key& key, Value value)
    {
        erase(key);
        places_[key] = entries_.size();
        entries_.emplace_back(key, std::move(value));
    }

    /// Takes an entry away, if there is one; the others keep their order.
    void erase(const Key& key)
    {
        const std::size_t* place = places_.find(key);
        if (!place)
            return;
        entries_[*place].second.reset();
        places_.erase(key);
        if (entries_.size() >= 2 * places_.size() + 8)
            closeGaps();
    }

    /// What is there, in order.
    std::vector<Value> list() const
    {
        std::vector<Value> result;
        result.reserve(places_.size());
        for (const auto& [key, value] : entries_)
            if (value)
                result.push_back(*value);
        return result;
    }

  private:
    void closeGaps()
    {
        std::erase_if(entries_, [](const auto& entry) { return !entry.second; });
        for (std::size_t i = 0; i < entries_.size(); ++i)
            places_[entries_[i].first] = i;
    }

    std::vector<std::pair<Key, std::optional<Value>>> entries_; ///< nothing where one was taken out
    rules::Lookup<Key, std::size_t> places_;
};

} // namespace snare::sim
