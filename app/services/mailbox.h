// SPDX-License-Identifier: GPL-3.0-or-later
// What other threads have to tell the window: handed over on the window's thread, in the order in which it
// came.
#pragma once

#include <QObject>
#include <deque>
#include <functional>
#include <mutex>

namespace eh {

class Mailbox : public QObject {
    Q_OBJECT
  public:
    // From any thread. Done on the thread that made the mailbox; not at all once it is gone.
    void post(std::function<void()> news);

  private slots:
    void drain();

  private:
    std::mutex mutex_;
    std::deque<std::function<void()>> news_;
};

}  // namespace eh
