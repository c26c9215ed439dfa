// SPDX-License-Identifier: GPL-3.0-or-later
// The subcommands of eager-hound-cli: the same core without a window, JSON in and out.
#pragma once

#include <nlohmann/json.hpp>
#include <string>

#include "core/base/result.h"
#include "core/inference/architectures.h"
#include "core/job/job.h"
#include "core/machine/model/knowledge.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/planning/bench_costs.h"
#include "core/planning/next_act.h"
#include "core/shop/advice.h"
#include "evaluation/evaluation.h"
#include "report/handover_html.h"

namespace eh::cli {

struct Shop {
    Knowledge knowledge;
    BenchCosts costs;
    std::vector<AdviceRule> advice;
    DesignLesson learnt = {};                 // of earlier machines of the kind that is asked about
    std::vector<ReadingKind> not_owned = {};  // readings that no instrument of the shop takes
};

// Data files of the program.
Result<Shop> load_shop();

// The text of a file; "-" reads standard input.
Result<std::string> read_input(const std::string& file);

// A job file; "-" reads standard input.
Result<Job> read_job(const std::string& file);

// What job files teach of the kind of machine that they are all of; refused where one holds no lesson.
Result<DesignLesson> read_lessons(const std::vector<std::string>& files);

// One kind of machine, with what was simulated of it so far: a second question costs less than the first.
class MachineUnderTest {
  public:
    // Both outlive it.
    MachineUnderTest(const Shop& shop, const Topology& topology);
    [[nodiscard]] Suspects suspects(const Job& job) const;
    // The answers of diagnose() and next(), from these suspects.
    [[nodiscard]] nlohmann::json diagnosis(const Job& job, const Suspects& suspects, bool explanations) const;
    [[nodiscard]] nlohmann::json next(const Job& job, const Suspects& suspects, std::size_t most) const;
    // The answer of hour().
    [[nodiscard]] nlohmann::json hour(const Job& job, const Suspects& suspects, double minutes) const;
    // The answer of design().
    [[nodiscard]] nlohmann::json design(const Job& job, const std::string& proved) const;

  private:
    [[nodiscard]] Beforehand beforehand(const Job& job) const;
    [[nodiscard]] BenchConfiguration standing(const Job& job) const;
    [[nodiscard]] NextOptions next_options(const Job& job, std::size_t most) const;

    const Shop* shop_;
    Topology topology_;  // with the ohms that were learnt of its kind
    FittedPlan plan_;
    Reasoner reasoner_;
};

// Suspects with the reasons, odd readings, readings that were refused; with `explanations` also what stands
// behind the suspects, one by one.
Result<nlohmann::json> diagnose(const Shop& shop, const Job& job, bool explanations = false);

// What the readings tell of the design of the machine, and what it teaches of its kind if `proved` is the
// part that was at fault ("": nobody knows). Refused where there is no such part.
Result<nlohmann::json> design(const Shop& shop, const Job& job, const std::string& proved);

// How the machine of a job may be built, by its inlets and readings, whatever its ticket says.
Result<nlohmann::json> architectures(const Shop& shop, const Job& job);

// What to do next from how the machine stands.
Result<nlohmann::json> next(const Shop& shop, const Job& job, std::size_t most);

// What would be done in the next so many minutes, and where what is seen forks the way.
Result<nlohmann::json> hour(const Shop& shop, const Job& job, double minutes);

struct SimulateOptions {
    std::string topology;
    std::vector<FaultInstance> faults;
    BenchConfiguration configuration;  // an empty port means the first one
    std::uint64_t seed = 0;            // 0: all parts nominal
    double seconds = 20.0;
    double rate_hz = 0.0;  // above 0: the meter's stream is part of the answer
};

// What instruments show on a machine: settled meter, volts of every net, ohms of every net, warmest parts.
Result<nlohmann::json> simulate(const Shop& shop, const SimulateOptions& options);

// Whose machines an evaluation plays on: of the makers that the library of designs holds, or of others.
enum class EvaluationWorld { both, home, strangers };

// Plays the technician on seeded machines of a topology, or of all when empty: at home as the options say,
// and among strangers, whose machines the answer then has under "strangers".
Result<nlohmann::json> evaluate(const Shop& shop, const std::string& topology,
                                const EvaluationOptions& options, EvaluationWorld world);

// The handover sheet as HTML text.
Result<std::string> report(const Shop& shop, const Job& job, const std::string& shop_name,
                           SheetLength length);

}  // namespace eh::cli
