// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/job_import.h"

#include <QFileInfo>
#include <QUuid>

#include "app/format/text.h"
#include "core/base/files.h"
#include "core/job/job_schema.h"
#include "core/machine/knowledge/load_knowledge.h"

namespace eh {
namespace {

Result<Job> read_job(const QString& file) {
    const auto text = read_text_file(file.toStdString());
    if (!text)
        return text.error();
    const auto schema = JobSchema::load(default_data_directory());
    return schema ? admit_job(*text, QFileInfo(file).fileName().toStdString(), *schema)
                  : Result<Job>(schema.error());
}

}  // namespace

JobImport::JobImport(JobRepository& repository, QObject* parent) : QObject(parent), repository_(repository) {}

JobId JobImport::freshId() {
    return JobId::made(QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString());
}

void JobImport::start(const QString& file, Done done) {
    entries_.push_back({file, std::move(done)});
    if (entries_.size() == 1)
        next();
}

void JobImport::next() {
    reading_.start([file = entries_.front().file](const TaskControl&) { return read_job(file); },
                   [this](const Result<Job>& job) {
                       if (job)
                           compare(*job);
                       else
                           end(job.error());
                   });
}

void JobImport::compare(const Job& job) {
    if (!repository_.hasShop()) {
        end(std::optional<Job>(job));
        return;
    }
    // A later try would put the state that waits for the disk over the imported one.
    repository_.saveAgain([this, job](bool all) {
        if (!all) {
            end(Error{ErrorKind::unavailable,
                      "some entries are not on disk yet; make room on the disk first, then import",
                      {}});
            return;
        }
        repository_.ask<Result<Job>>(
            known_, [id = job.id](JobStore& store) { return store.load(id); },
            [this, job](const Result<Job>& known) { settle(known, job); });
    });
}

void JobImport::settle(const Result<Job>& known, const Job& file) {
    if (!known && known.error().kind != ErrorKind::not_found) {
        end(known.error());
        return;
    }
    const std::optional<Job> met = known ? meet(*known, file) : file;
    if (met)
        repository_.keep(*met);
    end(met);
}

std::optional<Job> JobImport::meet(const Job& known, const Job& file) {
    const auto what = differences(known, file);
    if (what.empty())
        return known;
    switch (ask_ ? ask_(known, what) : ImportChoice::cancel) {
        case ImportChoice::keep:
            return with_readings_of(known, file);
        case ImportChoice::take:
            return with_readings_of(file, known);
        case ImportChoice::copy: {
            Job copy = file;
            copy.id = freshId();
            copy.ticket.number = tr("%1 copy").arg(format::qt(file.ticket.number)).trimmed().toStdString();
            return copy;
        }
        case ImportChoice::cancel:
            break;
    }
    return std::nullopt;
}

void JobImport::end(const Result<std::optional<Job>>& job) {
    const Done done = std::move(entries_.front().done);
    entries_.pop_front();
    if (!entries_.empty())
        next();
    done(job);
}

}  // namespace eh
