// SPDX-License-Identifier: GPL-3.0-or-later
// Measures the running program for eager-hound-bench: time to the first paint, load, memory.
#pragma once

#include <QObject>
#include <QWidget>
#include <chrono>

namespace eh {

class SelfMeasure {
  public:
    // Starts the clock: the first thing main() does.
    SelfMeasure() : started_(std::chrono::steady_clock::now()) {}

    // Watches the window from now on; after `seconds` prints one line of JSON on standard output
    // ({"first_paint_ms", "cpu_share", "resident_mb"}; the load is that of the second half) and quits.
    void run(QWidget& window, double seconds) const;

  private:
    std::chrono::steady_clock::time_point started_;
};

}  // namespace eh
