// SPDX-License-Identifier: Apache-2.0
/// A small table: values by a key. A few are gone through one after the other, many are found by a hash.
///
/// It cannot be walked over, so that no order of keys reaches an event. References are valid until the next key is
/// added or taken out.
#pragma once

#include <algorithm>
#include <cstdint>
#include <unordered_map>
#include <utility>
#include <vector>

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

    const Value* find(const Key& key) const
    {
        if (places_.empty()) {
            for (const auto& [one, value] : entries_)
                if (one == key)
                    return &value;
            return nullptr;
        }
        const auto found = places_.find(key);
        return found == places_.end() ? nullptr : &entries_[found->second].second;
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
            places_.emplace(key, entries_.size() - 1);
        else if (entries_.size() > few)
            for (std::size_t i = 0; i < entries_.size(); ++i)
                places_.emplace(entries_[i].first, i);
        return entries_.back().second;
    }

    void erase(const Key& key)
    {
        std::size_t at = 0;
        if (places_.empty()) {
            while (at < entries_.size() && entries_[at].first != key)
                ++at;
        } else if (const auto found = places_.find(key); found != places_.end()) {
            at = found->second;
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

    void eraseAt(std::size_t at)
    {
        if (!places_.empty())
            places_.erase(entries_[at].first);
        if (at + 1 != entries_.size()) {
            entries_[at] = std::move(entries_.back());
            if (!places_.empty())
                places_[entries_[at].first] = at;
        }
        entries_.pop_back();
    }

    std::vector<std::pair<Key, Value>> entries_;
    std::unordered_map<Key, std::size_t, Hash> places_; ///< empty while there are few
};

} // namespace snare::rules
