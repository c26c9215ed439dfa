// SPDX-License-Identifier: GPL-3.0-or-later
// The reasoning in the background: takes the job as it stands and answers with suspects, next acts and the
// charge path, as soon as each is known.
//
// Questions replace each other: only the newest one is answered. The interface thread never waits.
#pragma once

#include <QObject>
#include <map>
#include <memory>

#include "app/services/latest_task.h"
#include "core/inference/path_view.h"
#include "core/inference/reasoner.h"
#include "core/job/job.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/planning/next_act.h"
#include "core/prediction/prediction_cache.h"
#include "core/shop/kind_lessons.h"
#include "core/shop/shop_rates.h"

namespace eh {

// A topology with everything computed about it so far; shared by all jobs on it.
struct Engine {
    Engine(const Knowledge& knowledge, Topology its_own, const PredictionOptions& options = {})
        : topology(std::move(its_own)),
          plan(knowledge, topology),
          reasoner(std::make_shared<PredictionStore>(plan, options)) {}
    // A copy: what the shop describes itself may be changed while this is at work in the background.
    Topology topology;
    FittedPlan plan;
    Reasoner reasoner;
    // Of the background only: whether the predictions kept on disk were taken over, and whether they are all
    // there.
    bool restored = false;
    bool complete = false;
    // Its plan has ohms that other machines taught: predictions of it are not those of the topology, and are
    // kept nowhere.
    bool taught = false;
};

struct Answer {
    std::shared_ptr<Engine> engine;
    std::shared_ptr<PredictionTable> table;  // the hypotheses that were weighed
    Ranking ranking;
    NextStep next;
    Beforehand beforehand;                       // what was known of the job before its readings
    std::map<std::string, double> rate_factors;  // by fault, of the shop's own repairs
    std::vector<TaughtMachine> teachers;         // earlier machines of its kind
    bool next_complete = false;                  // all candidates were weighed
    PathView path;
    std::vector<Reading> readings;  // that were reasoned over
};

// How the bench of a job stands; at the first port where it names none of this machine.
BenchConfiguration standing_of(const Job& job, const MachinePlan& plan);

class DiagnosisService : public QObject {
    Q_OBJECT
  public:
    DiagnosisService(const Knowledge& knowledge, const BenchCosts& costs, QObject* parent = nullptr);

    // Asks about a job. An unknown topology yields `refused`.
    void ask(const Job& job);
    // Instruments owned and school; counts from the next question on.
    void setNextOptions(const NextOptions& options) { next_options_ = options; }
    // They, with what the job says of nets, questions and joints that were warmed.
    [[nodiscard]] NextOptions optionsFor(const Job& job) const;
    [[nodiscard]] const BenchCosts& costs() const { return costs_; }
    // What the shop's own repairs make of the shipped rates; counts from the next question on.
    void setShopRates(const ShopRates& rates) { shop_rates_ = rates; }
    [[nodiscard]] const ShopRates& shopRates() const { return shop_rates_; }
    // What earlier machines taught of their kinds; counts from the next question on.
    void setTaught(std::vector<TaughtMachine> taught) { taught_ = std::move(taught); }
    [[nodiscard]] const std::vector<TaughtMachine>& taught() const { return taught_; }
    // Takes predictions from a folder and keeps them there; counts from the next question on.
    void keepPredictionsIn(const std::filesystem::path& folder) { cache_.emplace(folder, this_program()); }
    // How finely machines are drawn; counts for topologies that nothing was asked about yet.
    void drawAs(const PredictionOptions& options) { prediction_options_ = options; }
    // Forgets the question that is being worked on.
    void cancel();
    // As before the first question: no answer stands.
    void clear();
    // The topology is another one from now on: what was worked out about it is forgotten.
    void forget(const std::string& topology_id);

    [[nodiscard]] const Answer& answer() const { return answer_; }
    // What stands to be cured by the present answer; nothing where it was worked out for other readings or
    // another machine.
    [[nodiscard]] SaidBefore saidOf(const Job& job, std::int64_t now_ms) const;
    [[nodiscard]] bool busy() const { return busy_; }
    [[nodiscard]] std::shared_ptr<Engine> engineFor(const std::string& topology_id);

  signals:
    void answered();                // answer() is newer than before
    void progressed(double share);  // 0..1 of the tables that this question needs
    void finished();                // nothing more will come for this question
    void refused(const QString& sentence);

  private:
    // What a question is answered with, beside the job itself.
    struct Question {
        std::shared_ptr<Engine> engine;
        NextOptions options;
        std::map<std::string, double> rate_factors;
        std::vector<TaughtMachine> teachers;
        DesignLesson lesson;  // theirs together
    };
    // The engine of the topology, with sound ohms that were learnt; nullptr where there is no such topology.
    std::shared_ptr<Engine> engineFor(const std::string& topology_id, const DesignLesson& lesson);
    void work(const Question& question, const Job& job, const TaskControl& control);
    // Works out what any job on the topology may need, and keeps it on disk.
    void completeTables(Engine& engine, const std::function<bool()>& stale) const;
    void deliver(const TaskControl& control, const Answer& answer, bool last);

    const Knowledge& knowledge_;
    BenchCosts costs_;
    NextOptions next_options_;
    ShopRates shop_rates_;
    std::optional<PredictionCache> cache_;
    PredictionOptions prediction_options_;
    std::vector<TaughtMachine> taught_;
    std::map<std::string, std::shared_ptr<Engine>> engines_;
    // The last one with learnt ohms, and which those are.
    std::shared_ptr<Engine> taught_engine_;
    std::map<std::string, double> taught_ohms_;
    Answer answer_;
    bool busy_ = false;
    LatestTask<bool> task_;  // last: it is waited for before the rest goes
};

}  // namespace eh
