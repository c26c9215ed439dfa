// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/schema.h"

#include <QSqlError>
#include <QSqlQuery>
#include <cassert>

#include "core/job/job_json.h"
#include "core/readings/reading_json.h"

namespace eh {
namespace {

// What versions 1 and 2 were; never changed.
const std::vector<QStringList>& old_steps() {
    static const std::vector<QStringList> list{
        {"CREATE TABLE jobs (id TEXT PRIMARY KEY, number TEXT NOT NULL, customer TEXT NOT NULL, machine TEXT "
         "NOT NULL, stage TEXT NOT NULL, created_ms INTEGER NOT NULL, updated_ms INTEGER NOT NULL, document "
         "TEXT NOT NULL)",
         "CREATE TABLE readings (job_id TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE, id TEXT NOT "
         "NULL, position INTEGER NOT NULL, document TEXT NOT NULL, PRIMARY KEY (job_id, id))"},
        {"ALTER TABLE jobs ADD COLUMN revision INTEGER NOT NULL DEFAULT 0",
         "CREATE INDEX jobs_by_update ON jobs (updated_ms)"},
    };
    return list;
}

Outcome run_all(QSqlDatabase& database, const QStringList& statements, const char* doing) {
    for (const QString& statement : statements) {
        if (auto done = run_sql(database, statement, doing); !done)
            return done;
    }
    return Done{};
}

Error cannot_read(const QSqlQuery& query, const QSqlDatabase& database) {
    return {ErrorKind::unavailable,
            "The jobs of the older program cannot be read: " + query.lastError().text().toStdString(),
            database.databaseName().toStdString()};
}

}  // namespace

Outcome make_tables(QSqlDatabase& database, const Dialect& dialect) {
    // A job is a narrow row, which the shelf reads many of; its document and its readings stand apart, so
    // that capturing a reading writes one row. Signatures lie by topology, as they are asked for.
    QStringList statements{
        "CREATE TABLE jobs (key " + dialect.key_column() +
            ", id TEXT NOT NULL UNIQUE, number TEXT NOT NULL, customer TEXT NOT NULL, machine TEXT NOT NULL, "
            "technician TEXT NOT NULL, topology TEXT NOT NULL, stage TEXT NOT NULL, waits TEXT NOT NULL, "
            "due_ms BIGINT NOT NULL, wait_note TEXT NOT NULL, created_ms BIGINT NOT NULL, updated_ms BIGINT "
            "NOT NULL, cure_block TEXT "
            "NOT NULL, cure_work TEXT NOT NULL, revision BIGINT NOT NULL)",
        "CREATE INDEX jobs_by_update ON jobs (updated_ms)",
        "CREATE INDEX jobs_by_wait ON jobs (waits, updated_ms)",
        "CREATE INDEX jobs_by_cure ON jobs (topology, cure_block, cure_work) WHERE cure_work <> ''",
        "CREATE TABLE documents (job BIGINT PRIMARY KEY REFERENCES jobs(key) ON DELETE CASCADE, document " +
            dialect.bytes() + " NOT NULL)",
        "CREATE TABLE readings (job BIGINT NOT NULL REFERENCES jobs(key) ON DELETE CASCADE, id TEXT NOT "
        "NULL, "
        "position INTEGER NOT NULL, document " +
            dialect.bytes() + " NOT NULL, PRIMARY KEY (job, id))" + dialect.in_key_order(),
        "CREATE TABLE signatures (topology TEXT NOT NULL, job BIGINT NOT NULL REFERENCES jobs(key) ON DELETE "
        "CASCADE, items " +
            dialect.bytes() + " NOT NULL, PRIMARY KEY (topology, job))" + dialect.in_key_order(),
        "CREATE INDEX signatures_by_job ON signatures (job)",
        "CREATE TABLE shop_marks (name TEXT PRIMARY KEY, value BIGINT NOT NULL)",
        "INSERT INTO shop_marks VALUES ('changes', 0)"};
    if (auto made = run_all(database, statements + dialect.make_search(), "Making the tables of the shop");
        !made)
        return made;
    return dialect.set_version(database, newest_schema_version);
}

Outcome put_old_tables_aside(QSqlDatabase& database, int version) {
    QStringList statements{"ALTER TABLE readings RENAME TO old_readings",
                           "ALTER TABLE jobs RENAME TO old_jobs"};
    if (version >= 2)
        statements << "DROP INDEX jobs_by_update";
    return run_all(database, statements, "Updating the shop file");
}

Outcome take_old_jobs(QSqlDatabase& database,
                      const std::function<Outcome(const Job& job, std::int64_t updated_ms)>& take) {
    QSqlQuery heads(database);
    heads.setForwardOnly(true);
    if (!heads.exec("SELECT id, updated_ms, document FROM old_jobs ORDER BY created_ms, id"))
        return cannot_read(heads, database);
    while (heads.next()) {
        const std::string id = heads.value(0).toString().toStdString();
        auto head = parse_job(heads.value(2).toString().toStdString(), "job " + id);
        if (!head)
            return head.error();
        Job job = std::move(head).value();
        QSqlQuery rows(database);
        rows.prepare("SELECT id, document FROM old_readings WHERE job_id = ? ORDER BY position, id");
        rows.addBindValue(heads.value(0));
        if (!rows.exec())
            return cannot_read(rows, database);
        while (rows.next()) {
            auto reading = parse_reading(rows.value(1).toString().toStdString(),
                                         "job " + id + ", reading " + rows.value(0).toString().toStdString());
            if (!reading)
                return reading.error();
            job.readings.push_back(std::move(reading).value());
        }
        if (rows.lastError().isValid())  // a disk that gave only some of them
            return cannot_read(rows, database);
        if (auto taken = take(job, heads.value(1).toLongLong()); !taken)
            return taken;
    }
    if (heads.lastError().isValid())
        return cannot_read(heads, database);
    heads.finish();
    return run_all(database, {"DROP TABLE old_readings", "DROP TABLE old_jobs"}, "Updating the shop file");
}

Outcome make_old_tables(QSqlDatabase& database, int version) {
    assert(version >= 1 && version <= static_cast<int>(old_steps().size()) &&
           "make_old_tables: no such version");
    for (int v = 0; v < version; ++v) {
        if (auto made = run_all(database, old_steps()[static_cast<std::size_t>(v)], "Making old tables");
            !made)
            return made;
    }
    return sqlite_dialect().set_version(database, version);
}

}  // namespace eh
