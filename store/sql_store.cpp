// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/sql_store.h"

#include <QDateTime>
#include <QSqlError>
#include <cstring>

#include "core/base/text.h"
#include "core/job/job_json.h"
#include "core/readings/reading_json.h"
#include "core/shop/search_text.h"
#include "core/shop/similar_jobs.h"
#include "store/answer_wait.h"
#include "store/file_store.h"
#include "store/packed_text.h"
#include "store/sql_values.h"

namespace eh {
namespace {

const QString count_change = "UPDATE shop_marks SET value = value + 1 WHERE name = 'changes'";

QByteArray bytes_of(const JobSignature& signature) {
    return {reinterpret_cast<const char*>(signature.data()),
            static_cast<qsizetype>(signature.size() * sizeof(std::uint32_t))};
}

}  // namespace

SqlStore::SqlStore(const QSqlDatabase& database, const Dialect& dialect, std::string place)
    : database_(database),
      connection_(database.connectionName()),
      dialect_(dialect),
      place_(std::move(place)) {}

SqlStore::~SqlStore() {
    database_.close();
    database_ = {};
    QSqlDatabase::removeDatabase(connection_);
}

bool SqlStore::reopen() {
    database_.close();
    return database_.open();
}

namespace {

bool ask(QSqlQuery& query, const QString& statement, const QVariantList& values) {
    query.setForwardOnly(true);
    if (!query.prepare(statement))
        return false;
    for (const QVariant& value : values)
        query.addBindValue(value);
    return query.exec();
}

Error not_done(const QSqlQuery& query, const char* doing, const std::string& place) {
    return {ErrorKind::unavailable, std::string(doing) + " failed: " + query.lastError().text().toStdString(),
            place};
}

}  // namespace

Outcome SqlStore::run(const QString& statement, const QVariantList& values, const char* doing) {
    const AnswerWait wait(database_);
    QSqlQuery query(database_);
    if (ask(query, statement, values))
        return Done{};
    return not_done(query, doing, place_);
}

Outcome SqlStore::each_row(const QString& statement, const QVariantList& values, const char* doing,
                           const std::function<Outcome(const QSqlQuery& row)>& take) {
    const AnswerWait wait(database_);
    QSqlQuery query(database_);
    if (!ask(query, statement, values))
        return not_done(query, doing, place_);
    while (query.next()) {
        if (Outcome taken = take(query); !taken)
            return taken;
    }
    if (query.lastError().isValid())
        return not_done(query, doing, place_);
    return Done{};
}

Result<qlonglong> SqlStore::count(const QString& statement, const QVariantList& values, const char* doing) {
    qlonglong counted = 0;
    const Outcome read = each_row(statement, values, doing, [&](const QSqlQuery& row) -> Outcome {
        counted = row.value(0).toLongLong();
        return Done{};
    });
    if (!read)
        return read.error();
    return counted;
}

Result<SqlStore::Stored> SqlStore::find(const std::string& id, bool to_write) {
    Stored stored;
    const Outcome read =
        each_row("SELECT key, revision FROM jobs WHERE id = ?" + (to_write ? dialect_.for_update() : ""),
                 {sql_text(id)}, "Finding the job", [&](const QSqlQuery& row) -> Outcome {
                     stored = {row.value(0).toLongLong(), row.value(1).toLongLong()};
                     return Done{};
                 });
    if (!read)
        return read.error();
    return stored;
}

Result<Job> SqlStore::head_from(const QByteArray& packed, const std::string& id) {
    const auto document = unpack_text(packed, "job " + id);
    if (!document)
        return document.error();
    return parse_job(*document, "job " + id);
}

Result<SqlStore::Read> SqlStore::read(const std::string& id) {
    const AnswerWait wait(database_);
    qlonglong key = 0;
    Read found;
    const Outcome head_read =
        each_row("SELECT key, revision, document FROM jobs JOIN documents ON job = key WHERE id = ?",
                 {sql_text(id)}, "Opening the job", [&](const QSqlQuery& row) -> Outcome {
                     key = row.value(0).toLongLong();
                     found.revision = row.value(1).toLongLong();
                     auto head = head_from(row.value(2).toByteArray(), id);
                     if (!head)
                         return head.error();
                     found.job = std::move(head).value();
                     return Done{};
                 });
    if (!head_read)
        return head_read.error();
    if (key == 0)
        return Error{ErrorKind::not_found, "this job is no longer in the shop", id};
    const Outcome readings_read = each_row(
        "SELECT id, document FROM readings WHERE job = ? ORDER BY position, id", {QVariant::fromValue(key)},
        "Reading the job's readings", [&](const QSqlQuery& row) -> Outcome {
            const std::string place = "job " + id + ", reading " + row.value(0).toString().toStdString();
            auto document = unpack_text(row.value(1).toByteArray(), place);
            if (!document)
                return document.error();
            auto reading = parse_reading(*document, place);
            if (!reading)
                return reading.error();
            found.readings[reading->id] = std::move(document).value();
            found.job.readings.push_back(std::move(reading).value());
            return Done{};
        });
    if (!readings_read)
        return readings_read.error();
    return found;
}

Result<Job> SqlStore::load(const std::string& id) {
    auto result = read(id);
    if (!result)
        return result.error();
    Read found = std::move(result).value();
    revisions_[id] = found.revision;
    written_[id] = std::move(found.readings);
    stored_as_.erase(id);
    return std::move(found.job);
}

Result<Job> SqlStore::peek(const std::string& id) {
    auto result = read(id);
    if (!result)
        return result.error();
    Read found = std::move(result).value();
    return std::move(found.job);
}

Outcome SqlStore::write_head(const Job& job, Stored& stored, std::int64_t updated_ms) {
    const WaitState waits = wait_state(job);
    const auto cure = confirmed_repair(job);
    QVariantList values{sql_text(job.ticket.number),
                        sql_text(job.ticket.customer),
                        sql_text(job.ticket.machine),
                        sql_text(job.technician),
                        sql_text(job.ticket.topology),
                        sql_text(to_text(job.stage)),
                        sql_text(to_text(waits.on)),
                        sql_number(waits.due_ms),
                        sql_number(job.created_ms),
                        sql_number(updated_ms),
                        sql_text(cure ? cure->block : std::string()),
                        sql_text(cure ? to_text(cure->work) : std::string()),
                        sql_text(job.waiting.note),
                        sql_text(job.id)};
    const QString statement =
        stored.key == 0
            ? QString(
                  "INSERT INTO jobs (number, customer, machine, technician, topology, stage, waits, due_ms, "
                  "created_ms, updated_ms, cure_block, cure_work, wait_note, id, revision) "
                  "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 1)")
            : QString(
                  "UPDATE jobs SET number = ?, customer = ?, machine = ?, technician = ?, topology = ?, "
                  "stage = ?, waits = ?, due_ms = ?, created_ms = ?, updated_ms = ?, cure_block = ?, "
                  "cure_work = ?, wait_note = ?, revision = revision + 1 WHERE id = ?");
    if (auto done = run(statement, values, "Saving the job"); !done)
        return done.error();
    if (stored.key == 0) {
        auto made = find(job.id, false);
        if (!made)
            return made.error();
        stored.key = made->key;
    }
    Job head = job;
    head.readings.clear();
    return run(
        "INSERT INTO documents (job, document) VALUES (?, ?) ON CONFLICT (job) DO UPDATE "
        "SET document = excluded.document",
        {QVariant::fromValue(stored.key), pack_text(job_to_text(head))}, "Saving the job");
}

Outcome SqlStore::write_words(const Job& job, qlonglong key) {
    const QString words = words_of(QString::fromStdString(search_text(job))).join(" ");
    for (const QString& statement : dialect_.write_search()) {
        if (auto done = run(statement, {QVariant::fromValue(key), words.isEmpty() ? QString("") : words},
                            "Saving the job's words");
            !done)
            return done.error();
    }
    return Done{};
}

Outcome SqlStore::write_signature(const Job& job, qlonglong key) {
    if (auto gone = run("DELETE FROM signatures WHERE job = ?", {QVariant::fromValue(key)},
                        "Saving the job's likeness");
        !gone)
        return gone.error();
    if (!confirmed_repair(job))
        return Done{};
    return run("INSERT INTO signatures (topology, job, items) VALUES (?, ?, ?)",
               {sql_text(job.ticket.topology), QVariant::fromValue(key), bytes_of(signature_of(job))},
               "Saving the job's likeness");
}

Outcome SqlStore::write_rows(const Job& job, std::int64_t updated_ms, bool& conflict) {
    auto stored = find(job.id, true);
    if (!stored)
        return stored.error();
    Stored row = *stored;
    conflict = row.key != 0 && seen_revision(job.id) != 0 && seen_revision(job.id) != row.revision;
    if (!conflict) {
        if (auto head = write_head(job, row, updated_ms); !head)
            return head;
        if (auto words = write_words(job, row.key); !words)
            return words;
        if (auto signature = write_signature(job, row.key); !signature)
            return signature;
    }
    if (auto readings = conflict ? add_readings(job, row.key) : write_readings(job, row.key); !readings)
        return readings;
    if (auto counted = run(count_change, {}, "Saving"); !counted)
        return counted.error();
    if (!conflict)
        revisions_[job.id] = row.revision + 1;
    return Done{};
}

Outcome SqlStore::write_new(const Job& job, std::int64_t updated_ms) {
    bool conflict = false;
    return write_rows(job, updated_ms, conflict);
}

Outcome SqlStore::save(const Job& job) {
    return save_as_of(job, QDateTime::currentMSecsSinceEpoch());
}

Outcome SqlStore::save_as_of(const Job& job, std::int64_t updated_ms) {
    const AnswerWait wait(database_);
    if (auto begun = run_sql(database_, dialect_.begin(), "Saving"); !begun)
        return begun;
    const auto written_before = written_[job.id];
    const auto names_before = stored_as_[job.id];
    const auto revision_before = seen_revision(job.id);
    bool conflict = false;
    conflicted_ = false;
    Outcome saved = write_rows(job, updated_ms, conflict);
    if (saved)
        saved = run_sql(database_, "COMMIT", "Saving");
    if (!saved) {
        (void)run_sql(database_, "ROLLBACK", "Taking a save back");
        written_[job.id] = written_before;
        stored_as_[job.id] = names_before;
        revisions_[job.id] = revision_before;
        return saved;
    }
    if (changes_seen_ >= 0)
        ++changes_seen_;  // one's own
    conflicted_ = conflict;
    if (conflict)
        return Error{ErrorKind::conflict,
                     "another window has changed this job meanwhile; its entries stand, your readings were "
                     "added to them",
                     job.ticket.number.empty() ? job.id.text() : job.ticket.number};
    return Done{};
}

Outcome SqlStore::add_all(const std::vector<Job>& jobs) {
    const AnswerWait wait(database_);
    if (auto begun = run_sql(database_, dialect_.begin(), "Taking jobs over"); !begun)
        return begun;
    const std::int64_t now_ms = QDateTime::currentMSecsSinceEpoch();
    Outcome added = Done{};
    for (const Job& job : jobs) {
        const auto there = find(job.id, false);
        if (!there)
            added = there.error();
        else if (there->key != 0)
            added = refused("a job of this id is in the shop already", job.id);
        else
            added = write_new(job, now_ms);
        // What is taken over is not open here: nothing of it need be remembered.
        revisions_.erase(job.id);
        written_.erase(job.id);
        if (!added)
            break;
    }
    if (added)
        added = run_sql(database_, "COMMIT", "Taking jobs over");
    if (!added)
        (void)run_sql(database_, "ROLLBACK", "Taking jobs over");
    return added;
}

Outcome SqlStore::remove(const std::string& id) {
    const AnswerWait wait(database_);
    if (auto gone = run("DELETE FROM jobs WHERE id = ?", {sql_text(id)}, "Removing the job"); !gone)
        return gone.error();
    if (auto counted = run(count_change, {}, "Removing the job"); !counted)
        return counted.error();
    if (changes_seen_ >= 0)
        ++changes_seen_;
    revisions_.erase(id);
    written_.erase(id);
    return Done{};
}

bool SqlStore::is_current(const std::string& id) {
    const AnswerWait wait(database_);
    const auto stored = find(id, false);
    return !stored || seen_revision(id) == 0 || stored->revision == seen_revision(id);
}

std::int64_t SqlStore::seen_revision(const std::string& id) const {
    const auto seen = revisions_.find(id);
    return seen == revisions_.end() ? 0 : seen->second;
}

Result<std::int64_t> SqlStore::change_count() {
    const auto counted =
        count("SELECT value FROM shop_marks WHERE name = 'changes'", {}, "Looking for changes");
    if (!counted)
        return counted.error();
    return static_cast<std::int64_t>(*counted);
}

StoreNews SqlStore::news() {
    const AnswerWait wait(database_);
    StoreNews news;
    const auto count = change_count();
    if (!count)
        return news;
    // The first answer is where one's own counting begins.
    news.changed = changes_seen_ >= 0 && *count != changes_seen_;
    changes_seen_ = *count;
    return news;
}

Outcome SqlStore::backup_to(const std::filesystem::path& file) {
    const std::filesystem::path part = file.string() + ".part";
    std::error_code ignored;
    std::filesystem::remove(part, ignored);
    {
        auto copy = FileStore::open_file(part);
        if (!copy)
            return copy.error();
        const auto all = list();
        if (!all)
            return all.error();
        // Copying must not hide that another window has changed what is open here.
        const auto revisions = revisions_;
        const auto written = written_;
        for (const JobSummary& summary : *all) {
            auto job = load(summary.id);
            if (!job)
                return job.error();
            if (auto saved = (*copy)->save_as_of(*job, summary.updated_ms); !saved)
                return saved;
        }
        revisions_ = revisions;
        written_ = written;
    }
    return put_in_place(part, file);
}

}  // namespace eh
