// SPDX-License-Identifier: GPL-3.0-or-later
// The readings of a job as rows of their own: written where they differ from what was last seen, added to
// those of another window after a conflict.
#include <QSqlError>

#include "core/base/text.h"
#include "core/readings/reading_json.h"
#include "store/answer_wait.h"
#include "store/packed_text.h"
#include "store/sql_store.h"
#include "store/sql_values.h"

namespace eh {
namespace {

// In the place of a document that is not known: of a reading that an earlier run took back.
const std::string taken_back;

}  // namespace

// Prepared once for all readings of a job.
QSqlQuery SqlStore::reading_writer() {
    const AnswerWait wait(database_);
    QSqlQuery query(database_);
    query.prepare(
        "INSERT INTO readings (job, id, position, document) VALUES (?, ?, ?, ?) ON CONFLICT (job, id) DO "
        "UPDATE SET position = excluded.position, document = excluded.document");
    return query;
}

Outcome SqlStore::write_reading(QSqlQuery& writer, const Reading& reading, std::size_t position,
                                qlonglong key) {
    writer.addBindValue(QVariant::fromValue(key));
    writer.addBindValue(sql_text(reading.id));
    writer.addBindValue(static_cast<int>(position));
    writer.addBindValue(pack_text(reading_to_text(reading)));
    const AnswerWait wait(database_);
    if (writer.exec())
        return Done{};
    return Error{ErrorKind::unavailable,
                 "Saving a reading failed: " + writer.lastError().text().toStdString(), place_};
}

Outcome SqlStore::take_back(const std::string& reading, qlonglong key) {
    return run("DELETE FROM readings WHERE job = ? AND id = ?", {QVariant::fromValue(key), sql_text(reading)},
               "Taking a reading back");
}

void SqlStore::set_taken_back(const std::string& job, const std::vector<std::string>& readings) {
    for (const std::string& reading : readings)
        written_[job].emplace(reading, taken_back);
}

std::vector<std::string> SqlStore::seen_readings(const std::string& job) const {
    std::vector<std::string> ids;
    if (const auto written = written_.find(job); written != written_.end()) {
        for (const auto& [id, document] : written->second)
            ids.push_back(id);
    }
    return ids;
}

Outcome SqlStore::write_readings(const Job& job, qlonglong key) {
    auto& written = written_[job.id];
    std::map<std::string, std::string> now;
    QSqlQuery writer = reading_writer();
    for (std::size_t i = 0; i < job.readings.size(); ++i) {
        const Reading& reading = job.readings[i];
        const std::string document = reading_to_text(reading);
        now[reading.id] = document;
        if (const auto known = written.find(reading.id); known != written.end() && known->second == document)
            continue;
        if (auto put = write_reading(writer, reading, i, key); !put)
            return put;
    }
    for (const auto& [id, document] : written) {
        if (now.count(id) != 0)
            continue;
        if (auto gone = take_back(id, key); !gone)
            return gone;
    }
    written = std::move(now);
    return Done{};
}

Outcome SqlStore::add_readings(const Job& job, qlonglong key) {
    std::map<std::string, std::string> there;
    const Outcome read =
        each_row("SELECT id, document FROM readings WHERE job = ?", {QVariant::fromValue(key)},
                 "Reading the job's readings", [&](const QSqlQuery& row) -> Outcome {
                     auto document = unpack_text(row.value(1).toByteArray(), "job " + job.id.text());
                     if (!document)
                         return document.error();
                     there[row.value(0).toString().toStdString()] = std::move(document).value();
                     return Done{};
                 });
    if (!read)
        return read.error();
    auto& written = written_[job.id];
    auto& names = stored_as_[job.id];
    const auto as_stored = [&](Reading reading) {
        if (const auto name = names.find(reading.id); name != names.end())
            reading.id = name->second;
        return reading;
    };
    // What this side took back goes there, too, unless the other side has changed it meanwhile.
    for (const auto& [id, document] : written) {
        const auto name = names.find(id);
        const auto other = there.find(name == names.end() ? id : name->second);
        if (other == there.end() || find_reading(job, id) != nullptr ||
            (document != taken_back && other->second != document))
            continue;
        if (auto gone = take_back(other->first, key); !gone)
            return gone;
        there.erase(other);
    }
    std::size_t position = there.size();
    QSqlQuery writer = reading_writer();
    for (const Reading& reading : job.readings) {
        const auto known = written.find(reading.id);
        const bool own = known == written.end();
        Reading added = as_stored(reading);
        const std::string text = reading_to_text(added);
        if (!own && known->second == text)
            continue;
        const auto other = there.find(added.id);
        const bool taken = other != there.end() && other->second != (own ? "" : known->second);
        if (taken && other->second == text)
            continue;
        if (taken && !own)
            continue;  // both have changed it; the other side's stands, as its other entries do
        for (int n = 1; own && there.count(added.id) != 0; ++n)
            added.id = "r" + integer_text(n);
        if (added.id != reading.id)
            names[reading.id] = added.id;
        there[added.id] = reading_to_text(added);
        if (auto put = write_reading(writer, added, position++, key); !put)
            return put;
    }
    // Counted as written: a second edit before the job is loaded again must not add them once more.
    written.clear();
    for (const Reading& reading : job.readings)
        written[reading.id] = reading_to_text(as_stored(reading));
    // So that the other side sees that there is more than it wrote.
    if (auto counted = run("UPDATE jobs SET revision = revision + 1 WHERE key = ?",
                           {QVariant::fromValue(key)}, "Saving the job");
        !counted)
        return counted.error();
    return Done{};
}

}  // namespace eh
