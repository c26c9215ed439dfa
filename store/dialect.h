// SPDX-License-Identifier: GPL-3.0-or-later
// Where the two databases differ in what they want to be told. Internal to store/.
#pragma once

#include <QSqlDatabase>
#include <QString>
#include <QStringList>

#include "core/base/result.h"

namespace eh {

class Dialect {
  public:
    virtual ~Dialect() = default;
    Dialect() = default;
    Dialect(const Dialect&) = delete;
    Dialect& operator=(const Dialect&) = delete;

    // Starts a transaction that is going to write.
    [[nodiscard]] virtual QString begin() const = 0;
    // Appended to a SELECT of a row that is going to be written in this transaction.
    [[nodiscard]] virtual QString for_update() const = 0;
    // Column types, and what makes a table lie in the order of its primary key.
    [[nodiscard]] virtual QString key_column() const = 0;
    [[nodiscard]] virtual QString bytes() const = 0;
    [[nodiscard]] virtual QString in_key_order() const = 0;

    // The table of words, keyed by job; how a row is written (bound: key, text) and asked for.
    [[nodiscard]] virtual QStringList make_search() const = 0;
    [[nodiscard]] virtual QStringList write_search() const = 0;
    // Condition on jobs.key with one bound question.
    [[nodiscard]] virtual QString search_condition() const = 0;
    // The question for these words: all of them, each as a beginning. Requires at least one word.
    [[nodiscard]] virtual QString question(const QStringList& words) const = 0;

    // The version of the tables; 0: none yet.
    virtual Result<int> version(QSqlDatabase& database) const = 0;
    virtual Outcome set_version(QSqlDatabase& database, int version) const = 0;
};

const Dialect& sqlite_dialect();
const Dialect& postgres_dialect();

// Words of a search as both dialects take them: letters and digits only.
QStringList words_of(const QString& text);

// Runs one statement; the error names what was being done.
Outcome run_sql(QSqlDatabase& database, const QString& statement, const char* doing);

}  // namespace eh
