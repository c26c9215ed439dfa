// SPDX-License-Identifier: GPL-3.0-or-later
// The store over an SQL database; FileStore and ServerStore say which. Internal to store/. Saving and loading
// stand in sql_store.cpp, readings in sql_readings.cpp, marks in sql_marks.cpp, what the shelf asks in
// sql_queries.cpp.
#pragma once

#include <QSqlDatabase>
#include <QSqlQuery>

#include "store/dialect.h"
#include "store/job_store.h"

namespace eh {

class SqlStore : public JobStore {
  public:
    // `database` is open and has the newest tables; the store closes it and removes its connection.
    SqlStore(const QSqlDatabase& database, const Dialect& dialect, std::string place);
    ~SqlStore() override;

    [[nodiscard]] const std::filesystem::path& file() const override { return file_; }
    [[nodiscard]] std::string place() const override { return place_; }

    Result<std::vector<JobSummary>> list() override;
    Result<std::vector<JobSummary>> shelf(std::optional<WaitsFor> waits, int most) override;
    Result<std::map<WaitsFor, int>> counts() override;
    Result<std::vector<JobSummary>> search(const std::string& words, int most) override;
    Result<std::vector<SimilarJob>> similar(const Job& job, int most) override;
    Result<std::vector<ConfirmedRepair>> repairs() override;
    Result<int> jobs_on(const std::string& topology) override;
    Result<Job> load(const std::string& id) override;
    Result<Job> peek(const std::string& id) override;
    Result<std::vector<Job>> heads(JobStage from) override;
    Outcome save(const Job& job) override;
    Outcome add_all(const std::vector<Job>& jobs) override;
    Outcome remove(const std::string& id) override;
    bool is_current(const std::string& id) override;
    StoreNews news() override;
    Outcome backup_to(const std::filesystem::path& file) override;

    // As save(), with the time of the last change given: for jobs that are taken over from elsewhere.
    Outcome save_as_of(const Job& job, std::int64_t updated_ms);

    // The revision of a job as this store saw it last; 0: never. What was seen elsewhere can be said with
    // set_seen_revision(): a job that was kept while the server was away is compared with what it was made
    // from.
    [[nodiscard]] std::int64_t seen_revision(const std::string& id) const;
    void set_seen_revision(const std::string& id, std::int64_t revision) { revisions_[id] = revision; }

    // The readings of a job as this store saw them last, by id.
    [[nodiscard]] std::vector<std::string> seen_readings(const std::string& job) const;
    // Readings that an earlier run took back while the server was away: the next save of the job takes them
    // back here.
    void set_taken_back(const std::string& job, const std::vector<std::string>& readings);

    // Whether the last save() met a change of another window.
    [[nodiscard]] bool last_save_conflicted() const { return conflicted_; }

    // Whole numbers under a name.
    Outcome set_mark(const std::string& name, std::int64_t value);
    Result<std::optional<std::int64_t>> mark(const std::string& name);
    Outcome remove_mark(const std::string& name);
    // What follows a prefix in the names of marks that begin with it.
    Result<std::vector<std::string>> marks_after(const std::string& prefix);

  protected:
    [[nodiscard]] QSqlDatabase& database() { return database_; }
    void set_file(std::filesystem::path file) { file_ = std::move(file); }
    // Opens the connection again after it was lost.
    bool reopen();
    // Writes a job that is not there, within a transaction that the caller has begun.
    Outcome write_new(const Job& job, std::int64_t updated_ms);

  private:
    struct Stored {
        qlonglong key = 0;  // 0: not there
        std::int64_t revision = 0;
    };
    Result<Stored> find(const std::string& id, bool to_write);
    // Runs a statement that brings no rows.
    Outcome run(const QString& statement, const QVariantList& values, const char* doing);
    // Gives each row to `take`, until that is refused. Fails where the rows end because the connection or the
    // disk did: what `take` was given is then a part of them.
    Outcome each_row(const QString& statement, const QVariantList& values, const char* doing,
                     const std::function<Outcome(const QSqlQuery& row)>& take);
    Result<std::vector<JobSummary>> summaries(const QString& rest, const QVariantList& values,
                                              const char* doing);
    Result<qlonglong> count(const QString& statement, const QVariantList& values, const char* doing);
    Outcome write_head(const Job& job, Stored& stored, std::int64_t updated_ms);
    Outcome write_words(const Job& job, qlonglong key);
    Outcome write_signature(const Job& job, qlonglong key);
    QSqlQuery reading_writer();
    Outcome write_reading(QSqlQuery& writer, const Reading& reading, std::size_t position, qlonglong key);
    Outcome take_back(const std::string& reading, qlonglong key);
    // Writes what differs from what was last seen here.
    Outcome write_readings(const Job& job, qlonglong key);
    // Adds this side's readings to a job that another window has changed; an id that both have given to
    // different readings is given anew.
    Outcome add_readings(const Job& job, qlonglong key);
    Outcome write_rows(const Job& job, std::int64_t updated_ms, bool& conflict);
    // What load() reads, and what it remembers of it.
    struct Read {
        Job job;
        std::int64_t revision = 0;
        std::map<std::string, std::string> readings;  // texts by id
    };
    Result<Read> read(const std::string& id);
    Result<Job> head_from(const QByteArray& packed, const std::string& id);
    Result<std::int64_t> change_count();

    QSqlDatabase database_;
    QString connection_;
    const Dialect& dialect_;
    std::string place_;
    std::filesystem::path file_;
    std::int64_t changes_seen_ = -1;
    bool conflicted_ = false;
    std::map<std::string, std::int64_t> revisions_;                      // by job, as last seen
    std::map<std::string, std::map<std::string, std::string>> written_;  // reading texts, by job and id
    // Of readings whose ids another window had given to others: the id in the store, by job and own id.
    std::map<std::string, std::map<std::string, std::string>> stored_as_;
};

}  // namespace eh
