// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/self_measure.h"

#include <sys/resource.h>

#include <QApplication>
#include <QEvent>
#include <QFile>
#include <QTimer>
#include <cstdio>

namespace eh {
namespace {

double cpu_seconds() {
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    const auto seconds = [](const timeval& t) {
        return static_cast<double>(t.tv_sec) + 1e-6 * static_cast<double>(t.tv_usec);
    };
    return seconds(usage.ru_utime) + seconds(usage.ru_stime);
}

double resident_mb() {
    QFile file("/proc/self/statm");
    if (!file.open(QIODevice::ReadOnly))
        return 0.0;
    constexpr double page_mb = 4096.0 / 1048576.0;
    return file.readAll().split(' ').value(1).toDouble() * page_mb;
}

// Notes when the window has been painted for the first time.
class PaintWatcher : public QObject {
  public:
    PaintWatcher(QWidget& window, std::chrono::steady_clock::time_point started)
        : QObject(&window), started_(started) {
        window.installEventFilter(this);
    }
    double first_paint_ms = -1.0;

  protected:
    bool eventFilter(QObject*, QEvent* event) override {
        if (event->type() == QEvent::Paint && first_paint_ms < 0.0) {
            // After this event the picture stands.
            QTimer::singleShot(0, this, [this] {
                first_paint_ms =
                    std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - started_)
                        .count();
            });
        }
        return false;
    }

  private:
    std::chrono::steady_clock::time_point started_;
};

}  // namespace

void SelfMeasure::run(QWidget& window, double seconds) const {
    auto* watcher = new PaintWatcher(window, started_);
    const int half_ms = static_cast<int>(seconds * 500.0);
    QTimer::singleShot(half_ms, &window, [watcher, half_ms, &window] {
        const double before_s = cpu_seconds();
        QTimer::singleShot(half_ms, &window, [watcher, before_s, half_ms] {
            std::printf("{\"first_paint_ms\": %.1f, \"cpu_share\": %.4f, \"resident_mb\": %.1f}\n",
                        watcher->first_paint_ms, (cpu_seconds() - before_s) / (half_ms / 1000.0),
                        resident_mb());
            std::fflush(stdout);
            QApplication::quit();
        });
    });
}

}  // namespace eh
