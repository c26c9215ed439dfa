// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/job_session.h"

#include <algorithm>

#include "app/commands/edit_job_command.h"

namespace eh {

namespace {
constexpr int try_again_ms = 3000;
}

JobSession::JobSession(QObject* parent) : QObject(parent) {
    try_again_.setInterval(try_again_ms);
    connect(&try_again_, &QTimer::timeout, this, &JobSession::saveAgain);
}

void JobSession::setStore(JobStore* store) {
    store_ = store;
    try_again_.stop();
    if (unsaved_.empty())
        return;
    unsaved_.clear();
    emit unsavedChanged();
}

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

void JobSession::put(const Job& job) {
    job_ = job;
    if (store_ != nullptr) {
        if (const Outcome saved = save(job_); !saved)
            emit trouble(QString::fromStdString(saved.error().text()));
    }
    emit changed();
}

Outcome JobSession::save(const Job& job) {
    Outcome saved = store_->save(job);
    // After a conflict the readings are there; what else this side wrote, the other side's stands for.
    const bool there = saved || saved.error().kind == ErrorKind::conflict;
    const bool was_there = unsaved_.count(job.id) == 0;
    if (there)
        unsaved_.erase(job.id);
    else
        unsaved_.insert_or_assign(job.id, job);
    if (unsaved_.empty())
        try_again_.stop();
    else if (!try_again_.isActive())
        try_again_.start();
    if (there != was_there)
        emit unsavedChanged();
    return saved;
}

bool JobSession::saveAgain() {
    const auto waiting = unsaved_;
    for (const auto& [id, job] : waiting) {
        if (const Outcome saved = save(job); !saved && saved.error().kind == ErrorKind::conflict)
            emit trouble(QString::fromStdString(saved.error().text()));
    }
    return unsaved_.empty();
}

QStringList JobSession::unsaved() const {
    QStringList names;
    for (const auto& [id, job] : unsaved_)
        names << QString::fromStdString(job.ticket.number.empty() ? id.text() : job.ticket.number);
    return names;
}

const Job* JobSession::unsavedJob(const std::string& id) const {
    const auto found =
        std::find_if(unsaved_.begin(), unsaved_.end(), [&](const auto& entry) { return entry.first == id; });
    return found == unsaved_.end() ? nullptr : &found->second;
}

std::vector<Job> JobSession::unsavedJobs() const {
    std::vector<Job> jobs;
    for (const auto& [id, job] : unsaved_)
        jobs.push_back(job);
    return jobs;
}

}  // namespace eh
