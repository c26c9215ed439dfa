// SPDX-License-Identifier: GPL-3.0-or-later
// The shop on a PostgreSQL server that several benches share.
//
// While the server does not answer, what is saved is kept in a file of this bench and sent when it does
// again; nothing that a technician has captured waits for a network.
#pragma once

#include <chrono>
#include <filesystem>
#include <memory>

#include "store/file_store.h"

namespace eh {

struct ServerAddress {
    std::string host = "localhost";
    int port = 5432;
    std::string database = "shop";
    std::string user;  // empty: the name of who runs the program
    [[nodiscard]] std::string text() const;
    friend bool operator==(const ServerAddress&, const ServerAddress&) = default;
};

// Whatever a store of this process has waited for a server for longer than a moment ends now, as if the
// server had gone: what was to be saved is kept on this bench. For a program that is about to end; from any
// thread.
void give_up_waiting_for_servers();

// Reads "user@host:port/database"; user and port may be left out. The password is not ours to keep: libpq
// finds it in its own password file (PostgreSQL's documentation, "The Password File").
Result<ServerAddress> parse_server_address(const std::string& text);

class ServerStore : public SqlStore {
  public:
    // Connects, makes the tables where there are none, and sends what an earlier run could not. Refuses
    // tables of a newer program. `unsent` is this bench's file for what cannot be sent.
    // A server that does not answer is refused, or with `may_be_away` looked for again later.
    static Result<std::unique_ptr<ServerStore>> open_server(const ServerAddress& address,
                                                            const std::filesystem::path& unsent,
                                                            bool may_be_away = false);

    // While the server is away: of the jobs that are kept here.
    Result<std::vector<JobSummary>> list() override;
    Result<std::vector<JobSummary>> shelf(std::optional<WaitsFor> waits, int most) override;
    Result<std::map<WaitsFor, int>> counts() override;
    Result<std::vector<JobSummary>> search(const std::string& words, int most) override;
    Result<Job> load(const std::string& id) override;
    Result<Job> peek(const std::string& id) override;
    // Done also when the job could only be kept here: news() says so.
    Outcome save(const Job& job) override;
    // Refused while the server is away.
    Outcome add_all(const std::vector<Job>& jobs) override;
    Outcome remove(const std::string& id) override;
    [[nodiscard]] Opener another() const override;
    // Looks for the server again, at most every retry_after; sends what is kept here once it answers.
    StoreNews news() override;

    // How long a server that has stopped answering may hold up one statement; it then counts as away.
    void set_longest_wait(std::chrono::milliseconds time);
    // How long a server that does not answer is left alone.
    void set_retry_after(std::chrono::milliseconds time) { retry_after_ = time; }

  private:
    // Asks the server; where it has gone, asks what is kept here.
    template <typename Ask>
    auto ask(const Ask& asked) -> decltype(asked(std::declval<SqlStore&>()));

    ServerStore(const QSqlDatabase& database, const ServerAddress& address,
                std::unique_ptr<FileStore> unsent);
    Outcome make_tables_once();
    bool answers();
    [[nodiscard]] Error away(const std::string& what) const;
    Outcome keep(const Job& job);
    Outcome note_taken_back(const Job& job);
    // False when the server went away again.
    bool send_kept(std::vector<std::string>& conflicts);

    ServerAddress address_;
    std::unique_ptr<FileStore> unsent_;
    std::vector<std::string> late_conflicts_;  // of what was sent when it was opened, until news() is asked
    bool away_ = false;
    std::chrono::steady_clock::time_point tried_;
    std::chrono::milliseconds retry_after_{5000};
};

}  // namespace eh
