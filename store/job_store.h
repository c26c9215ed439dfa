// The shop's jobs on disk: one SQLite file, write-ahead log, everything in transactions.
//
// What save() has returned Done for survives the end of the process at any moment. One store belongs to one
// thread.
#pragma once

#include <QSqlDatabase>
#include <filesystem>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/job/job.h"

namespace eh {

// A line of the shelf.
struct JobSummary {
    std::string id;
    std::string number;
    std::string customer;
    std::string machine;
    JobStage stage = JobStage::intake;
    std::int64_t created_ms = 0;
    std::int64_t updated_ms = 0;
};

class JobStore {
  public:
    // Opens or makes the file. A database of an older program is backed up beside it, then brought forward. A
    // damaged file, or one of a newer program (ErrorKind::newer_version), is refused and not touched. Once a
    // day a copy is laid beside the file.
    static Result<std::unique_ptr<JobStore>> open(const std::filesystem::path& file);
    ~JobStore();
    JobStore(const JobStore&) = delete;
    JobStore& operator=(const JobStore&) = delete;

    [[nodiscard]] const std::filesystem::path& file() const { return file_; }

    // Most recently changed first.
    Result<std::vector<JobSummary>> list();
    Result<Job> load(const std::string& id);
    // Writes what differs from what was last written or loaded here. When another window has changed the job
    // since, its readings are kept, this side's are added, and the error says so (ErrorKind::unavailable);
    // load() again.
    Outcome save(const Job& job);
    Outcome remove(const std::string& id);

    // A complete copy of the database as it stands now. An existing file of that name is replaced.
    Outcome backup_to(const std::filesystem::path& file);

  private:
    JobStore(std::filesystem::path file, const QSqlDatabase& database, QString connection);
    Outcome write_job(const Job& job);
    Outcome write_readings(const Job& job, bool remove_missing);

    std::filesystem::path file_;
    QString connection_;
    QSqlDatabase database_;
    std::map<std::string, std::int64_t> revisions_;                      // by job, as last seen
    std::map<std::string, std::map<std::string, std::string>> written_;  // reading texts, by job and id
};

// The copies beside a database file, newest first.
std::vector<std::filesystem::path> backups_of(const std::filesystem::path& file);

// Puts a copy in the place of a database; what stood there is kept under another name beside it.
Outcome restore_backup(const std::filesystem::path& backup, const std::filesystem::path& file);

}  // namespace eh
