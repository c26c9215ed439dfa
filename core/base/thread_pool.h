// SPDX-License-Identifier: GPL-3.0-or-later
// Threads for work beside the caller: a pool for tasks that stand alone, and one call that spreads many alike
// over threads and waits.
#pragma once

#include <atomic>
#include <condition_variable>
#include <cstddef>
#include <deque>
#include <exception>
#include <functional>
#include <mutex>
#include <thread>
#include <vector>

namespace eh {

// How many threads the machine runs at once, at least 1.
int machine_threads();

class ThreadPool {
  public:
    // The one of the program. It has more threads than the machine runs at once: some of its tasks wait for
    // disks and servers.
    static ThreadPool& shared();

    explicit ThreadPool(int threads);
    // Begins nothing more and waits for what was begun.
    ~ThreadPool();
    ThreadPool(const ThreadPool&) = delete;
    ThreadPool& operator=(const ThreadPool&) = delete;

    // Begun in the order in which they come. A task that throws ends the program: whoever wants its problem
    // catches it.
    void run(std::function<void()> task);

  private:
    void work();

    std::mutex mutex_;
    std::condition_variable changed_;
    std::deque<std::function<void()>> waiting_;
    bool ending_ = false;
    std::vector<std::thread> threads_;
};

// Does worker(index) for 0..count-1 on `threads` threads, the calling one among them; make_worker() is called
// once on each, so that a worker may keep what it works with. Waits for all. False when `stop` said so;
// `stop` and `progress` (0 to 1) are called on the calling thread alone. The first exception that a worker
// throws ends the work and is thrown here.
template <typename MakeWorker>
bool spread_over_threads(std::size_t count, int threads, const MakeWorker& make_worker,
                         const std::function<bool()>& stop, const std::function<void(double)>& progress) {
    std::atomic<std::size_t> next{0};
    std::atomic<std::size_t> done{0};
    std::atomic<bool> stopped{false};
    std::mutex problem_mutex;
    std::exception_ptr problem;
    const auto take = [&](bool reports) {
        try {
            auto worker = make_worker();
            for (std::size_t i = next++; i < count && !stopped; i = next++) {
                worker(i);
                ++done;
                if (reports && stop && stop())
                    stopped = true;
                if (reports && progress)
                    progress(static_cast<double>(done) / static_cast<double>(count));
            }
        } catch (...) {
            const std::lock_guard lock(problem_mutex);
            if (!problem)
                problem = std::current_exception();
            stopped = true;
        }
    };
    std::vector<std::thread> helpers;
    for (int i = 1; i < threads && static_cast<std::size_t>(i) < count; ++i)
        helpers.emplace_back(take, false);
    take(true);
    for (std::thread& helper : helpers)
        helper.join();
    if (problem)
        std::rethrow_exception(problem);
    return !stopped;
}

}  // namespace eh
