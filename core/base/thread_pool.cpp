// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/thread_pool.h"

namespace eh {

int machine_threads() {
    const unsigned threads = std::thread::hardware_concurrency();  // 0 where it is not known
    return threads == 0 ? 1 : static_cast<int>(threads);
}

ThreadPool& ThreadPool::shared() {
    constexpr int waiting_for_others = 2;
    static ThreadPool pool(machine_threads() + waiting_for_others);
    return pool;
}

ThreadPool::ThreadPool(int threads) {
    for (int i = 0; i < threads; ++i)
        threads_.emplace_back([this] { work(); });
}

ThreadPool::~ThreadPool() {
    {
        const std::lock_guard lock(mutex_);
        ending_ = true;
        waiting_.clear();
    }
    changed_.notify_all();
    for (std::thread& thread : threads_)
        thread.join();
}

void ThreadPool::run(std::function<void()> task) {
    {
        const std::lock_guard lock(mutex_);
        waiting_.push_back(std::move(task));
    }
    changed_.notify_one();
}

void ThreadPool::work() {
    std::unique_lock lock(mutex_);
    for (;;) {
        changed_.wait(lock, [this] { return ending_ || !waiting_.empty(); });
        if (ending_)
            return;
        const std::function<void()> task = std::move(waiting_.front());
        waiting_.pop_front();
        lock.unlock();
        task();
        lock.lock();
    }
}

}  // namespace eh
