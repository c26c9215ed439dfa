#include "store/schema.h"

#include <QSqlError>
#include <QSqlQuery>
#include <QStringList>
#include <QVariant>
#include <vector>

namespace eh {
namespace {

// Statements that lead from one version to the next. Steps are only ever added.
const std::vector<QStringList>& steps() {
    static const std::vector<QStringList> list{
        // 1: a job is its document; readings stand apart, so that capturing one writes one row.
        {"CREATE TABLE jobs (id TEXT PRIMARY KEY, number TEXT NOT NULL, customer TEXT NOT NULL, machine TEXT "
         "NOT NULL, "
         "stage TEXT NOT NULL, created_ms INTEGER NOT NULL, updated_ms INTEGER NOT NULL, document TEXT NOT "
         "NULL)",
         "CREATE TABLE readings (job_id TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE, id TEXT NOT "
         "NULL, "
         "position INTEGER NOT NULL, document TEXT NOT NULL, PRIMARY KEY (job_id, id))"},
        // 2: a revision a job, so that two windows on one shop notice each other's changes.
        {"ALTER TABLE jobs ADD COLUMN revision INTEGER NOT NULL DEFAULT 0",
         "CREATE INDEX jobs_by_update ON jobs (updated_ms)"},
    };
    return list;
}

}  // namespace

int newest_schema_version() {
    return static_cast<int>(steps().size());
}

Outcome run_sql(QSqlDatabase& database, const QString& statement, const char* doing) {
    QSqlQuery query(database);
    if (query.exec(statement))
        return Done{};
    return Error{ErrorKind::unavailable,
                 std::string(doing) + " failed: " + query.lastError().text().toStdString(),
                 database.databaseName().toStdString()};
}

Result<int> schema_version(QSqlDatabase& database) {
    QSqlQuery query(database);
    if (!query.exec("PRAGMA user_version") || !query.next())
        return Error{ErrorKind::unavailable, "the version of the database cannot be read",
                     database.databaseName().toStdString()};
    return query.value(0).toInt();
}

Outcome migrate_to(QSqlDatabase& database, int version) {
    const auto from = schema_version(database);
    if (!from)
        return from.error();
    for (int next = *from + 1; next <= version; ++next) {
        if (auto begun = run_sql(database, "BEGIN IMMEDIATE", "Starting the update of the database"); !begun)
            return begun;
        for (const QString& statement : steps()[static_cast<std::size_t>(next - 1)]) {
            if (auto done = run_sql(database, statement, "Updating the database"); !done) {
                (void)run_sql(database, "ROLLBACK", "Taking the update back");
                return done;
            }
        }
        if (auto marked =
                run_sql(database, QString("PRAGMA user_version = %1").arg(next), "Marking the version");
            !marked)
            return marked;
        if (auto committed = run_sql(database, "COMMIT", "Finishing the update of the database"); !committed)
            return committed;
    }
    return Done{};
}

Outcome migrate(QSqlDatabase& database) {
    return migrate_to(database, newest_schema_version());
}

}  // namespace eh
