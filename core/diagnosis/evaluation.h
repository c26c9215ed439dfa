// Plays the technician on seeded faulty machines and counts how the reasoning does.
//
// Each machine: a hypothesis is drawn by its prior, a machine with it is drawn, readings are taken as
// next_acts() proposes until a repair is due, and the part named is compared with the one at fault.
#pragma once

#include <array>
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "core/diagnosis/next_act.h"

namespace eh {

struct EvaluationOptions {
    int machines = 100;
    std::uint64_t seed = 1;
    int most_readings = 25;         // then the leading part is named, due or not
    double noise_factor = 1.0;      // of the readings, against what the reasoning expects
    double tolerance_factor = 1.0;  // of the parts
    bool keep_cases = false;
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
    double stated = 0.0;  // with this probability
    bool right = false;
    double minutes = 0.0;
    std::vector<std::string> course;  // each reading in words, in order
};

struct EvaluationReport {
    int machines = 0;
    int right_first = 0;     // the part named is at fault
    int right_in_two = 0;    // it is among the first two
    int sure_and_wrong = 0;  // over 95 % on a wrong part
    double mean_minutes = 0.0;
    double mean_readings = 0.0;
    double calibration_error = 0.0;  // expected calibration error over the bins
    std::array<CalibrationBin, 10> bins{};
    std::map<std::string, FaultScore> by_fault;  // by id of the generating fault
    std::vector<EvaluationCase> cases;           // only when asked for
    bool stopped = false;
};

// Deterministic for a seed. "Nothing wrong" counts as right when it leads, as does a part at fault.
EvaluationReport evaluate(PredictionTable& table, const BenchCosts& costs, const EvaluationOptions& options,
                          const std::function<bool()>& stop = {},
                          const std::function<void(double)>& progress = {});

}  // namespace eh
