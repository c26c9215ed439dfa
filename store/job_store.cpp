#include "store/job_store.h"

#include <QDateTime>
#include <QFile>
#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>
#include <QVariant>
#include <algorithm>
#include <fstream>

#include "core/job/job_json.h"
#include "store/schema.h"

namespace eh {

namespace fs = std::filesystem;

namespace {

constexpr const char* driver = "QSQLITE";
constexpr std::size_t backups_kept = 5;
constexpr auto backup_age = std::chrono::hours(24);
constexpr const char* damaged_sentence =
    "this shop file is damaged and has not been touched; open the last copy, or choose another file";

QString to_qt(const std::string& text) {
    return QString::fromStdString(text);
}

Error failure(const QSqlQuery& query, const std::string& doing, const std::string& place) {
    return {ErrorKind::unavailable, doing + " failed: " + query.lastError().text().toStdString(), place};
}

std::string backup_stem(const fs::path& file) {
    return file.filename().string() + ".copy-";
}

// A database connection that goes when it is left.
class ScopedConnection {
  public:
    ScopedConnection(const fs::path& file, const QString& options)
        : name_(QUuid::createUuid().toString()), database_(QSqlDatabase::addDatabase(driver, name_)) {
        database_.setDatabaseName(to_qt(file.string()));
        database_.setConnectOptions(options);
    }
    ~ScopedConnection() {
        database_.close();
        database_ = {};
        QSqlDatabase::removeDatabase(name_);
    }
    ScopedConnection(const ScopedConnection&) = delete;
    ScopedConnection& operator=(const ScopedConnection&) = delete;
    QSqlDatabase& database() { return database_; }

