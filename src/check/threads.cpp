// SPDX-License-Identifier: Apache-2.0
#include "check/threads.h"

#include <algorithm>
#include <atomic>
#include <exception>
#include <mutex>
#include <thread>
#include <vector>

namespace snare::check {

void onThreads(std::size_t count, unsigned jobs, const std::function<void(std::size_t)>& work)
{
    std::atomic<std::size_t> next = 0;
    std::exception_ptr failure;
    std::mutex failing;
    const auto go = [&] {
        try {
            for (std::size_t i = next++; i < count; i = next++)
                work(i);
        } catch (...) {
            next = count;
            const std::lock_guard lock{failing};
            failure = failure ? failure : std::current_exception();
        }
    };
    const std::size_t cores = jobs > 0 ? jobs : std::max(1u, std::thread::hardware_concurrency());
    {
        std::vector<std::jthread> threads;
        for (std::size_t i = 1; i < std::min(cores, count); ++i)
            threads.emplace_back(go);
        go();
    }
    if (failure)
        std::rethrow_exception(failure);
}

} // namespace snare::check
