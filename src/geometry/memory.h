// SPDX-License-Identifier: Apache-2.0
/// What can be done against waiting for memory where there is much of it.
#pragma once

#include <cstddef>
#include <vector>

namespace snare::geometry {

/// Asks for the memory at `address`, which will be read soon. Nothing need be there.
inline void prefetch(const void* address)
{
    __builtin_prefetch(address);
    asm volatile(""); // GCC leaves out calls of functions that do nothing but fetch
}

/// Memory that begins with a line of the cache, in large pages if there is enough of it: an element
/// of a power of two bytes lies in one line, and fewer pages must be looked up. Throws
/// std::bad_alloc.
struct TableMemory {
    static void* allocate(std::size_t bytes);
    static void free(void* memory, std::size_t bytes) noexcept;
};

/// Memory as `new` gives it, but in large pages where they are filled. Throws std::bad_alloc.
struct BulkMemory {
    static void* allocate(std::size_t bytes);
    static void free(void* memory, std::size_t bytes) noexcept;
};

/// For containers of the standard library; throws `std::bad_alloc` as `Memory` does.
template <class T, class Memory> struct Allocator {
    using value_type = T;

    Allocator() = default;
    template <class Other> Allocator(const Allocator<Other, Memory>&) {}

    T* allocate(std::size_t count) { return static_cast<T*>(Memory::allocate(count * sizeof(T))); }
    void deallocate(T* memory, std::size_t count) noexcept { Memory::free(memory, count * sizeof(T)); }

    friend bool operator==(const Allocator&, const Allocator&) { return true; }
};

/// A vector that is read here and there, for each of many pieces or shapes.
template <class T> using Table = std::vector<T, Allocator<T, TableMemory>>;

/// A vector that is mostly small but may hold a million things.
template <class T> using Bulk = std::vector<T, Allocator<T, BulkMemory>>;

} // namespace snare::geometry
