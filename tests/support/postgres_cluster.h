// SPDX-License-Identifier: GPL-3.0-or-later
// A throw-away PostgreSQL cluster of a test program: made at the first use, gone at the end. With
// EH_POSTGRES_CLUSTER (its folder) and EH_POSTGRES_PORT one that stands already is used and left: the thread
// sanitizer loses track of a process that begins others.
#pragma once

#include <QTemporaryDir>

#include "store/server_store.h"

namespace eh::test {

class PostgresCluster {
  public:
    // The one of this process; FAILs where it cannot be started.
    static PostgresCluster& shared();

    // A database of that name with nothing in it, fresh each time.
    ServerAddress fresh_database(const std::string& name);
    // Ends it as a power cut would; start() brings it back with what was committed.
    void kill();
    void start();
    // Stops all its processes where they are; its connections stay open. thaw() lets them go on.
    void freeze();
    void thaw();

    PostgresCluster();
    ~PostgresCluster();
    PostgresCluster(const PostgresCluster&) = delete;
    PostgresCluster& operator=(const PostgresCluster&) = delete;

  private:
    void signal_all(int signal);

    QTemporaryDir folder_;
    QString cluster_;
    int port_ = 0;
    bool standing_ = false;  // before this program
    bool running_ = false;
};

}  // namespace eh::test
