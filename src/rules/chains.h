// SPDX-License-Identifier: Apache-2.0
/// Things that come and go, found by number, and lists of them by keys. Adding, finding and taking
/// out cost the same however many there are.
#pragma once

#include "rules/lookup.h"

#include <deque>

namespace snare::rules {

/// Things by slot. A slot is used again once its thing was taken out; references stay valid until
/// then.
template <class Thing> class Pool {
  public:
    void clear()
    {
        things_.clear();
        free_.clear();
    }

    /// Keeps a thing and returns its slot.
    int add(Thing thing)
    {
        if (free_.empty()) {
            things_.push_back(std::move(thing));
            return static_cast<int>(things_.size()) - 1;
        }
        const int slot = free_.back();
        free_.pop_back();
        (*this)[slot] = std::move(thing);
        return slot;
    }

    Thing take(int slot)
    {
        Thing thing = std::move((*this)[slot]);
        (*this)[slot] = Thing{};
        free_.push_back(slot);
        return thing;
    }

    Thing& operator[](int slot) { return things_[static_cast<std::size_t>(slot)]; }
    const Thing& operator[](int slot) const { return things_[static_cast<std::size_t>(slot)]; }

  private:
    std::deque<Thing> things_;
    std::vector<int> free_;
};

/// Lists of slots by key, each in the order in which its slots were appended. A slot stands in one
/// list at most.
template <class Key, class Hash = std::hash<Key>> class Chains {
  public:
    static constexpr int none = -1;

    void clear()
    {
        ends_.clear();
        links_.clear();
    }

    bool contains(const Key& key) const { return ends_.find(key) != nullptr; }

    void append(const Key& key, int slot)
    {
        if (links_.size() <= static_cast<std::size_t>(slot))
            links_.resize(static_cast<std::size_t>(slot) + 1);
        Ends& ends = ends_[key];
        link(slot) = {none, ends.last};
        (ends.last == none ? ends.first : link(ends.last).next) = slot;
        ends.last = slot;
    }

    /// Takes a slot out of the list of its key, where it must stand.
    void remove(const Key& key, int slot)
    {
        Ends& ends = *ends_.find(key);
        const Link one = link(slot);
        (one.last == none ? ends.first : link(one.last).next) = one.next;
        (one.next == none ? ends.last : link(one.next).last) = one.last;
        if (ends.first == none)
            ends_.erase(key);
    }

    /// The slot that was appended to the same list after this one, or `none`.
    int after(int slot) const { return links_[static_cast<std::size_t>(slot)].next; }

    /// Adds the slots of a key to the end of `list`, in their order.
    void addTo(std::vector<int>& list, const Key& key) const
    {
        const Ends* ends = ends_.find(key);
        for (int slot = ends ? ends->first : none; slot != none; slot = after(slot))
            list.push_back(slot);
    }
    std::vector<int> of(const Key& key) const
    {
        std::vector<int> list;
        addTo(list, key);
        return list;
    }

  private:
    struct Link {
        int next = none;
        int last = none;
    };
    struct Ends {
        int first = none;
        int last = none;
    };

    Link& link(int slot) { return links_[static_cast<std::size_t>(slot)]; }

    Lookup<Key, Ends, Hash> ends_;
    std::vector<Link> links_; ///< by slot
};

} // namespace snare::rules
