// SPDX-License-Identifier: Apache-2.0
#include "geometry/memory.h"

#include <sys/mman.h>

#include <new>

namespace snare::geometry {

namespace {

constexpr std::size_t line = 64;
constexpr std::size_t largePage = std::size_t{2} << 20;

/// Smaller tables do not begin with a large page: they would leave most of it empty.
constexpr std::align_val_t alignmentOf(std::size_t bytes)
{
    return std::align_val_t{bytes < largePage ? line : largePage};
}

} // namespace

void* TableMemory::allocate(std::size_t bytes)
{
    void* const memory = ::operator new(bytes, alignmentOf(bytes));
    if (bytes >= largePage)
        madvise(memory, bytes / largePage * largePage, MADV_HUGEPAGE); // without effect where there are none
    return memory;
}

void TableMemory::free(void* memory, std::size_t bytes) noexcept
{
    ::operator delete(memory, alignmentOf(bytes));
}

void* BulkMemory::allocate(std::size_t bytes)
{
    return bytes < largePage ? ::operator new(bytes) : TableMemory::allocate(bytes);
}

void BulkMemory::free(void* memory, std::size_t bytes) noexcept
{
    if (bytes < largePage)
        ::operator delete(memory);
    else
        TableMemory::free(memory, bytes);
}

} // namespace snare::geometry
