// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/answer_wait.h"

#include <libpq-fe.h>
#include <sys/socket.h>

#include <QSqlDriver>
#include <QVariant>
#include <condition_variable>
#include <map>
#include <mutex>
#include <thread>

namespace eh {
namespace {

using Clock = std::chrono::steady_clock;

constexpr int no_socket = -1;                        // as libpq says it
constexpr std::chrono::milliseconds long_wait{300};  // a server that works answers sooner
constexpr const char* limit_property = "eh_longest_wait_ms";

// Qt gives the pointer in a type that it declares by name only: libpq's struct, of which PGconn is another
// name.
int socket_of(const QSqlDatabase& database) {
    const QVariant handle = database.driver()->handle();
    if (!handle.isValid() || qstrcmp(handle.typeName(), "pg_conn*") != 0)
        return no_socket;
    const PGconn* connection = *static_cast<PGconn* const*>(handle.constData());
    return connection == nullptr ? no_socket : PQsocket(connection);
}

// All waits of the process, and the thread that ends those whose time is up.
class Watch {
  public:
    static Watch& shared() {
        static Watch watch;
        return watch;
    }

    void begin(int socket, Clock::time_point until) {
        const std::lock_guard lock(mutex_);
        Entry& entry = waits_[socket];
        if (entry.depth++ == 0)
            entry.since = Clock::now();
        entry.until = until;
        changed_.notify_one();
    }
    // After the last one the socket's number may be given to another file.
    void end(int socket) {
        const std::lock_guard lock(mutex_);
        const auto entry = waits_.find(socket);
        if (--entry->second.depth == 0)
            waits_.erase(entry);
    }

    void giveUpLongOnes() {
        const std::lock_guard lock(mutex_);
        const auto now = Clock::now();
        for (auto& [socket, wait] : waits_) {
            if (now - wait.since >= long_wait)
                wait.until = now;
        }
        changed_.notify_one();
    }

    Watch(const Watch&) = delete;
    Watch& operator=(const Watch&) = delete;

  private:
    struct Entry {
        int depth = 0;
        bool ended = false;
        Clock::time_point since;
        Clock::time_point until;
    };

    Watch() : thread_([this] { watch(); }) {}
    ~Watch() {
        {
            const std::lock_guard lock(mutex_);
            ending_ = true;
            changed_.notify_one();
        }
        thread_.join();
    }

    void watch() {
        std::unique_lock lock(mutex_);
        while (!ending_) {
            const auto next = endOverdue(Clock::now());
            if (next == Clock::time_point::max())
                changed_.wait(lock);
            else
                changed_.wait_until(lock, next);
        }
    }

    // Shuts the sockets whose time is up; when the next one's will be.
    Clock::time_point endOverdue(Clock::time_point now) {
        Clock::time_point next = Clock::time_point::max();
        for (auto& [socket, wait] : waits_) {
            if (!wait.ended && wait.until <= now) {
                (void)::shutdown(socket, SHUT_RDWR);
                wait.ended = true;
            }
            if (!wait.ended)
                next = std::min(next, wait.until);
        }
        return next;
    }

    std::mutex mutex_;
    std::condition_variable changed_;
    std::map<int, Entry> waits_;  // by socket
    bool ending_ = false;
    std::thread thread_;  // last: it uses all of the above
};

}  // namespace

void limit_waits(const QSqlDatabase& database, std::chrono::milliseconds limit) {
    database.driver()->setProperty(limit_property, static_cast<int>(limit.count()));
}

void give_up_long_waits() {
    Watch::shared().giveUpLongOnes();
}

AnswerWait::AnswerWait(const QSqlDatabase& database) {
    const int limit_ms = database.driver()->property(limit_property).toInt();
    socket_ = limit_ms > 0 ? socket_of(database) : no_socket;
    if (socket_ != no_socket)
        Watch::shared().begin(socket_, Clock::now() + std::chrono::milliseconds(limit_ms));
}

AnswerWait::~AnswerWait() {
    if (socket_ != no_socket)
        Watch::shared().end(socket_);
}

}  // namespace eh
