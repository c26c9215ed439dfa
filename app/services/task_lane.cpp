// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/task_lane.h"

#include "core/base/thread_pool.h"

namespace eh {

bool TaskControl::goes_on(double share) const {
    if (task_->progressed)
        lane_->post(task_, [task = task_, share] { task->progressed(share); });
    return !stopped();
}

void TaskControl::post(std::function<void()> news) const {
    lane_->post(task_, std::move(news));
}

TaskLane::~TaskLane() {
    forget();
    {
        const std::lock_guard lock(mutex_);
        next_ = nullptr;
    }
    waitUntilIdle();
}

void TaskLane::start(std::function<void(const TaskControl&)> work, std::function<void()> deliver,
                     std::function<void(double)> progressed) {
    forget();
    latest_ = std::make_shared<Task>();
    latest_->work = std::move(work);
    latest_->deliver = std::move(deliver);
    latest_->progressed = std::move(progressed);
    const std::lock_guard lock(mutex_);
    next_ = latest_;
    if (busy_)
        return;
    busy_ = true;
    ThreadPool::shared().run([this] { this->work(); });
}

void TaskLane::stop() {
    if (latest_ != nullptr)
        latest_->stopped = true;
}

void TaskLane::forget() {
    stop();
    latest_ = nullptr;
}

void TaskLane::finish() {
    waitUntilIdle();
    if (latest_ != nullptr)
        deliver(latest_);
}

void TaskLane::waitUntilIdle() {
    std::unique_lock lock(mutex_);
    idle_.wait(lock, [this] { return !busy_; });
}

// On a thread of the pool, as long as there is something to do.
void TaskLane::work() {
    std::unique_lock lock(mutex_);
    while (next_ != nullptr) {
        const std::shared_ptr<Task> task = std::move(next_);
        next_ = nullptr;
        lock.unlock();
        task->work(TaskControl(*this, task));
        post(task, [this, task] { deliver(task); });
        lock.lock();
    }
    busy_ = false;
    idle_.notify_all();  // under the lock: the lane may be gone as soon as it is let go
}

// What is told goes through a list of ours; Qt only wakes the window's thread. So the thread sanitizer, which
// does not see into Qt's library, sees the hand-over.
void TaskLane::post(const std::shared_ptr<Task>& task, std::function<void()> news) {
    {
        const std::lock_guard lock(mutex_);
        news_.emplace_back(task, std::move(news));
    }
    QMetaObject::invokeMethod(this, "drain", Qt::QueuedConnection);
}

// One at a time, so that what one of them throws leaves the others to the next call: there is one for each.
void TaskLane::drain() {
    for (;;) {
        std::pair<std::shared_ptr<Task>, std::function<void()>> told;
        {
            const std::lock_guard lock(mutex_);
            if (news_.empty())
                return;
            told = std::move(news_.front());
            news_.pop_front();
        }
        if (told.first == latest_)
            told.second();
    }
}

void TaskLane::deliver(const std::shared_ptr<Task>& task) {
    const std::function<void()> deliver = task->deliver;
    latest_ = nullptr;
    deliver();
}

}  // namespace eh
