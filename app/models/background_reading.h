// SPDX-License-Identifier: GPL-3.0-or-later
// A file that is read beside the window: it tells how far it is, can be stopped, and hands its result over on
// the window's thread.
#pragma once

#include <QFutureWatcher>
#include <QMetaObject>
#include <QObject>
#include <QtConcurrent>
#include <atomic>
#include <functional>
#include <memory>
#include <optional>

#include "core/base/result.h"

namespace eh {

// T may be one that can only be moved.
template <typename T>
class BackgroundReading {
  public:
    // What the reading asks now and then, from its own thread: false stops it.
    using Progress = std::function<bool(double share)>;
    using Read = std::function<Result<T>(const Progress&)>;
    using Done = std::function<void(Result<T>)>;
    using Progressed = std::function<void(double share)>;

    ~BackgroundReading() {
        watcher_.disconnect();
        stop();
        watcher_.waitForFinished();
    }

    // Begins; what is being read before is stopped and forgotten. `progressed` and `done` are called on the
    // thread of this object.
    void start(Read read, Progressed progressed, Done done) {
        watcher_.disconnect();
        stop();
        watcher_.waitForFinished();
        auto stopped = std::make_shared<std::atomic<bool>>(false);
        stopped_ = stopped;
        QObject::connect(&watcher_, &QFutureWatcherBase::finished, &watcher_, [this, done = std::move(done)] {
            std::shared_ptr<std::optional<Result<T>>> result = watcher_.result();
            done(std::move(**result));
        });
        const Progress progress = [this, stopped, progressed = std::move(progressed)](double share) {
            QMetaObject::invokeMethod(
                &watcher_, [progressed, share] { progressed(share); }, Qt::QueuedConnection);
            return !stopped->load();
        };
        watcher_.setFuture(QtConcurrent::run([read = std::move(read), progress] {
            return std::make_shared<std::optional<Result<T>>>(read(progress));
        }));
    }

    void stop() {
        if (stopped_ != nullptr)
            *stopped_ = true;
    }
    [[nodiscard]] bool running() const { return watcher_.isRunning(); }

  private:
    QFutureWatcher<std::shared_ptr<std::optional<Result<T>>>> watcher_;
    std::shared_ptr<std::atomic<bool>> stopped_;
};

}  // namespace eh