  private:
    QString name_;
    QSqlDatabase database_;
};

// Looks at an existing file without writing to it.
Result<int> inspect(const fs::path& file) {
    std::ifstream stream(file, std::ios::binary);
    char header[16] = {};
    stream.read(header, sizeof header);
    if (!stream || std::string(header, 15) != "SQLite format 3")
        return refused(damaged_sentence, file.string());
    stream.close();
    ScopedConnection connection(file, "QSQLITE_OPEN_READONLY");
    if (!connection.database().open())
        return refused(damaged_sentence, file.string());
    QSqlQuery check(connection.database());
    if (!check.exec("PRAGMA quick_check") || !check.next() || check.value(0).toString() != "ok")
        return refused(damaged_sentence, file.string());
    auto version = schema_version(connection.database());
    if (!version)
        return refused(damaged_sentence, file.string());
    if (*version > newest_schema_version())
        return Error{ErrorKind::newer_version,
                     "this shop file was written by a newer program (its version is " +
                         std::to_string(*version) + ", this program knows up to " +
                         std::to_string(newest_schema_version()) +
                         ") and has not been touched; update this program",
                     file.string()};
    return version;
}

void drop_old_backups(const fs::path& file) {
    const auto all = backups_of(file);
    for (std::size_t i = backups_kept; i < all.size(); ++i) {
        std::error_code ignored;
        fs::remove(all[i], ignored);
    }
}

bool backup_is_due(const fs::path& file) {
    const auto all = backups_of(file);
    std::error_code problem;
    return all.empty() ||
           fs::file_time_type::clock::now() - fs::last_write_time(all.front(), problem) > backup_age;
}

}  // namespace

std::vector<fs::path> backups_of(const fs::path& file) {
    std::vector<fs::path> list;
    std::error_code problem;
    const fs::path folder = file.has_parent_path() ? file.parent_path() : fs::path(".");
    for (const auto& entry : fs::directory_iterator(folder, problem)) {
        if (entry.path().filename().string().rfind(backup_stem(file), 0) == 0)
            list.push_back(entry.path());
    }
    // Names end in a time that sorts as text.
    std::sort(list.rbegin(), list.rend());
    return list;
}

Outcome restore_backup(const fs::path& backup, const fs::path& file) {
    std::error_code problem;
    const std::string stamp = QDateTime::currentDateTimeUtc().toString("yyyyMMdd-HHmmss-zzz").toStdString();
    for (const char* tail : {"", "-wal", "-shm"}) {
        const fs::path from = file.string() + tail;
        if (fs::exists(from, problem))
            fs::rename(from, file.string() + ".damaged-" + stamp + tail, problem);
        if (problem)
            return Error{ErrorKind::unavailable,
                         "the damaged file cannot be moved aside: " + problem.message(), from.string()};
    }
    fs::copy_file(backup, file, problem);
    if (problem)
        return Error{ErrorKind::unavailable, "the copy cannot be put in place: " + problem.message(),
                     backup.string()};
    return Done{};
}

JobStore::JobStore(fs::path file, const QSqlDatabase& database, QString connection)
    : file_(std::move(file)), connection_(std::move(connection)), database_(database) {}

JobStore::~JobStore() {
    database_.close();
    database_ = {};
    QSqlDatabase::removeDatabase(connection_);
}

Result<std::unique_ptr<JobStore>> JobStore::open(const fs::path& file) {
    std::error_code problem;
    const bool exists = fs::exists(file, problem) && fs::file_size(file, problem) > 0;
    int version = 0;
    if (exists) {
        const auto found = inspect(file);
        if (!found)
            return found.error();
        version = *found;
    } else if (file.has_parent_path()) {
        fs::create_directories(file.parent_path(), problem);
    }
    const QString connection = QUuid::createUuid().toString();
    QSqlDatabase database = QSqlDatabase::addDatabase(driver, connection);
    database.setDatabaseName(to_qt(file.string()));
    database.setConnectOptions("QSQLITE_BUSY_TIMEOUT=5000");
    const bool opened = database.open();
    std::unique_ptr<JobStore> store(new JobStore(file, database, connection));
    database = {};
    if (!opened)
        return Error{ErrorKind::unavailable,
                     "the shop file cannot be opened; check the folder and its rights", file.string()};
    if (exists && (version < newest_schema_version() || backup_is_due(file))) {
        const std::string stamp =
            QDateTime::currentDateTimeUtc().toString("yyyyMMdd-HHmmss-zzz").toStdString();
        const fs::path copy = file.parent_path() / (backup_stem(file) + stamp);
        if (auto copied = store->backup_to(copy); !copied)
            return copied.error();
        drop_old_backups(file);
    }
    for (const char* pragma :
         {"PRAGMA journal_mode = WAL", "PRAGMA synchronous = FULL", "PRAGMA foreign_keys = ON"}) {
        if (auto done = run_sql(store->database_, pragma, "Setting up the shop file"); !done)
            return done.error();
    }
    if (auto migrated = migrate(store->database_); !migrated)
        return migrated.error();
    return store;
}

Result<std::vector<JobSummary>> JobStore::list() {
    QSqlQuery query(database_);
    if (!query.exec("SELECT id, number, customer, machine, stage, created_ms, updated_ms FROM jobs ORDER BY "
                    "updated_ms DESC, id"))
        return failure(query, "Reading the shelf", file_.string());
    std::vector<JobSummary> jobs;
    while (query.next()) {
        JobSummary summary;
        summary.id = query.value(0).toString().toStdString();
        summary.number = query.value(1).toString().toStdString();
        summary.customer = query.value(2).toString().toStdString();
        summary.machine = query.value(3).toString().toStdString();
        summary.stage = job_stage_from(query.value(4).toString().toStdString()).value_or(JobStage::intake);
        summary.created_ms = query.value(5).toLongLong();
        summary.updated_ms = query.value(6).toLongLong();
        jobs.push_back(std::move(summary));
    }
    return jobs;
}

Result<Job> JobStore::load(const std::string& id) {
    QSqlQuery query(database_);
    query.prepare("SELECT document, revision FROM jobs WHERE id = ?");
    query.addBindValue(to_qt(id));
    if (!query.exec())
        return failure(query, "Opening the job", file_.string());
    if (!query.next())
        return Error{ErrorKind::not_found, "this job is no longer in the shop file", id};
    auto job = parse_job(query.value(0).toString().toStdString(), "job " + id);
    if (!job)
        return job;
    Job loaded = *job;
    revisions_[id] = query.value(1).toLongLong();
    auto& written = written_[id];
    written.clear();
    QSqlQuery rows(database_);
    rows.prepare("SELECT id, document FROM readings WHERE job_id = ? ORDER BY position, id");
    rows.addBindValue(to_qt(id));
    if (!rows.exec())
        return failure(rows, "Reading the job's readings", file_.string());
    while (rows.next()) {
        const std::string text = rows.value(1).toString().toStdString();
        auto reading =
            parse_reading(text, "job " + id + ", reading " + rows.value(0).toString().toStdString());
        if (!reading)
            return reading.error();
        written[reading->id] = text;
        loaded.readings.push_back(*reading);
    }
    return loaded;
}

Outcome JobStore::write_job(const Job& job) {
    Job head = job;
    head.readings.clear();
    QSqlQuery query(database_);
    query.prepare(
        "INSERT INTO jobs (id, number, customer, machine, stage, created_ms, updated_ms, document, revision) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?, 1) ON CONFLICT (id) DO UPDATE SET number = excluded.number, "
        "customer = excluded.customer, machine = excluded.machine, stage = excluded.stage, "
        "updated_ms = excluded.updated_ms, document = excluded.document, revision = jobs.revision + 1");
    // An empty QString from an empty std::string is null to SQL, so it is made empty in so many words.
    const auto text = [](const std::string& value) { return value.empty() ? QString("") : to_qt(value); };
    for (const QVariant& value :
         {QVariant(text(job.id)), QVariant(text(job.ticket.number)), QVariant(text(job.ticket.customer)),
          QVariant(text(job.ticket.machine)), QVariant(to_qt(to_text(job.stage))),
          QVariant(static_cast<qlonglong>(job.created_ms)), QVariant(QDateTime::currentMSecsSinceEpoch()),
          QVariant(to_qt(job_to_text(head)))})
        query.addBindValue(value);
    if (!query.exec())
        return failure(query, "Saving the job", file_.string());
    return Done{};
}

Outcome JobStore::write_readings(const Job& job, bool remove_missing) {
    auto& written = written_[job.id];
    std::map<std::string, std::string> now;
    QSqlQuery insert(database_);
    insert.prepare(
        "INSERT INTO readings (job_id, id, position, document) VALUES (?, ?, ?, ?) "
        "ON CONFLICT (job_id, id) DO UPDATE SET position = excluded.position, document = excluded.document");
    for (std::size_t i = 0; i < job.readings.size(); ++i) {
        const Reading& reading = job.readings[i];
        const std::string text = reading_to_text(reading);
        now[reading.id] = text;
        if (const auto known = written.find(reading.id); known != written.end() && known->second == text)
            continue;
        insert.addBindValue(to_qt(job.id));
        insert.addBindValue(to_qt(reading.id));
        insert.addBindValue(static_cast<int>(i));
        insert.addBindValue(to_qt(text));
        if (!insert.exec())
            return failure(insert, "Saving a reading", file_.string());
    }
    for (const auto& [id, text] : written) {
        if (!remove_missing || now.count(id) != 0)
            continue;
        QSqlQuery gone(database_);
        gone.prepare("DELETE FROM readings WHERE job_id = ? AND id = ?");
        gone.addBindValue(to_qt(job.id));
        gone.addBindValue(to_qt(id));
        if (!gone.exec())
            return failure(gone, "Taking a reading back", file_.string());
    }
    written = std::move(now);
    return Done{};
}

Outcome JobStore::save(const Job& job) {
    if (auto begun = run_sql(database_, "BEGIN IMMEDIATE", "Saving"); !begun)
        return begun;
    const auto written_before = written_[job.id];
    const auto give_up = [&](const Error& error) -> Outcome {
        (void)run_sql(database_, "ROLLBACK", "Taking a save back");
        written_[job.id] = written_before;
        return error;
    };
    QSqlQuery current(database_);
    current.prepare("SELECT revision FROM jobs WHERE id = ?");
    current.addBindValue(to_qt(job.id));
    if (!current.exec())
        return give_up(failure(current, "Saving the job", file_.string()));
    const bool known = current.next();
    const std::int64_t revision = known ? current.value(0).toLongLong() : 0;
    current.finish();
    const bool conflict = known && revisions_.count(job.id) != 0 && revisions_[job.id] != revision;
    if (!conflict) {
        if (auto head = write_job(job); !head)
            return give_up(head.error());
    }
    if (auto readings = write_readings(job, !conflict); !readings)
        return give_up(readings.error());
    if (auto committed = run_sql(database_, "COMMIT", "Saving"); !committed)
        return give_up(committed.error());
    if (conflict)
        return Error{ErrorKind::unavailable,
                     "another window has changed this job meanwhile; its entries stand, your readings were "
                     "added to them",
                     job.ticket.number.empty() ? job.id : job.ticket.number};
    revisions_[job.id] = revision + 1;
    return Done{};
}

Outcome JobStore::remove(const std::string& id) {
    QSqlQuery query(database_);
    query.prepare("DELETE FROM jobs WHERE id = ?");
    query.addBindValue(to_qt(id));
    if (!query.exec())
        return failure(query, "Removing the job", file_.string());
    revisions_.erase(id);
    written_.erase(id);
    return Done{};
}

Outcome JobStore::backup_to(const fs::path& file) {
    std::error_code ignored;
    fs::remove(file, ignored);
    QSqlQuery query(database_);
    query.prepare("VACUUM INTO ?");
    query.addBindValue(to_qt(file.string()));
    if (!query.exec())
        return failure(query, "Copying the shop file", file.string());
    return Done{};
}

}  // namespace eh
