// SPDX-License-Identifier: GPL-3.0-or-later
// For pictures: the window as it is once its shop has answered.
#pragma once

#include <QTest>

#include "app/find_page.h"

inline void wait_for_shop(eh::MainWindow& window) {
    constexpr int patience_ms = 20000;
    (void)QTest::qWaitFor([&] { return window.workbench().repository.idle(); }, patience_ms);
}

inline void open_job(eh::MainWindow& window, const std::string& id) {
    window.openJob(id);
    wait_for_shop(window);
}
