// SPDX-License-Identifier: Apache-2.0
/// Many runs at once.
#pragma once

#include <cstddef>
#include <functional>

namespace snare::check {

/// Calls `work` with each number below `count` once, in any order, on `jobs` threads (0: one a
/// core). What it throws is thrown on once all threads have ended; numbers that were not begun by
/// then are left out.
void onThreads(std::size_t count, unsigned jobs, const std::function<void(std::size_t)>& work);

} // namespace snare::check
