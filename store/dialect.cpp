// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/dialect.h"

#include <QRegularExpression>
#include <QSqlError>
#include <QSqlQuery>

#include "store/answer_wait.h"

namespace eh {
namespace {

Error no_version(const QSqlDatabase& database) {
    return {ErrorKind::unavailable, "the version of the database cannot be read",
            database.databaseName().toStdString()};
}

class SqliteDialect : public Dialect {
  public:
    QString begin() const override { return "BEGIN IMMEDIATE"; }
    QString for_update() const override { return ""; }
    QString key_column() const override { return "INTEGER PRIMARY KEY"; }
    QString bytes() const override { return "BLOB"; }
    QString in_key_order() const override { return " WITHOUT ROWID"; }

    QStringList make_search() const override {
        return {
            "CREATE VIRTUAL TABLE search USING fts5(words, tokenize = 'unicode61 remove_diacritics 2', "
            "prefix = '2 3')",
            "CREATE TRIGGER search_goes AFTER DELETE ON jobs BEGIN DELETE FROM search WHERE rowid = "
            "old.key; END"};
    }
    QStringList write_search() const override {
        return {"INSERT OR REPLACE INTO search (rowid, words) VALUES (?, ?)"};
    }
    QString search_condition() const override {
        return "jobs.key IN (SELECT rowid FROM search WHERE search MATCH ?)";
    }
    QString question(const QStringList& words) const override {
        QStringList terms;
        for (const QString& word : words)
            terms << "\"" + word + "\"*";
        return terms.join(" ");
    }

    Result<int> version(QSqlDatabase& database) const override {
        QSqlQuery query(database);
        if (!query.exec("PRAGMA user_version") || !query.next())
            return no_version(database);
        return query.value(0).toInt();
    }
    Outcome set_version(QSqlDatabase& database, int version) const override {
        return run_sql(database, QString("PRAGMA user_version = %1").arg(version), "Marking the version");
    }
};

class PostgresDialect : public Dialect {
  public:
    QString begin() const override { return "BEGIN"; }
    QString for_update() const override { return " FOR UPDATE"; }
    QString key_column() const override { return "BIGINT GENERATED ALWAYS AS IDENTITY PRIMARY KEY"; }
    QString bytes() const override { return "BYTEA"; }
    QString in_key_order() const override { return ""; }

    // Accents are taken off by the words themselves, see words_of(): the server's own function for it is an
    // extension that not every server has.
    QStringList make_search() const override {
        return {
            "CREATE TABLE search (job BIGINT PRIMARY KEY REFERENCES jobs(key) ON DELETE CASCADE, words "
            "TSVECTOR NOT NULL)",
            "CREATE INDEX search_words ON search USING gin (words)"};
    }
    QStringList write_search() const override {
        return {
            "INSERT INTO search (job, words) VALUES (?, to_tsvector('simple', ?)) ON CONFLICT (job) DO "
            "UPDATE SET words = excluded.words"};
    }
    QString search_condition() const override {
        return "jobs.key IN (SELECT job FROM search WHERE words @@ to_tsquery('simple', ?))";
    }
    QString question(const QStringList& words) const override {
        QStringList terms;
        for (const QString& word : words)
            terms << word + ":*";
        return terms.join(" & ");
    }

    // Kept among the marks of the shop, which make_tables() has made before it sets a version.
    Result<int> version(QSqlDatabase& database) const override {
        const AnswerWait wait(database);
        QSqlQuery query(database);
        if (!query.exec("SELECT to_regclass('shop_marks') IS NOT NULL") || !query.next())
            return no_version(database);
        if (!query.value(0).toBool())
            return 0;
        if (!query.exec("SELECT value FROM shop_marks WHERE name = 'version'") || !query.next())
            return no_version(database);
        return query.value(0).toInt();
    }
    Outcome set_version(QSqlDatabase& database, int version) const override {
        return run_sql(
            database,
            QString("INSERT INTO shop_marks (name, value) VALUES ('version', %1) ON CONFLICT (name) DO "
                    "UPDATE SET value = excluded.value")
                .arg(version),
            "Marking the version");
    }
};

}  // namespace

const Dialect& sqlite_dialect() {
    static const SqliteDialect dialect;
    return dialect;
}

const Dialect& postgres_dialect() {
    static const PostgresDialect dialect;
    return dialect;
}

QStringList words_of(const QString& text) {
    // Letters with accents fall apart into the letter and its mark, which is then left out.
    static const QRegularExpression marks(QStringLiteral("\\p{Mn}+"));
    static const QRegularExpression others(QStringLiteral("[^\\p{L}\\p{N}]+"));
    QString plain = text.normalized(QString::NormalizationForm_KD);
    plain.remove(marks);
    return plain.toLower().split(others, Qt::SkipEmptyParts);
}

Outcome run_sql(QSqlDatabase& database, const QString& statement, const char* doing) {
    const AnswerWait wait(database);
    QSqlQuery query(database);
    if (query.exec(statement))
        return Done{};
    return Error{ErrorKind::unavailable,
                 std::string(doing) + " failed: " + query.lastError().text().toStdString(),
                 database.databaseName().toStdString()};
}

}  // namespace eh
