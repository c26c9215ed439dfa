// What the store is asked: the shelf, searches, likeness, counts. Loading and saving stand in sql_store.cpp.
#include <algorithm>
#include <cstring>

#include "core/shop/similar_jobs.h"
#include "store/sql_store.h"
#include "store/sql_values.h"

namespace eh {
namespace {

const QString summary_columns =
    "jobs.id, number, customer, machine, technician, stage, waits, due_ms, created_ms, updated_ms, "
    "cure_block, cure_work, wait_note";

JobSignature signature_from(const QByteArray& bytes) {
    JobSignature signature(static_cast<std::size_t>(bytes.size()) / sizeof(std::uint32_t));
    std::memcpy(signature.data(), bytes.constData(), signature.size() * sizeof(std::uint32_t));
    return signature;
}

JobSummary summary_from(const QSqlQuery& query) {
    const auto text_at = [&query](int column) { return query.value(column).toString().toStdString(); };
    JobSummary summary;
    summary.id = text_at(0);
    summary.number = text_at(1);
    summary.customer = text_at(2);
    summary.machine = text_at(3);
    summary.technician = text_at(4);
    summary.stage = job_stage_from(text_at(5)).value_or(JobStage::intake);
    summary.waits.on = waits_for_from(text_at(6)).value_or(WaitsFor::bench);
    summary.waits.due_ms = query.value(7).toLongLong();
    summary.created_ms = query.value(8).toLongLong();
    summary.updated_ms = query.value(9).toLongLong();
    summary.cure_block = text_at(10);
    summary.cure_work = text_at(11);
    summary.wait_note = text_at(12);
    return summary;
}

}  // namespace

Result<std::vector<JobSummary>> SqlStore::summaries(QSqlQuery& query) {
    std::vector<JobSummary> jobs;
    while (query.next())
        jobs.push_back(summary_from(query));
    return jobs;
}

Result<std::vector<JobSummary>> SqlStore::list() {
    auto rows = run("SELECT " + summary_columns + " FROM jobs ORDER BY updated_ms DESC, key DESC", {},
                    "Reading the jobs");
    if (!rows)
        return rows.error();
    QSqlQuery query = std::move(rows).value();
    return summaries(query);
}

Result<std::vector<JobSummary>> SqlStore::shelf(std::optional<WaitsFor> waits, int most) {
    // Jobs without a date stand behind those with one.
    const QString order = waits == WaitsFor::nothing
                              ? QString(" ORDER BY updated_ms DESC")
                              : QString(" ORDER BY due_ms = 0, due_ms, updated_ms DESC");
    const QString which = waits ? QString("waits = ?") : QString("waits <> 'nothing'");
    QVariantList values;
    if (waits)
        values << sql_text(to_text(*waits));
    values << most;
    auto rows = run("SELECT " + summary_columns + " FROM jobs WHERE " + which + order + " LIMIT ?", values,
                    "Reading the shelf");
    if (!rows)
        return rows.error();
    QSqlQuery query = std::move(rows).value();
    return summaries(query);
}

Result<std::map<WaitsFor, int>> SqlStore::counts() {
    auto rows = run("SELECT waits, count(*) FROM jobs GROUP BY waits", {}, "Counting the shelf");
    if (!rows)
        return rows.error();
    QSqlQuery query = std::move(rows).value();
    std::map<WaitsFor, int> counts;
    while (query.next()) {
        if (const auto waits = waits_for_from(query.value(0).toString().toStdString()))
            counts[*waits] = query.value(1).toInt();
    }
    return counts;
}

Result<std::vector<JobSummary>> SqlStore::search(const std::string& words, int most) {
    const QStringList asked = words_of(QString::fromStdString(words));
    if (asked.isEmpty())
        return std::vector<JobSummary>{};
    auto rows = run("SELECT " + summary_columns + " FROM jobs WHERE " + dialect_.search_condition() +
                        " ORDER BY key DESC LIMIT ?",
                    {dialect_.question(asked), most}, "Searching");
    if (!rows)
        return rows.error();
    QSqlQuery query = std::move(rows).value();
    return summaries(query);
}

Result<std::vector<SimilarJob>> SqlStore::similar(const Job& job, int most) {
    const JobSignature asked = signature_of(job);
    auto rows =
        run("SELECT job, items FROM signatures WHERE topology = ? AND job <> COALESCE((SELECT key FROM "
            "jobs WHERE id = ?), 0)",
            {sql_text(job.ticket.topology), sql_text(job.id)}, "Looking for similar jobs");
    if (!rows)
        return rows.error();
    QSqlQuery query = std::move(rows).value();
    std::vector<JobSignature> signatures;
    std::vector<qlonglong> keys;
    while (query.next()) {
        keys.push_back(query.value(0).toLongLong());
        signatures.push_back(signature_from(query.value(1).toByteArray()));
    }
    std::vector<SimilarJob> found;
    for (const Likeness& likeness :
         most_alike(asked, signatures, static_cast<std::size_t>(std::max(0, most)))) {
        auto row = run("SELECT " + summary_columns + " FROM jobs WHERE key = ?",
                       {QVariant::fromValue(keys[likeness.index])}, "Looking for similar jobs");
        if (!row)
            return row.error();
        QSqlQuery one = std::move(row).value();
        if (one.next())
            found.push_back({summary_from(one), likeness.share, likeness.alike, likeness.compared});
    }
    return found;
}

Result<std::vector<ConfirmedRepair>> SqlStore::repairs() {
    auto rows =
        run("SELECT topology, cure_block, cure_work, count(*) FROM jobs WHERE cure_work <> '' GROUP BY "
            "topology, cure_block, cure_work ORDER BY topology, cure_block, cure_work",
            {}, "Counting the repairs");
    if (!rows)
        return rows.error();
    QSqlQuery query = std::move(rows).value();
    std::vector<ConfirmedRepair> repairs;
    while (query.next())
        repairs.push_back({query.value(0).toString().toStdString(), query.value(1).toString().toStdString(),
                           query.value(2).toString().toStdString(), query.value(3).toInt()});
    return repairs;
}

Result<int> SqlStore::jobs_on(const std::string& topology) {
    auto rows = run("SELECT count(*) FROM jobs WHERE topology = ?", {sql_text(topology)},
                    "Counting the jobs on a kind of machine");
    if (!rows)
        return rows.error();
    QSqlQuery query = std::move(rows).value();
    return query.next() ? query.value(0).toInt() : 0;
}

Result<std::vector<Job>> SqlStore::heads(JobStage from) {
    auto rows =
        run("SELECT id, stage, document FROM jobs JOIN documents ON job = key ORDER BY updated_ms DESC, "
            "key DESC",
            {}, "Reading the jobs");
    if (!rows)
        return rows.error();
    std::vector<Job> jobs;
    QSqlQuery query = std::move(rows).value();
    while (query.next()) {
        const auto stage = job_stage_from(query.value(1).toString().toStdString());
        if (stage.value_or(JobStage::intake) < from)
            continue;
        auto head = head_from(query.value(2).toByteArray(), query.value(0).toString().toStdString());
        if (!head)
            return head.error();
        jobs.push_back(std::move(head).value());
    }
    return jobs;
}

}  // namespace eh
