// SPDX-License-Identifier: GPL-3.0-or-later
// The thread that the shop's store lives on. Jobs to be written are given as snapshots, of which only the
// latest of each job counts; everything else as work in a queue, before which all snapshots are written, so
// that it sees what was entered before it was asked. JobRepository is what the window talks to.
#pragma once

#include <chrono>
#include <condition_variable>
#include <deque>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <set>
#include <thread>

#include "app/services/mailbox.h"
#include "store/job_store.h"

namespace eh {

class StoreLane {
  public:
    using Clock = std::chrono::steady_clock;
    struct Snapshot {
        Job job;
        std::uint64_t number = 0;  // of the one who puts it, to know which one was written
        Clock::time_point due;     // written then, or earlier where work is waiting
    };
    // Told on the window's thread what became of a snapshot that no later one has replaced.
    using Written = std::function<void(const JobId& id, std::uint64_t number, const Outcome& outcome)>;
    // May put another store in the place of the one; null: none.
    using Work = std::function<void(std::unique_ptr<JobStore>& store)>;

    explicit StoreLane(Written written);
    // Writes what was put and is not held; work that has not begun never does. Nothing is told any more.
    ~StoreLane();
    StoreLane(const StoreLane&) = delete;
    StoreLane& operator=(const StoreLane&) = delete;

    void put(Snapshot snapshot);
    // Does the work on the store's thread, then `told` on the window's. Work does not throw.
    void run(Work work, std::function<void()> told);

    // Until it is released, what is put of this job waits. May be called from work.
    void hold(const JobId& id);
    void release(const JobId& id);

  private:
    void live();
    std::optional<Snapshot> nextSnapshot(bool all);
    void waitForMore(std::unique_lock<std::mutex>& lock);
    void write(const Snapshot& snapshot);

    Written written_;
    Mailbox mailbox_;
    std::unique_ptr<JobStore> store_;  // of the thread alone
    std::mutex mutex_;
    std::condition_variable changed_;
    bool ending_ = false;
    bool ended_ = false;
    std::map<JobId, Snapshot> snapshots_;
    std::set<JobId> held_;
    std::deque<std::pair<Work, std::function<void()>>> orders_;
    std::thread thread_;  // last: it uses all of the above
};

}  // namespace eh
