// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/hour_service.h"

namespace eh {

HourService::HourService(JobSession& session, DiagnosisService& diagnosis, QObject* parent)
    : QObject(parent), session_(session), diagnosis_(diagnosis) {
    connect(&session_, &JobSession::opened, this, &HourService::cancel);
    connect(&session_, &JobSession::closed, this, &HourService::cancel);
}

bool HourService::ask() {
    const Answer& answer = diagnosis_.answer();
    if (!session_.hasJob() || answer.engine == nullptr || answer.table == nullptr)
        return false;
    const Job& job = session_.job();
    task_.start(
        [answer, now = standing_of(job, answer.engine->plan), costs = diagnosis_.costs(),
         options = diagnosis_.optionsFor(job)](const TaskControl& control) {
            return plan_hour(
                *answer.table, answer.ranking, answer.readings, now, costs, options, {},
                [&control] { return control.stopped(); },
                [&control](double share) { (void)control.goes_on(share); });
        },
        [this, engine = answer.engine](std::optional<HourPlan> plan) {
            if (plan)
                emit planned({engine, std::move(*plan)});
        },
        [this](double share) { emit progressed(share); });
    return true;
}

}  // namespace eh
