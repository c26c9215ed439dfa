// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/survey_run.h"

#include <QTimer>

namespace eh {

SurveyRun::SurveyRun(JobSession& session, QObject* parent) : QObject(parent), session_(session) {
    connect(&session_, &JobSession::changed, this, &SurveyRun::follow);
    connect(&session_, &JobSession::opened, this, &SurveyRun::stop);
    connect(&session_, &JobSession::closed, this, &SurveyRun::stop);
}

void SurveyRun::start(std::vector<BenchConfiguration> ways) {
    left_ = std::move(ways);
    asked_ = false;
    askForNext();
}

void SurveyRun::stop() {
    if (left_.empty())
        return;
    left_.clear();
    emit ended();
}

// Not from within the edit that brought the reading: the bench is set up by an edit of its own.
void SurveyRun::askForNext() {
    asked_ = false;
    QTimer::singleShot(0, this, [this] {
        if (left_.empty() || !session_.hasJob())
            return;
        readings_ = session_.job().readings.size();
        const BenchConfiguration way = left_.front();
        emit due(way);
        asked_ = true;
    });
}

void SurveyRun::follow() {
    if (left_.empty() || !asked_)
        return;
    const Job& job = session_.job();
    if (job.readings.size() > readings_) {
        const Reading& last = job.readings.back();
        readings_ = job.readings.size();
        const bool read = last.kind() == ReadingKind::meter &&
                          electrical_part(last.configuration) == electrical_part(left_.front());
        if (!read)
            return;
        left_.erase(left_.begin());
        if (left_.empty())
            emit ended();
        else
            askForNext();
    } else if (job.readings.size() < readings_ ||
               electrical_part(job.bench) != electrical_part(left_.front())) {
        stop();
    }
}

}  // namespace eh
