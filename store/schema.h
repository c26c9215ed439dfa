// SPDX-License-Identifier: GPL-3.0-or-later
// The tables of the shop's database and how older ones are brought forward. Internal to store/.
#pragma once

#include <QSqlDatabase>
#include <functional>

#include "core/base/result.h"
#include "core/job/job.h"
#include "store/dialect.h"

namespace eh {

// The version this program writes.
inline constexpr int newest_schema_version = 3;

// Makes the tables of the newest version in a database that has none. Call it within a transaction.
Outcome make_tables(QSqlDatabase& database, const Dialect& dialect);

// Versions 1 and 2 were those of shop files only, and kept jobs and readings as plain texts.
//
// Moves the old tables aside, so that make_tables() finds the names free. Within a transaction.
Outcome put_old_tables_aside(QSqlDatabase& database, int version);
// Gives each job of the tables that were put aside to `take`, then drops them. Fails with what take() says.
Outcome take_old_jobs(QSqlDatabase& database,
                      const std::function<Outcome(const Job& job, std::int64_t updated_ms)>& take);

// Only for tests: the tables as version 1 or 2 made them.
Outcome make_old_tables(QSqlDatabase& database, int version);

}  // namespace eh
