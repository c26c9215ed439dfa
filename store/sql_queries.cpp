// SPDX-License-Identifier: GPL-3.0-or-later
// What the store is asked: the shelf, searches, likeness, counts. Loading and saving stand in sql_store.cpp.
#include <algorithm>
#include <cstring>

#include "core/shop/similar_jobs.h"
#include "store/answer_wait.h"
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
    summary.cure_work = work_from(text_at(11)).value_or(Work::other);
    summary.wait_note = text_at(12);
    return summary;
}

}  // namespace

// `rest` stands behind the columns and the table.
Result<std::vector<JobSummary>> SqlStore::summaries(const QString& rest, const QVariantList& values,
                                                    const char* doing) {
    std::vector<JobSummary> jobs;
    const Outcome read = each_row("SELECT " + summary_columns + " FROM jobs " + rest, values, doing,
                                  [&](const QSqlQuery& row) -> Outcome {
                                      jobs.push_back(summary_from(row));
                                      return Done{};
                                  });
    if (!read)
        return read.error();
    return jobs;
}

Result<std::vector<JobSummary>> SqlStore::list() {
    return summaries("ORDER BY updated_ms DESC, key DESC", {}, "Reading the jobs");
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
    return summaries("WHERE " + which + order + " LIMIT ?", values, "Reading the shelf");
}

Result<std::map<WaitsFor, int>> SqlStore::counts() {
    std::map<WaitsFor, int> counts;
    const Outcome read = each_row("SELECT waits, count(*) FROM jobs GROUP BY waits", {}, "Counting the shelf",
                                  [&](const QSqlQuery& row) -> Outcome {
                                      const std::string waits = row.value(0).toString().toStdString();
                                      if (const auto known = waits_for_from(waits))
                                          counts[*known] = row.value(1).toInt();
                                      return Done{};
                                  });
    if (!read)
        return read.error();
    return counts;
}

Result<std::vector<JobSummary>> SqlStore::search(const std::string& words, int most) {
    const QStringList asked = words_of(QString::fromStdString(words));
    if (asked.isEmpty())
        return std::vector<JobSummary>{};
    return summaries("WHERE " + dialect_.search_condition() + " ORDER BY key DESC LIMIT ?",
                     {dialect_.question(asked), most}, "Searching");
}

Result<std::vector<SimilarJob>> SqlStore::similar(const Job& job, int most) {
    const AnswerWait wait(database_);
    const JobSignature asked = signature_of(job);
    std::vector<JobSignature> signatures;
    std::vector<qlonglong> keys;
    const Outcome read = each_row(
        "SELECT job, items FROM signatures WHERE topology = ? AND job <> COALESCE((SELECT key FROM "
        "jobs WHERE id = ?), 0)",
        {sql_text(job.ticket.topology), sql_text(job.id)}, "Looking for similar jobs",
        [&](const QSqlQuery& row) -> Outcome {
            keys.push_back(row.value(0).toLongLong());
            signatures.push_back(signature_from(row.value(1).toByteArray()));
            return Done{};
        });
    if (!read)
        return read.error();
    std::vector<SimilarJob> found;
    for (const Likeness& likeness :
         most_alike(asked, signatures, static_cast<std::size_t>(std::max(0, most)))) {
        auto alike = summaries("WHERE key = ?", {QVariant::fromValue(keys[likeness.index])},
                               "Looking for similar jobs");
        if (!alike)
            return alike.error();
        for (const JobSummary& summary : *alike)
            found.push_back({summary, likeness.share, likeness.alike, likeness.compared});
    }
    return found;
}

Result<std::vector<ConfirmedRepair>> SqlStore::repairs() {
    std::vector<ConfirmedRepair> repairs;
    const Outcome read = each_row(
        "SELECT topology, cure_block, cure_work, count(*) FROM jobs WHERE cure_work <> '' GROUP BY "
        "topology, cure_block, cure_work ORDER BY topology, cure_block, cure_work",
        {}, "Counting the repairs", [&](const QSqlQuery& row) -> Outcome {
            repairs.push_back({row.value(0).toString().toStdString(), row.value(1).toString().toStdString(),
                               work_from(row.value(2).toString().toStdString()).value_or(Work::other),
                               row.value(3).toInt()});
            return Done{};
        });
    if (!read)
        return read.error();
    return repairs;
}

Result<int> SqlStore::jobs_on(const std::string& topology) {
    const auto jobs = count("SELECT count(*) FROM jobs WHERE topology = ?", {sql_text(topology)},
                            "Counting the jobs on a kind of machine");
    if (!jobs)
        return jobs.error();
    return static_cast<int>(*jobs);
}

Result<std::vector<Job>> SqlStore::heads(JobStage from) {
    std::vector<Job> jobs;
    const Outcome read = each_row(
        "SELECT id, stage, document FROM jobs JOIN documents ON job = key ORDER BY updated_ms DESC, "
        "key DESC",
        {}, "Reading the jobs", [&](const QSqlQuery& row) -> Outcome {
            const auto stage = job_stage_from(row.value(1).toString().toStdString());
            if (stage.value_or(JobStage::intake) < from)
                return Done{};
            auto head = head_from(row.value(2).toByteArray(), row.value(0).toString().toStdString());
            if (!head)
                return head.error();
            jobs.push_back(std::move(head).value());
            return Done{};
        });
    if (!read)
        return read.error();
    return jobs;
}

}  // namespace eh
