// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/server_store.h"

#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>

#include "core/base/text.h"
#include "store/answer_wait.h"
#include "store/schema.h"

namespace eh {
namespace {

// Where two benches open an empty server at once, the second waits here until the tables are there.
constexpr const char* one_at_a_time = "SELECT pg_advisory_xact_lock(7223119)";
// Made for a new job: no revision of the server is this one.
constexpr std::int64_t never_sent = -1;
// The server ends a statement after this time.
constexpr std::chrono::seconds answers_within{15};

// Begins the marks of readings of a job that were taken back while the server was away. No job's own mark
// begins so: an id has no space.
std::string taken_back_of(const std::string& job) {
    return "taken back " + job + " ";
}

// A connection of its own, open where the server answers.
QSqlDatabase connect(const ServerAddress& address) {
    QSqlDatabase database = QSqlDatabase::addDatabase("QPSQL", QUuid::createUuid().toString());
    database.setHostName(QString::fromStdString(address.host));
    database.setPort(address.port);
    database.setDatabaseName(QString::fromStdString(address.database));
    database.setUserName(QString::fromStdString(address.user));
    // A bench does not stand still for a network that swallows packets, a query that hangs or a lock that
    // another bench holds.
    database.setConnectOptions(QString("connect_timeout=2;tcp_user_timeout=4000;application_name=eager-hound;"
                                       "options='-c statement_timeout=%1 -c lock_timeout=2000 "
                                       "-c idle_in_transaction_session_timeout=10000'")
                                   .arg(std::chrono::milliseconds(answers_within).count()));
    limit_waits(database, answers_within + std::chrono::seconds(2));
    database.open();
    return database;
}

// Looks at the server from another thread. What is kept on this bench is the ServerStore's alone to send.
class ServerView : public SqlStore {
  public:
    explicit ServerView(const ServerAddress& address)
        : SqlStore(connect(address), postgres_dialect(), address.text()), address_(address) {}
    [[nodiscard]] Opener another() const override {
        return [address = address_] {
            return Result<std::unique_ptr<JobStore>>(std::make_unique<ServerView>(address));
        };
    }

