// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/job_session.h"

#include "app/services/edit_job_command.h"

namespace eh {

JobSession::JobSession(JobRepository* repository, QObject* parent)
    : QObject(parent), repository_(repository) {}

void JobSession::open(const Job& job) {
    undo_.clear();
    job_ = job;
    has_job_ = true;
    emit opened();
    emit changed();
}

void JobSession::takeOver(const Job& job) {
    Q_ASSERT(has_job_ && job.id == job_.id);
    undo_.clear();
    job_ = job;
    emit changed();
}

void JobSession::close() {
    if (!has_job_)
        return;
    undo_.clear();
    has_job_ = false;
    job_ = {};
    emit closed();
}

void JobSession::edit(const QString& text, const std::function<void(Job&)>& change, const QString& merge) {
    Q_ASSERT(has_job_);
    Job after = job_;
    change(after);
    if (after == job_)
        return;
    undo_.push(new EditJobCommand(*this, text, job_, after, merge));
}

void JobSession::amend(const std::function<void(Job&)>& change) {
    Q_ASSERT(has_job_);
    Job after = job_;
    change(after);
    if (after != job_)
        put(after, JobRepository::Pace::at_once);
}

std::string JobSession::addReading(Reading reading, const AlsoChange& also) {
    std::string id = fresh_id(job_, "r");
    reading.id = id;
    edit(tr("Reading"), [&](Job& job) {
        job.readings.push_back(reading);
        if (job.stage == JobStage::intake)
            job.stage = JobStage::bench;
        if (also)
            also(job, id);
    });
    return id;
}

void JobSession::put(const Job& job, JobRepository::Pace pace) {
    job_ = job;
    if (repository_ != nullptr)
        repository_->keep(job_, pace);
    emit changed();
}

}  // namespace eh
