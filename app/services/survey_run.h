// SPDX-License-Identifier: GPL-3.0-or-later
// The survey while it is taken: which way to plug in comes next, until all were read.
#pragma once

#include <QObject>
#include <vector>

#include "app/services/job_session.h"
#include "core/machine/model/bench_configuration.h"

namespace eh {

// Ends by itself once all ways were read, the machine is made to stand otherwise, a reading is taken back or
// another job is opened.
class SurveyRun : public QObject {
    Q_OBJECT
  public:
    // The session outlives it.
    explicit SurveyRun(JobSession& session, QObject* parent = nullptr);

    // Asks for the first of them; requires a job and at least one way.
    void start(std::vector<BenchConfiguration> ways);
    void stop();

    // Still to be read, the one that is due first; empty where none is under way.
    [[nodiscard]] const std::vector<BenchConfiguration>& left() const { return left_; }

  signals:
    void due(const eh::BenchConfiguration& way);  // plug in like this and read the meter
    void ended();

  private:
    void follow();
    void askForNext();

    JobSession& session_;
    std::vector<BenchConfiguration> left_;
    std::size_t readings_ = 0;  // of the job, when the way that is due was asked for
    bool asked_ = false;        // the bench was told how to stand for it
};

}  // namespace eh
