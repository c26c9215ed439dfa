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

void TaskLane::post(const std::shared_ptr<Task>& task, std::function<void()> news) {
    mailbox_.post([this, task, news = std::move(news)] {
        if (task == latest_)
            news();
    });
}

void TaskLane::deliver(const std::shared_ptr<Task>& task) {
    const std::function<void()> deliver = task->deliver;
    latest_ = nullptr;
    deliver();
}

}  // namespace eh
