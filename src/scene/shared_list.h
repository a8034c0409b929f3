// SPDX-License-Identifier: Apache-2.0
/// A list whose copies share what they have in common: copying costs a pointer for each entry, and
/// an entry is copied only when it is changed while another list has it too. So a step of undo
/// costs what it changed.
///
/// It is used like a vector, with two differences. Entries do not lie side by side. And whoever may
/// change an entry owns it from then on: a reference or pointer that may change an entry must not
/// be kept over a copy of the list, and a list that is only read is read as const
/// (`std::as_const`), or what it shares is copied for nothing.
///
/// Copies may be used in several threads at once, as copies of a vector may.
#pragma once

#include <algorithm>
#include <atomic>
#include <compare>
#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <iterator>
#include <type_traits>
#include <utility>
#include <vector>

namespace snare::scene {

template <class T> class SharedList {
    /// An entry with the number of lists that have it.
    struct Node {
        std::atomic<std::uint32_t> lists{1};
        T value;

        template <class... Args> explicit Node(Args&&... args) : value(std::forward<Args>(args)...) {}
    };

    class Entry {
      public:
        Entry() : node_(new Node) {}
        explicit Entry(const T& value) : node_(new Node(value)) {}
        explicit Entry(T&& value) : node_(new Node(std::move(value))) {}
        Entry(const Entry& other) : node_(other.node_) { node_->lists.fetch_add(1, std::memory_order_relaxed); }
        Entry(Entry&& other) noexcept : node_(std::exchange(other.node_, nullptr)) {}
        Entry& operator=(Entry other) noexcept
        {
            std::swap(node_, other.node_);
            return *this;
        }
        ~Entry()
        {
            if (node_ && node_->lists.fetch_sub(1, std::memory_order_acq_rel) == 1)
                delete node_;
        }

        const T& read() const { return node_->value; }
        /// The entry as nobody else has it.
        T& own()
        {
            if (node_->lists.load(std::memory_order_acquire) != 1)
                *this = Entry(node_->value);
            return node_->value;
        }
        bool isSame(const Entry& other) const { return node_ == other.node_; }

      private:
        Node* node_;
    };

    template <bool isConst> class Iterator {
        using At = std::conditional_t<isConst, const Entry*, Entry*>;

      public:
        using iterator_category = std::random_access_iterator_tag;
        using value_type = T;
        using difference_type = std::ptrdiff_t;
        using reference = std::conditional_t<isConst, const T&, T&>;
        using pointer = std::conditional_t<isConst, const T*, T*>;

        Iterator() = default;
        explicit Iterator(At at) : at_(at) {}
        /// One that may not change entries, of one that may.
        template <bool other>
        requires(isConst && !other) Iterator(const Iterator<other>& it) : at_(it.at_) {}

        reference operator*() const
        {
            if constexpr (isConst)
                return at_->read();
            else
                return at_->own();
        }
        pointer operator->() const { return &**this; }
        reference operator[](difference_type by) const { return *(*this + by); }
        Iterator& operator+=(difference_type by)
        {
            at_ += by;
            return *this;
        }
        Iterator& operator-=(difference_type by) { return *this += -by; }
        Iterator& operator++() { return *this += 1; }
        Iterator& operator--() { return *this += -1; }
        Iterator operator++(int) { return std::exchange(*this, *this + 1); }
        Iterator operator--(int) { return std::exchange(*this, *this - 1); }
        friend Iterator operator+(Iterator one, difference_type by) { return one += by; }
        friend Iterator operator+(difference_type by, Iterator one) { return one += by; }
        friend Iterator operator-(Iterator one, difference_type by) { return one -= by; }
        friend difference_type operator-(const Iterator& a, const Iterator& b) { return a.at_ - b.at_; }
        friend bool operator==(const Iterator& a, const Iterator& b) = default;
        friend auto operator<=>(const Iterator& a, const Iterator& b) = default;

      private:
        friend class SharedList;
        template <bool> friend class Iterator;
        At at_ = nullptr;
    };

  public:
    using value_type = T;
    using iterator = Iterator<false>;
    using const_iterator = Iterator<true>;

    SharedList() = default;
    SharedList(std::initializer_list<T> values) : SharedList(values.begin(), values.end()) {}
    template <std::input_iterator It> SharedList(It first, It last)
    {
        for (; first != last; ++first)
            push_back(*first);
    }

    bool empty() const { return entries_.empty(); }
    std::size_t size() const { return entries_.size(); }
    void reserve(std::size_t count) { entries_.reserve(count); }
    void clear() { entries_.clear(); }

    const T& operator[](std::size_t i) const { return entries_[i].read(); }
    T& operator[](std::size_t i) { return entries_[i].own(); }
    const T& front() const { return entries_.front().read(); }
    T& front() { return entries_.front().own(); }
    const T& back() const { return entries_.back().read(); }
    T& back() { return entries_.back().own(); }

    const_iterator begin() const { return const_iterator(entries_.data()); }
    const_iterator end() const { return const_iterator(entries_.data() + entries_.size()); }
    iterator begin() { return iterator(entries_.data()); }
    iterator end() { return iterator(entries_.data() + entries_.size()); }
    auto rbegin() const { return std::make_reverse_iterator(end()); }
    auto rend() const { return std::make_reverse_iterator(begin()); }

    void push_back(const T& value) { entries_.emplace_back(value); }
    void push_back(T&& value) { entries_.emplace_back(std::move(value)); }
    /// The new entry, made of `args`; it may be changed.
    template <class... Args> T& emplace_back(Args&&... args)
    {
        entries_.emplace_back(T(std::forward<Args>(args)...));
        return back();
    }
    iterator insert(const_iterator before, T value)
    {
        const auto at = before - std::as_const(*this).begin();
        entries_.insert(entries_.begin() + at, Entry(std::move(value)));
        return begin() + at;
    }
    /// Entries of another list, which are shared.
    void append(const SharedList& others)
    {
        entries_.insert(entries_.end(), others.entries_.begin(), others.entries_.end());
    }
    iterator erase(const_iterator first, const_iterator last)
    {
        const auto at = first - std::as_const(*this).begin();
        entries_.erase(entries_.begin() + at, entries_.begin() + at + (last - first));
        return begin() + at;
    }
    iterator erase(const_iterator at) { return erase(at, at + 1); }

    /// Takes away the entries for which `matches(entry)` holds; returns how many.
    template <class Matches> friend std::size_t erase_if(SharedList& list, Matches&& matches)
    {
        return std::erase_if(list.entries_, [&](const Entry& entry) { return matches(entry.read()); });
    }
    /// Puts them in the order of `less(a, b)`; those that are equal keep theirs.
    template <class Less> void sort(Less&& less)
    {
        std::stable_sort(entries_.begin(), entries_.end(),
                         [&](const Entry& a, const Entry& b) { return less(a.read(), b.read()); });
    }
    /// Moves the entry at `from` so that it stands at `to`; those between move up or down.
    void move(std::size_t from, std::size_t to)
    {
        const auto at = [&](std::size_t i) { return entries_.begin() + static_cast<std::ptrdiff_t>(i); };
        if (from < to)
            std::rotate(at(from), at(from + 1), at(to + 1));
        else
            std::rotate(at(to), at(from), at(from + 1));
    }

    /// Entries that are equal to those of `other` at the same place are shared with it (again).
    void shareWith(const SharedList& other)
    {
        for (std::size_t i = 0; i < std::min(size(), other.size()); ++i)
            if (!entries_[i].isSame(other.entries_[i]) && entries_[i].read() == other.entries_[i].read())
                entries_[i] = other.entries_[i];
    }
    /// How many entries are shared with the one of `other` at the same place.
    std::size_t countShared(const SharedList& other) const
    {
        std::size_t count = 0;
        for (std::size_t i = 0; i < std::min(size(), other.size()); ++i)
            count += entries_[i].isSame(other.entries_[i]) ? 1 : 0;
        return count;
    }

    /// Shared entries are the same without being looked at.
    friend bool operator==(const SharedList& a, const SharedList& b)
    {
        return std::equal(
            a.entries_.begin(), a.entries_.end(), b.entries_.begin(), b.entries_.end(),
            [](const Entry& one, const Entry& other) { return one.isSame(other) || one.read() == other.read(); });
    }

  private:
    std::vector<Entry> entries_;
};

} // namespace snare::scene
