// SPDX-License-Identifier: GPL-3.0-or-later
// Waiting for what the event loop brings.
#pragma once

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QThread>

namespace eh::test {

// Lets the event loop run until something holds; false when it never does.
template <typename Condition>
bool eventually(Condition condition, int patience_ms = 20000) {
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < patience_ms) {
        if (condition())
            return true;
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
        QThread::msleep(2);
    }
    return condition();
}

}  // namespace eh::test
