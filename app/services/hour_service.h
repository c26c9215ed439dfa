// SPDX-License-Identifier: GPL-3.0-or-later
// The plan of the next hour for the job on the bench, worked out in the background.
#pragma once

#include <QObject>
#include <optional>

#include "app/services/diagnosis_service.h"
#include "app/services/job_session.h"
#include "app/services/latest_task.h"
#include "core/planning/hour_plan.h"

namespace eh {

struct PlannedHour {
    std::shared_ptr<Engine> engine;
    HourPlan plan;
};

class HourService : public QObject {
    Q_OBJECT
  public:
    // Both outlive it.
    HourService(JobSession& session, DiagnosisService& diagnosis, QObject* parent = nullptr);

    // Asks from the answer that stands; `planned` follows, unless another question comes before, or it is
    // cancelled. False where no answer stands.
    bool ask();
    void cancel() { task_.forget(); }

  signals:
    void planned(const eh::PlannedHour& hour);
    void progressed(double share);  // 0..1

  private:
    JobSession& session_;
    DiagnosisService& diagnosis_;
    LatestTask<std::optional<HourPlan>> task_;  // last: it is waited for before the rest goes
};

}  // namespace eh