  private:
    ServerAddress address_;
};

}  // namespace

std::string ServerAddress::text() const {
    return (user.empty() ? std::string() : user + "@") + host + ":" + integer_text(port) + "/" + database;
}

void give_up_waiting_for_servers() {
    give_up_long_waits();
}

Result<ServerAddress> parse_server_address(const std::string& text) {
    const auto wrong = [&] {
        return refused("“" + text + "” is no address of a server; write it as user@host:port/database",
                       "server");
    };
    ServerAddress address;
    std::string rest = text;
    if (const auto at = rest.find('@'); at != std::string::npos) {
        address.user = rest.substr(0, at);
        rest.erase(0, at + 1);
    }
    const auto slash = rest.find('/');
    if (slash == std::string::npos || slash + 1 == rest.size())
        return wrong();
    address.database = rest.substr(slash + 1);
    rest.erase(slash);
    if (const auto colon = rest.rfind(':'); colon != std::string::npos) {
        const std::string port = rest.substr(colon + 1);
        constexpr std::size_t longest_port = 5;
        constexpr int last_port = 65535;
        const bool digits = !port.empty() && port.size() <= longest_port &&
                            port.find_first_not_of("0123456789") == std::string::npos;
        address.port = digits ? std::stoi(port) : 0;
        if (address.port < 1 || address.port > last_port)
            return wrong();
        rest.erase(colon);
    }
    if (rest.empty() || address.database.find_first_of("/ ;'") != std::string::npos ||
        rest.find_first_of(" ;'") != std::string::npos)
        return wrong();
    address.host = rest;
    return address;
}

ServerStore::ServerStore(const QSqlDatabase& database, const ServerAddress& address,
                         std::unique_ptr<FileStore> unsent)
    : SqlStore(database, postgres_dialect(), address.text()), address_(address), unsent_(std::move(unsent)) {
    set_file(unsent_->file());
}

Result<std::unique_ptr<ServerStore>> ServerStore::open_server(const ServerAddress& address,
                                                              const std::filesystem::path& unsent,
                                                              bool may_be_away) {
    auto kept = FileStore::open_file(unsent);
    if (!kept)
        return kept.error();
    if (!QSqlDatabase::isDriverAvailable("QPSQL"))
        return Error{ErrorKind::unavailable,
                     "Qt's driver for PostgreSQL is not installed (Debian package libqt6sql6-psql)",
                     address.text()};
    QSqlDatabase database = connect(address);
    const bool opened = database.isOpen();
    const std::string why = database.lastError().databaseText().trimmed().toStdString();
    std::unique_ptr<ServerStore> store(new ServerStore(database, address, std::move(kept).value()));
    database = {};
    store->away_ = !opened;
    if (!opened && may_be_away)
        return store;
    if (!opened)
        return Error{ErrorKind::unavailable,
                     "the shop's server does not answer or lets nobody in; check the address, the network "
                     "and the password file (" +
                         why + ")",
                     address.text()};
    if (auto made = store->make_tables_once(); !made)
        return made.error();
    (void)store->send_kept(store->late_conflicts_);
    return store;
}

Outcome ServerStore::make_tables_once() {
    if (auto begun = run_sql(database(), "BEGIN", "Preparing the server"); !begun)
        return begun;
    const auto prepare = [&]() -> Outcome {
        if (auto alone = run_sql(database(), one_at_a_time, "Preparing the server"); !alone)
            return alone;
        const auto version = postgres_dialect().version(database());
        if (!version)
            return version.error();
        if (*version > newest_schema_version)
            return Error{ErrorKind::newer_version,
                         "the shop on this server was written by a newer program (its version is " +
                             integer_text(*version) + ", this program knows up to " +
                             integer_text(newest_schema_version) + "); update this program",
                         place()};
        return *version == 0 ? make_tables(database(), postgres_dialect()) : Outcome(Done{});
    };
    Outcome done = prepare();
    if (done)
        done = run_sql(database(), "COMMIT", "Preparing the server");
    if (!done)
        (void)run_sql(database(), "ROLLBACK", "Preparing the server");
    return done;
}

template <typename Ask>
auto ServerStore::ask(const Ask& asked) -> decltype(asked(std::declval<SqlStore&>())) {
    if (!away_) {
        auto answer = asked(*this);
        if (answer || answers())
            return answer;
        away_ = true;
    }
    return asked(*unsent_);
}

Result<std::vector<JobSummary>> ServerStore::list() {
    return ask([](SqlStore& store) { return store.SqlStore::list(); });
}

Result<std::vector<JobSummary>> ServerStore::shelf(std::optional<WaitsFor> waits, int most) {
    return ask([&](SqlStore& store) { return store.SqlStore::shelf(waits, most); });
}

Result<std::map<WaitsFor, int>> ServerStore::counts() {
    return ask([](SqlStore& store) { return store.SqlStore::counts(); });
}

Result<std::vector<JobSummary>> ServerStore::search(const std::string& words, int most) {
    return ask([&](SqlStore& store) { return store.SqlStore::search(words, most); });
}

bool ServerStore::answers() {
    const AnswerWait wait(database());
    return QSqlQuery(database()).exec("SELECT 1");
}

Result<Job> ServerStore::load(const std::string& id) {
    if (!away_) {
        auto job = SqlStore::load(id);
        if (job || job.error().kind == ErrorKind::not_found || answers())
            return job;
        away_ = true;
    }
    auto kept = unsent_->load(id);
    if (!kept)
        return Error{ErrorKind::unavailable,
                     "the shop's server does not answer, and this job is not kept on this bench", place()};
    return kept;
}

Result<Job> ServerStore::peek(const std::string& id) {
    return ask([&](SqlStore& store) { return store.SqlStore::peek(id); });
}

Outcome ServerStore::keep(const Job& job) {
    const auto marked = unsent_->mark(job.id);
    if (!marked)
        return marked.error();
    // The mark first: a job without one would never be sent, a mark without a job harms nobody.
    if (!*marked) {
        const std::int64_t seen = seen_revision(job.id);
        if (auto made = unsent_->set_mark(job.id, seen == 0 ? never_sent : seen); !made)
            return made;
    }
    if (auto noted = note_taken_back(job); !noted)
        return noted;
    return unsent_->save(job);
}

// A reading that was there and is not in the job any more was taken back; one that is again, was not.
Outcome ServerStore::note_taken_back(const Job& job) {
    std::vector<std::string> before = seen_readings(job.id);
    const auto kept = unsent_->seen_readings(job.id);
    before.insert(before.end(), kept.begin(), kept.end());
    const std::string prefix = taken_back_of(job.id);
    for (const std::string& id : before) {
        Outcome noted = find_reading(job, id) == nullptr ? unsent_->set_mark(prefix + id, 1)
                                                         : unsent_->remove_mark(prefix + id);
        if (!noted)
            return noted;
    }
    return Done{};
}

Outcome ServerStore::save(const Job& job) {
    if (!away_) {
        Outcome saved = SqlStore::save(job);
        if (saved || answers())
            return saved;
        away_ = true;
        tried_ = std::chrono::steady_clock::now();
    }
    return keep(job);
}

Error ServerStore::away(const std::string& what) const {
    return {ErrorKind::unavailable, "the shop's server does not answer; " + what + " when it does again",
            place()};
}

Outcome ServerStore::add_all(const std::vector<Job>& jobs) {
    if (away_)
        return away("jobs can be taken over");
    return SqlStore::add_all(jobs);
}

Outcome ServerStore::remove(const std::string& id) {
    if (away_)
        return away("a job can be removed");
    return SqlStore::remove(id);
}

bool ServerStore::send_kept(std::vector<std::string>& conflicts) {
    const auto kept = unsent_->list();
    if (!kept)
        return true;
    for (const JobSummary& summary : *kept) {
        const auto job = unsent_->load(summary.id);
        const auto made_from = unsent_->mark(summary.id);
        if (!job || !made_from || !*made_from)
            continue;
        set_seen_revision(summary.id, **made_from);
        const auto gone = unsent_->marks_after(taken_back_of(summary.id));
        if (!gone)
            continue;
        set_taken_back(summary.id, *gone);
        if (auto sent = SqlStore::save(*job); !sent) {
            if (!last_save_conflicted())
                return answers();
            conflicts.push_back(summary.id);
        }
        (void)unsent_->remove(summary.id);
        (void)unsent_->remove_mark(summary.id);
        for (const std::string& id : *gone)
            (void)unsent_->remove_mark(taken_back_of(summary.id) + id);
    }
    return true;
}

JobStore::Opener ServerStore::another() const {
    if (away_)
        return unsent_->another();
    return [address = address_] {
        return Result<std::unique_ptr<JobStore>>(std::make_unique<ServerView>(address));
    };
}

void ServerStore::set_longest_wait(std::chrono::milliseconds time) {
    limit_waits(database(), time);
}

StoreNews ServerStore::news() {
    StoreNews news;
    if (!away_) {
        news = SqlStore::news();
        away_ = !answers();
        if (away_)
            tried_ = std::chrono::steady_clock::now();
    } else if (std::chrono::steady_clock::now() - tried_ >= retry_after_) {
        if (reopen() && make_tables_once() && send_kept(news.conflicts)) {
            away_ = false;
            (void)SqlStore::news();
            news.changed = true;
        }
        tried_ = std::chrono::steady_clock::now();
    }
    news.conflicts.insert(news.conflicts.end(), late_conflicts_.begin(), late_conflicts_.end());
    late_conflicts_.clear();
    news.away = away_;
    const auto kept = unsent_->list();
    news.unsent = kept ? static_cast<int>(kept->size()) : 0;
    return news;
}

}  // namespace eh
