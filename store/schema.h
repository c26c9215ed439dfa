// The tables of the shop's database and how older ones are brought forward. Internal to store/.
#pragma once

#include <QSqlDatabase>

#include "core/base/result.h"

namespace eh {

// The version this program writes; kept in SQLite's user_version.
int newest_schema_version();

// Version of an open database; 0: no tables yet.
Result<int> schema_version(QSqlDatabase& database);

// Brings the database from its version to the newest, each step in a transaction of its own.
Outcome migrate(QSqlDatabase& database);

// Only for tests: as migrate(), but stops at `version`, as an older program would have left it.
Outcome migrate_to(QSqlDatabase& database, int version);

// Runs one statement; the error names what was being done.
Outcome run_sql(QSqlDatabase& database, const QString& statement, const char* doing);

}  // namespace eh
