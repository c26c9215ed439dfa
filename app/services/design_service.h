// SPDX-License-Identifier: GPL-3.0-or-later
// What the readings of the job on the bench tell of its machine's design, worked out in the background; and
// what it teaches of its kind, once its repair is proved.
#pragma once

#include <QObject>
#include <map>
#include <memory>
#include <vector>

#include "app/services/diagnosis_service.h"
#include "app/services/job_session.h"
#include "app/services/latest_task.h"
#include "core/inference/architectures.h"

namespace eh {

struct KnownDesign {
    std::shared_ptr<Engine> engine;
    // How it may be built, by its inlets: the likeliest first. One where nothing else looks the same.
    std::vector<ArchitectureShare> architectures;
    std::vector<HabitKnown> habits;  // of this kind of machine, in the order of the makers' list
    std::vector<Reading> readings;
    std::vector<TaughtMachine> teachers;
    // Where nobody has looked inside: parts that not all of the kinds have that it may still be.
    std::vector<std::string> unsure_parts;
};

class DesignService : public QObject {
    Q_OBJECT
  public:
    // All outlive it.
    DesignService(JobSession& session, DiagnosisService& diagnosis, const Knowledge& knowledge,
                  QObject* parent = nullptr);

    // Asks about the answer that stands; `known` follows, unless another question comes before. False where
    // nothing stands yet.
    bool ask();
    void cancel();

  signals:
    void known(const KnownDesign& design);
    // How it may be built, without its habits: after each answer where nobody has looked inside, and where
    // hardly anything that is known fits the readings; empty where there is no such reason.
    void kindsWeighed(const KnownDesign& design);
    void progressed(double share);  // 0..1
    void taught(const Job& job);    // its lesson came, or went

  private:
    bool start(bool with_habits);
    [[nodiscard]] bool kindIsInDoubt() const;
    [[nodiscard]] bool kindIsOpen() const;
    void watchKind();
    void learnOrForget();
    void keep(const Job& asked, const std::string& part, const std::optional<DesignLesson>& lesson);

    JobSession& session_;
    // Engines of the kinds that look the same, made and used in the background.
    using Others = std::map<std::string, std::shared_ptr<Engine>>;

    DiagnosisService& diagnosis_;
    const Knowledge& knowledge_;
    std::shared_ptr<Others> others_ = std::make_shared<Others>();
    std::optional<JobId> learning_;  // of which job a lesson is being worked out
    bool kind_was_open_ = false;
    LatestTask<KnownDesign> asking_;
    LatestTask<std::optional<DesignLesson>> lesson_;  // last: it is waited for before the rest goes
};

}  // namespace eh
