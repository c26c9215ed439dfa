// SPDX-License-Identifier: GPL-3.0-or-later
// Plays the technician on seeded faulty machines and counts how the reasoning does.
//
// Each machine is drawn from a generating model that is not quite the one the reasoning knows
// (evaluation/generating_model.h); readings are taken as next_acts() proposes until a repair is due; then
// the repair named is compared with what was wrong. On the same machines the fixed orders of work can be
// played, with the same posterior and stopping rule, and an oracle that reasons with the generating model.
#pragma once

#include <array>
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "core/base/thread_pool.h"
#include "evaluation/bench_orders.h"
#include "evaluation/generating_model.h"

namespace eh {

struct EvaluationOptions {
    int machines = 100;
    std::uint64_t seed = 1;
    int most_readings = 25;  // then the leading part is named, due or not
    Perturbation perturbation;
    bool orders = false;  // play the fixed orders too
    bool oracle = false;  // play the oracle too
    bool keep_cases = false;
    int threads = machine_threads();
};

struct CalibrationBin {
    int machines = 0;
    double stated = 0.0;  // mean probability stated
    double right = 0.0;   // share that was right
};

struct FaultScore {
    int machines = 0;
    int right = 0;
};

// One machine of the run.
struct EvaluationCase {
    std::string truth;    // what was wrong, in words
    std::string named;    // what was named, in words
    std::string then;     // what stood second; empty where nothing did
    double stated = 0.0;  // with this probability
    bool right = false;
    bool right_in_two = false;
    double minutes = 0.0;
    std::vector<std::string> facts;
    std::vector<std::string> course;  // each reading in words, in order
};

// How one way of working did over all machines. "Right" is scored by remedy: the work named on the part named
// puts one of the faults right; "nothing wrong" is right where nothing is; "none of these" is right only
// where the effect is unknown.
struct PlayScore {
    int machines = 0;
    int right_first = 0;
    int right_in_two = 0;    // among the first two
    int sure_and_wrong = 0;  // over 95 % on a wrong part, or wrongly on nothing being wrong
    int sure_of_none = 0;    // over 95 % on "none of these" where it is one of these
    int none_leads = 0;      // "none of these" leads
    double mean_minutes = 0.0;
    double mean_readings = 0.0;
    double calibration_error = 0.0;  // expected calibration error over the bins
    std::array<CalibrationBin, 10> bins{};
};

struct EvaluationReport {
    PlayScore ours;
    PlayScore oracle;                                 // no machines when not asked for
    std::array<PlayScore, bench_order_count> orders;  // by BenchOrder; no machines when not asked for
    std::map<std::string, FaultScore> by_fault;       // by id of the generating fault, the first of several
    std::map<std::string, FaultScore> by_number;      // "nothing wrong", "one fault", "two faults", ...
    // By number of readings, from none on: how often what leads after so many is right; machines that took
    // fewer count as they ended.
    std::vector<FaultScore> by_readings;
    std::vector<EvaluationCase> cases;  // only when asked for
    bool stopped = false;
};

// The score of two disjoint sets of machines together.
PlayScore joined(const PlayScore& a, const PlayScore& b);

// Deterministic for a seed. Requires a topology of the knowledge.
EvaluationReport evaluate(const Knowledge& knowledge, const Topology& topology, const BenchCosts& costs,
                          const EvaluationOptions& options, const std::function<bool()>& stop = {},
                          const std::function<void(double)>& progress = {});

}  // namespace eh
