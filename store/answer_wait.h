// SPDX-License-Identifier: GPL-3.0-or-later
// Ends a wait for a server that has stopped answering while its connection still stands. Internal to store/.
//
// A server that hangs (stopped, swapping, its disk gone) keeps its sockets open and its network acknowledges
// for it. Neither the time limit of a statement, which the server itself would have to keep, nor that of the
// network ends such a wait, and Qt's driver has no limit of its own. Here a thread shuts the socket once the
// time is up, and libpq reports a lost connection, as it does for a server that went away.
#pragma once

#include <QSqlDatabase>
#include <chrono>

namespace eh {

// From now on a wait for an answer on this connection ends after `limit`. It should be longer than the
// server's own limit for a statement, which gives the better reason.
void limit_waits(const QSqlDatabase& database, std::chrono::milliseconds limit);

// Ends at once what has been waited for on any connection of this process for a good moment: for a program
// that is about to end. From any thread.
void give_up_long_waits();

// While it lives, the connection is watched. One within another's life gives the outer one its full time
// again: an operation of many statements may take longer than any of them. Does nothing for a connection
// without a limit, as that to a file.
class AnswerWait {
  public:
    explicit AnswerWait(const QSqlDatabase& database);
    ~AnswerWait();
    AnswerWait(const AnswerWait&) = delete;
    AnswerWait& operator=(const AnswerWait&) = delete;

  private:
    int socket_ = -1;  // -1: not watched
};

}  // namespace eh
