#pragma once
// Several pieces of work at once, with the same result as one after another.

#include <algorithm>
#include <atomic>
#include <cstddef>
#include <exception>
#include <mutex>
#include <thread>
#include <vector>

namespace hestrel::plan {

/// Calls `work(i)` for every i below `count`, on up to `jobs` threads; on fewer where the machine
/// starts no more. What it throws first is thrown again once all have stopped.
template <class Work>
void in_parallel(std::size_t count, unsigned jobs, Work work) {
    std::atomic<std::size_t> next{0};
    std::exception_ptr failed;
    std::mutex guard;
    const auto run = [&] {
        for (std::size_t i = next++; i < count; i = next++) {
            try {
                work(i);
            } catch (...) {
                const std::scoped_lock lock(guard);
                if (!failed) failed = std::current_exception();
                next = count;
            }
        }
    };
    std::vector<std::thread> threads;
    threads.reserve(std::min<std::size_t>(jobs, count));
    try {
        for (unsigned i = 1; i < jobs && i < count; ++i) threads.emplace_back(run);
    } catch (const std::exception&) { // no more threads, or no memory for them: those do the work
    }
    run();
    for (std::thread& thread : threads) thread.join();
    if (failed) std::rethrow_exception(failed);
}

/// Some of many, one after another.
struct Share {
    std::size_t first = 0;
    std::size_t count = 0;
};

/// So many things in shares of at most `each`, the same for any number of jobs.
inline std::vector<Share> shares(std::size_t count, std::size_t each) {
    std::vector<Share> all;
    for (std::size_t first = 0; first < count; first += each)
        all.push_back({first, std::min(each, count - first)});
    return all;
}

} // namespace hestrel::plan
