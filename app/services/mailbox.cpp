// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/mailbox.h"

namespace eh {

// What is told goes through a list of ours; Qt only wakes the window's thread. So the thread sanitizer, which
// does not see into Qt's library, sees the hand-over.
void Mailbox::post(std::function<void()> news) {
    {
        const std::lock_guard lock(mutex_);
        news_.push_back(std::move(news));
    }
    QMetaObject::invokeMethod(this, "drain", Qt::QueuedConnection);
}

// What one of them throws leaves the others to the next call: there is one for each.
void Mailbox::drain() {
    for (;;) {
        std::function<void()> news;
        {
            const std::lock_guard lock(mutex_);
            if (news_.empty())
                return;
            news = std::move(news_.front());
            news_.pop_front();
        }
        news();
    }
}

}  // namespace eh
