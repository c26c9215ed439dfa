// SPDX-License-Identifier: GPL-3.0-or-later
// A window system without a monitor, for benchmarks that paint.
#pragma once

#include <QApplication>

#include "app/style/theme.h"

namespace eh::bench {

inline QApplication& application() {
    static int argc = 1;
    static char name[] = "eager-hound-bench";
    static char* argv[] = {name, nullptr};
    static const bool offscreen = qputenv("QT_QPA_PLATFORM", "offscreen");
    // Never taken down: what it has drawn with outlives the benchmarks.
    static QApplication& made = *new QApplication(argc, argv);
    static const bool styled = [] {
        theme::apply(made);
        return offscreen;
    }();
    (void)styled;
    return made;
}

}  // namespace eh::bench
