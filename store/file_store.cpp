// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/file_store.h"

#include <unistd.h>
#include <QDateTime>
#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>
#include <algorithm>
#include <chrono>
#include <fstream>
#include <thread>

#include "core/base/private_files.h"
#include "core/base/text.h"
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

std::string stamp_now() {
    return QDateTime::currentDateTimeUtc().toString("yyyyMMdd-HHmmss-zzz").toStdString();
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

// Result codes of SQLite (sqlite.org/rescode.html); the higher bytes of an extended code are left out.
enum SqliteCode { busy_code = 5, locked_code = 6, corrupt_code = 11, no_database_code = 26 };

int code_of(const QSqlError& error) {
    constexpr int primary = 0xff;
    return error.nativeErrorCode().toInt() & primary;
}

Error damaged(const fs::path& file) {
    return {ErrorKind::damaged, damaged_sentence, file.string()};
}

// SQLite says only that it cannot open or write; why, the file and its folder tell.
Error cannot_open(const fs::path& file) {
    const fs::path folder = file.has_parent_path() ? file.parent_path() : fs::path(".");
    std::error_code problem;
    if (!fs::is_directory(folder, problem))
        return {ErrorKind::unavailable, "the folder of the shop file is not there and cannot be made",
                folder.string()};
    return {ErrorKind::unavailable,
            "the shop file cannot be written; check the rights of its folder, and whether the disk is full",
            file.string()};
}

Error explained(const QSqlError& error, const fs::path& file) {
    switch (code_of(error)) {
        case busy_code:
        case locked_code:
            return {
                ErrorKind::locked,
                "another program holds this shop file locked; close it, or wait until it is done, and try "
                "again",
                file.string()};
        case corrupt_code:
        case no_database_code:
            return damaged(file);
        default:
            return cannot_open(file);
    }
}

// Whether the file has as many bytes as its head says (sqlite.org/fileformat.html, 1.3): a copy that was cut
// short may lack only pages that hold nothing yet, which no check of its contents would notice.
bool has_all_pages(const fs::path& file) {
    std::ifstream stream(file, std::ios::binary);
    unsigned char head[32] = {};
    stream.read(reinterpret_cast<char*>(head), sizeof head);
    if (!stream)
        return false;
    const auto big_endian = [&head](int first, int count) {
        std::uintmax_t value = 0;
        for (int i = 0; i < count; ++i)
            value = value << 8U | head[first + i];
        return value;
    };
    constexpr std::uintmax_t largest_page = 65536;  // written as 1
    const std::uintmax_t page = big_endian(16, 2) == 1 ? largest_page : big_endian(16, 2);
    std::error_code problem;
    return fs::file_size(file, problem) >= page * big_endian(28, 4);
}

// Looks at an existing file without writing to it; gives its version.
enum class Depth { head, whole };
Result<int> inspect(const fs::path& file, Depth depth = Depth::whole) {
    // Not by opening it: closing a file again takes away every lock that this process has on it, those of
    // other views of the shop too (sqlite.org/howtocorrupt.html, 2.2).
    if (::access(file.c_str(), R_OK) != 0)
        return Error{ErrorKind::unavailable, "this shop file cannot be read; check its rights",
                     file.string()};
    ScopedConnection connection(file, "QSQLITE_OPEN_READONLY;QSQLITE_BUSY_TIMEOUT=2000");
    if (!connection.database().open())
        return explained(connection.database().lastError(), file);
    if (depth == Depth::whole) {
        QSqlQuery check(connection.database());
        if (!check.exec("PRAGMA quick_check") || !check.next())
            return explained(check.lastError(), file);
        if (check.value(0).toString() != "ok")
            return damaged(file);
    }
    // A file that cannot be read is not therefore damaged: another program may hold it.
    QSqlQuery tables(connection.database());
    if (!tables.exec("SELECT count(*) FROM sqlite_master"))
        return explained(tables.lastError(), file);
    auto version = sqlite_dialect().version(connection.database());
    if (!version)
        return damaged(file);
    if (*version > newest_schema_version)
        return Error{ErrorKind::newer_version,
                     "this shop file was written by a newer program (its version is " +
                         integer_text(*version) + ", this program knows up to " +
                         integer_text(newest_schema_version) +
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

}  // namespace

std::vector<fs::path> backups_of(const fs::path& file) {
    std::vector<fs::path> list;
    std::error_code problem;
    const fs::path folder = file.has_parent_path() ? file.parent_path() : fs::path(".");
    for (const auto& entry : fs::directory_iterator(folder, problem)) {
        const std::string name = entry.path().filename().string();
        if (name.rfind(backup_stem(file), 0) == 0 && entry.path().extension() != ".part")
            list.push_back(entry.path());
    }
    // Names end in a time that sorts as text.
    std::sort(list.rbegin(), list.rend());
    return list;
}

bool copy_is_due(const fs::path& file) {
    const auto all = backups_of(file);
    std::error_code problem;
    return all.empty() ||
           fs::file_time_type::clock::now() - fs::last_write_time(all.front(), problem) > backup_age;
}

Outcome put_in_place(const fs::path& part, const fs::path& file) {
    std::error_code problem;
    fs::rename(part, file, problem);
    if (!problem)
        return Done{};
    std::error_code ignored;
    fs::remove(part, ignored);
    return Error{ErrorKind::unavailable, "the copy could not be put in place: " + problem.message(),
                 file.string()};
}

Outcome restore_backup(const fs::path& backup, const fs::path& file) {
    if (!has_all_pages(backup))
        return refused(
            "this copy was written only in part, and nothing has been changed; choose an older one",
            backup.string());
    if (const auto sound = inspect(backup); !sound)
        return Error{sound.error().kind,
                     "this copy cannot be used, and nothing has been changed: " + sound.error().message,
                     sound.error().place};
    // Written beside and checked before anything moves: a disk that fills up half way leaves the shop as it
    // is.
    const fs::path part = file.string() + ".part";
    std::error_code problem;
    fs::copy_file(backup, part, fs::copy_options::overwrite_existing, problem);
    if (problem || !has_all_pages(part) || !inspect(part)) {
        std::error_code ignored;
        fs::remove(part, ignored);
        return Error{ErrorKind::unavailable,
                     "the copy cannot be written beside the shop file, and nothing has been changed; is the "
                     "disk full?",
                     file.string()};
    }
    const std::string stamp = stamp_now();
    for (const char* tail : {"", "-wal", "-shm"}) {
        const fs::path from = file.string() + tail;
        if (fs::exists(from, problem))
            fs::rename(from, file.string() + ".damaged-" + stamp + tail, problem);
        if (problem)
            return Error{ErrorKind::unavailable,
                         "the file that is there cannot be moved aside: " + problem.message(), from.string()};
    }
    return put_in_place(part, file);
}

namespace {

// Under another name first, so that a copy is whole or not there; of its own, since two windows that are
// opened at once may lay the copy of the day in the same millisecond.
Outcome copy_database(QSqlDatabase& database, const fs::path& file) {
    const fs::path part =
        file.string() + "." + QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString() + ".part";
    std::error_code ignored;
    QSqlQuery query(database);
    query.prepare("VACUUM INTO ?");
    query.addBindValue(to_qt(part.string()));
    if (!query.exec()) {
        const std::string why = query.lastError().text().toStdString();
        fs::remove(part, ignored);
        return Error{ErrorKind::unavailable,
                     "copying the shop file failed; is the disk full, or its folder read-only? (" + why + ")",
                     file.string()};
    }
    return put_in_place(part, file);
}

}  // namespace

FileStore::FileStore(const QSqlDatabase& database, const fs::path& file)
    : SqlStore(database, sqlite_dialect(), file.string()) {
    set_file(file);
}

Result<std::unique_ptr<JobStore>> JobStore::open(const fs::path& file) {
    auto store = FileStore::open_file(file);
    if (!store)
        return store.error();
    return std::unique_ptr<JobStore>(std::move(store).value());
}

Result<std::unique_ptr<FileStore>> FileStore::open_file(const fs::path& file) {
    std::error_code problem;
    const bool exists = fs::exists(file, problem) && fs::file_size(file, problem) > 0;
    const bool large = exists && fs::file_size(file, problem) > large_file_bytes;
    int version = 0;
    if (exists) {
        const auto found = inspect(file, large ? Depth::head : Depth::whole);
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
    std::unique_ptr<FileStore> store(new FileStore(database, file));
    database = {};
    if (!opened)
        return cannot_open(file);
    if (exists && (version < newest_schema_version || (!large && copy_is_due(file)))) {
        if (auto copied = store->lay_copy_of_the_day(); !copied)
            return copied.error();
    }
    for (const char* tail : {"", "-wal", "-shm"})
        make_private(file.string() + tail);
    for (const fs::path& copy : backups_of(file))
        make_private(copy);
    store->care_due_ = large;
    QSqlQuery pragma(store->database());
    for (const char* setting :
         {"PRAGMA journal_mode = WAL", "PRAGMA synchronous = FULL", "PRAGMA foreign_keys = ON"}) {
        if (!pragma.exec(setting))
            return explained(pragma.lastError(), file);
    }
    if (version < newest_schema_version) {
        if (auto forward = store->bring_forward(version); !forward)
            return forward.error();
    }
    // Writing nothing much now tells what every later save would run into.
    if (!pragma.exec("BEGIN IMMEDIATE") ||
        !pragma.exec("UPDATE shop_marks SET value = value WHERE name = 'changes'") || !pragma.exec("COMMIT"))
        return explained(pragma.lastError(), file);
    return store;
}

Outcome FileStore::bring_forward(int version) {
    if (auto begun = run_sql(database(), "BEGIN IMMEDIATE", "Starting the update of the shop file"); !begun)
        return begun;
    const auto forward = [&]() -> Outcome {
        if (version > 0) {
            if (auto aside = put_old_tables_aside(database(), version); !aside)
                return aside;
        }
        if (auto made = make_tables(database(), sqlite_dialect()); !made)
            return made;
        if (version > 0) {
            return take_old_jobs(database(), [this](const Job& job, std::int64_t updated_ms) {
                return write_new(job, updated_ms);
            });
        }
        return Done{};
    };
    Outcome done = forward();
    if (done)
        done = run_sql(database(), "COMMIT", "Finishing the update of the shop file");
    if (!done)
        (void)run_sql(database(), "ROLLBACK", "Taking the update back");
    return done;
}

Outcome FileStore::lay_copy() {
    auto copied = backup_to(file().parent_path() / (backup_stem(file()) + stamp_now()));
    if (copied)
        drop_old_backups(file());
    return copied;
}

// Another window that is opened at the same time may lay it, too, and disturb this one's; one of them is
// enough.
Outcome FileStore::lay_copy_of_the_day() {
    constexpr std::chrono::milliseconds for_the_other{200};
    Outcome copied = lay_copy();
    if (!copied) {
        std::this_thread::sleep_for(for_the_other);
        if (!copy_is_due(file()))
            return Done{};
        copied = lay_copy();
    }
    return copied;
}

Outcome take_care_of(const fs::path& file) {
    if (const auto sound = inspect(file); !sound)
        return sound.error();
    if (!copy_is_due(file))
        return Done{};
    ScopedConnection connection(file, "QSQLITE_OPEN_READONLY;QSQLITE_BUSY_TIMEOUT=5000");
    if (!connection.database().open())
        return explained(connection.database().lastError(), file);
    auto copied =
        copy_database(connection.database(), file.parent_path() / (backup_stem(file) + stamp_now()));
    if (copied)
        drop_old_backups(file);
    return copied;
}

Outcome FileStore::backup_to(const fs::path& file) {
    return copy_database(database(), file);
}

JobStore::Opener FileStore::another() const {
    return [file = file()] { return JobStore::open(file); };
}

void FileStore::limit_pages(int pages) {
    QSqlQuery(database()).exec(QString("PRAGMA max_page_count = %1").arg(pages));
}

}  // namespace eh
