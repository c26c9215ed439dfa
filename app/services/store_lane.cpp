// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/store_lane.h"

#include "store/server_store.h"

namespace eh {

StoreLane::StoreLane(Written written) : written_(std::move(written)), thread_([this] { live(); }) {}

StoreLane::~StoreLane() {
    {
        const std::lock_guard lock(mutex_);
        ending_ = true;
        orders_.clear();
    }
    changed_.notify_all();
    // A window that goes does not stay for a server that stands still: what that one would have got is kept
    // on this bench.
    constexpr std::chrono::milliseconds look_again{100};
    for (std::unique_lock lock(mutex_); !ended_; changed_.wait_for(lock, look_again)) {
        lock.unlock();
        give_up_waiting_for_servers();
        lock.lock();
    }
    thread_.join();
}

void StoreLane::put(Snapshot snapshot) {
    const std::lock_guard lock(mutex_);
    JobId id = snapshot.job.id;
    snapshots_.insert_or_assign(std::move(id), std::move(snapshot));
    changed_.notify_all();
}

void StoreLane::run(Work work, std::function<void()> told) {
    const std::lock_guard lock(mutex_);
    orders_.emplace_back(std::move(work), std::move(told));
    changed_.notify_all();
}

void StoreLane::hold(const JobId& id) {
    const std::lock_guard lock(mutex_);
    held_.insert(id);
}

void StoreLane::release(const JobId& id) {
    const std::lock_guard lock(mutex_);
    held_.erase(id);
    changed_.notify_all();
}

void StoreLane::live() {
    std::unique_lock lock(mutex_);
    for (;;) {
        if (const auto snapshot = nextSnapshot(ending_ || !orders_.empty())) {
            lock.unlock();
            write(*snapshot);
            lock.lock();
        } else if (!orders_.empty()) {
            auto [work, told] = std::move(orders_.front());
            orders_.pop_front();
            lock.unlock();
            work(store_);
            mailbox_.post(std::move(told));
            lock.lock();
        } else if (ending_) {
            break;
        } else {
            waitForMore(lock);
        }
    }
    lock.unlock();
    store_ = nullptr;  // on the thread that its connection belongs to
    lock.lock();
    ended_ = true;
    changed_.notify_all();
}

// One that is due, or any where `all` are wanted; taken out of the queue.
std::optional<StoreLane::Snapshot> StoreLane::nextSnapshot(bool all) {
    const auto now = Clock::now();
    for (auto entry = snapshots_.begin(); entry != snapshots_.end(); ++entry) {
        if (held_.count(entry->first) > 0 || (!all && entry->second.due > now))
            continue;
        Snapshot snapshot = std::move(entry->second);
        snapshots_.erase(entry);
        return snapshot;
    }
    return std::nullopt;
}

void StoreLane::waitForMore(std::unique_lock<std::mutex>& lock) {
    auto next = Clock::time_point::max();
    for (const auto& [id, snapshot] : snapshots_) {
        if (held_.count(id) == 0)
            next = std::min(next, snapshot.due);
    }
    if (next == Clock::time_point::max())
        changed_.wait(lock);
    else
        changed_.wait_until(lock, next);
}

void StoreLane::write(const Snapshot& snapshot) {
    Outcome outcome = Error{ErrorKind::unavailable, "no shop is open", {}};
    try {
        if (store_ != nullptr)
            outcome = store_->save(snapshot.job);
    } catch (const std::exception& problem) {
        outcome =
            Error{ErrorKind::unavailable, std::string("the job could not be saved: ") + problem.what(), {}};
    }
    mailbox_.post(
        [this, id = snapshot.job.id, number = snapshot.number, outcome] { written_(id, number, outcome); });
}

}  // namespace eh
