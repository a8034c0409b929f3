// SPDX-License-Identifier: Apache-2.0
/// A small table: values by a key. A few are gone through one after the other, many are found by a
/// hash.
///
/// It cannot be walked over, so that no order of keys reaches an event. References are valid until
/// the next key is added or taken out.
#pragma once

#include "rules/places.h"

#include <cstdint>
#include <functional>
#include <utility>

namespace snare::rules {

template <class Key, class Value, class Hash = std::hash<Key>> class Lookup {
  public:
    bool empty() const { return entries_.empty(); }
    std::size_t size() const { return entries_.size(); }

    void clear()
    {
        entries_.clear();
        places_.clear();
    }

    /// Null if there is none.
    const Value* find(const Key& key) const
    {
        if (places_.empty()) {
            for (const auto& [one, value] : entries_)
                if (one == key)
                    return &value;
            return nullptr;
        }
        const std::int32_t place = placeOf(key);
        return place < 0 ? nullptr : &entries_[static_cast<std::size_t>(place)].second;
    }
    Value* find(const Key& key)
    {
        return const_cast<Value*>(std::as_const(*this).find(key)); // NOLINT: same object, not const here
    }

    /// The value of a key, which is added if it is new.
    Value& operator[](const Key& key)
    {
        if (Value* found = find(key))
            return *found;
        entries_.emplace_back(key, Value{});
        if (!places_.empty())
            places_.add(Hash{}(key), entries_.size() - 1, entries_.size());
        else if (entries_.size() > few)
            for (std::size_t i = 0; i < entries_.size(); ++i)
                places_.add(Hash{}(entries_[i].first), i, i + 1);
        return entries_.back().second;
    }

    void erase(const Key& key)
    {
        std::size_t at = 0;
        if (places_.empty()) {
            while (at < entries_.size() && entries_[at].first != key)
                ++at;
        } else if (const std::int32_t place = placeOf(key); place >= 0) {
            at = static_cast<std::size_t>(place);
        } else {
            return;
        }
        if (at == entries_.size())
            return;
        eraseAt(at);
    }

    /// Takes out all that `wanted(key, value)`.
    template <class Wanted> void eraseIf(Wanted&& wanted)
    {
        for (std::size_t i = entries_.size(); i-- > 0;)
            if (wanted(entries_[i].first, entries_[i].second))
                eraseAt(i);
    }

  private:
    static constexpr std::size_t few = 8;

    std::int32_t placeOf(const Key& key) const
    {
        return places_.find(Hash{}(key),
                            [&](std::int32_t place) { return entries_[static_cast<std::size_t>(place)].first == key; });
    }

    void eraseAt(std::size_t at)
    {
        const std::size_t last = entries_.size() - 1;
        if (!places_.empty()) {
            places_.remove(Hash{}(entries_[at].first), at);
            if (at != last)
                places_.move(Hash{}(entries_[last].first), last, at);
        }
        if (at != last)
            entries_[at] = std::move(entries_[last]);
        entries_.pop_back();
    }

    geometry::Bulk<std::pair<Key, Value>> entries_;
    Places places_; ///< empty while there are few
};

} // namespace snare::rules
