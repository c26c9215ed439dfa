// SPDX-License-Identifier: GPL-3.0-or-later
// A lane of work beside the window: one task at a time, the latest is the one that counts. LatestTask puts a
// result on it.
#pragma once

#include <atomic>
#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>

#include "app/services/mailbox.h"

namespace eh {

class TaskLane;

// What a task is given: whether it is still wanted, and a way to tell the window something meanwhile.
class TaskControl {
  public:
    [[nodiscard]] bool stopped() const { return task_->stopped; }
    // Tells how far the task is, 0 to 1; false once it shall end.
    [[nodiscard]] bool goes_on(double share) const;
    // Done on the window's thread, as long as the task is the latest by then.
    void post(std::function<void()> news) const;

  private:
    friend class TaskLane;
    struct Task {
        std::atomic<bool> stopped{false};
        std::function<void(const TaskControl&)> work;
        std::function<void()> deliver;           // on the window's thread, once the work has ended
        std::function<void(double)> progressed;  // likewise, meanwhile
    };
    TaskControl(TaskLane& lane, std::shared_ptr<Task> task) : lane_(&lane), task_(std::move(task)) {}

    TaskLane* lane_;
    std::shared_ptr<Task> task_;
};

class TaskLane {
  public:
    TaskLane() = default;
    // Nothing is delivered any more; waits for what is being done.
    ~TaskLane();
    TaskLane(const TaskLane&) = delete;
    TaskLane& operator=(const TaskLane&) = delete;

    // Begins as soon as what is being done has ended, which is asked to. What waited to begin never does.
    void start(std::function<void(const TaskControl&)> work, std::function<void()> deliver,
               std::function<void(double)> progressed);
    // Asks the latest to end; it is delivered all the same.
    void stop();
    // Asks the latest to end; it is not delivered.
    void forget();
    // Waits for the latest and delivers it now. For the rare case that what it works on is about to go.
    void finish();
    // Whether something is still to be delivered.
    [[nodiscard]] bool running() const { return latest_ != nullptr; }

  private:
    friend class TaskControl;
    using Task = TaskControl::Task;
    void work();
    void post(const std::shared_ptr<Task>& task, std::function<void()> news);
    void deliver(const std::shared_ptr<Task>& task);
    void waitUntilIdle();

    std::shared_ptr<Task> latest_;  // of the window's thread
    std::mutex mutex_;
    std::condition_variable idle_;
    bool busy_ = false;
    std::shared_ptr<Task> next_;
    Mailbox mailbox_;
};

}  // namespace eh
