// SPDX-License-Identifier: GPL-3.0-or-later
// Something that is worked out beside the window: begun anew it stops what it was at, tells how far it is,
// and hands its result over on the window's thread, and only the result of what was asked last.
#pragma once

#include <exception>
#include <memory>
#include <optional>

#include "app/services/task_lane.h"

namespace eh {

// T may be one that can only be moved. All of it is called from the window's thread, but for the work.
template <typename T>
class LatestTask {
  public:
    using Work = std::function<T(const TaskControl&)>;

    // The work gets what it needs by value: what it is about may change meanwhile. What it throws is thrown
    // on the window's thread, where the application's last handler says it. `done` may begin the next.
    void start(Work work, std::function<void(T)> done, const std::function<void(double)>& progressed = {}) {
        struct Box {
            std::optional<T> result;
            std::exception_ptr problem;
        };
        auto box = std::make_shared<Box>();
        lane_.start(
            [work = std::move(work), box](const TaskControl& control) {
                try {
                    box->result.emplace(work(control));
                } catch (...) {
                    box->problem = std::current_exception();
                }
            },
            [box, done = std::move(done)] {
                if (box->problem)
                    std::rethrow_exception(box->problem);
                done(std::move(*box->result));
            },
            progressed);
    }
    // See TaskLane.
    void stop() { lane_.stop(); }
    void forget() { lane_.forget(); }
    void finish() { lane_.finish(); }
    [[nodiscard]] bool running() const { return lane_.running(); }

  private:
    TaskLane lane_;
};

}  // namespace eh
