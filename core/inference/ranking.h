// SPDX-License-Identifier: GPL-3.0-or-later
// Suspects: the posterior over all hypotheses given the readings, with the reasons as data.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/inference/likelihood.h"
#include "core/inference/quirks.h"
#include "core/prediction/prediction_table.h"

namespace eh {

// What one reading says about one hypothesis.
struct Evidence {
    std::string reading_id;
    double log_likelihood = 0.0;  // of the reading when the hypothesis holds and those before it are known
    // By how much the reading changed the log of the probability, given those before it: above 0 it speaks
    // for the hypothesis, below 0 against it. Weights add up to log(probability / prior). Natural logarithm.
    double weight = 0.0;
};

struct Suspicion {
    std::size_t hypothesis = 0;  // index into PredictionTable::hypotheses()
    double prior = 0.0;
    double probability = 0.0;
    std::vector<Evidence> evidence;  // in the order of the readings that count
};

// Suspicion summed over all hypotheses in which one part is at fault, alone or with others, in a way that one
// kind of work puts right. A pack that is worn out and one that is too cold are two suspects.
struct PartSuspicion {
    std::string block;       // "" for nothing_wrong and none_of_these
    Work work = Work::none;  // kind_of_work
    HypothesisKind kind = HypothesisKind::fault;
    double probability = 0.0;
    std::size_t leading_hypothesis = 0;  // index into Ranking::suspicions
};

// A reading that no hypothesis of weight explains.
struct OddReading {
    std::string reading_id;
    double share_unexplained = 0.0;  // posterior probability that it is odd, 0..1
};

struct Ranking {
    std::vector<Suspicion> suspicions;  // most probable first; probabilities sum to 1
    std::vector<PartSuspicion> parts;   // most probable first; together over 1 where several may be at fault
    std::vector<OddReading> odd;        // more likely odd than not
    // By hypothesis of the table: how well each sample fits all readings, summing to 1; empty for "none of
    // these". What is to be expected next is expected of these samples.
    std::vector<std::vector<double>> sample_weights;
    // Log of how likely the readings that count are together, whatever is wrong: for comparing kinds of
    // machine by the same readings.
    double log_evidence = 0.0;
    QuirkBook quirks;  // what the readings have shown of each sample, by hypothesis of the table
};

// Whether the columns that a reading needs are in the table, so that rank() will be quick.
bool predictions_known(const PredictionTable& table, const std::vector<Reading>& readings);

// The column that a reading with the machine off is compared with, when it is known already, else nullptr.
// Requires is_unpowered(reading.kind) and a place of the plan.
std::shared_ptr<const NumberColumn> known_number_column(const PredictionTable& table, const Reading& reading);

// Computes the missing columns. False when stopped.
bool prepare(PredictionTable& table, const std::vector<Reading>& readings,
             const std::function<bool()>& stop = {}, const std::function<void(double)>& progress = {});

// Exact sums in log space over all hypotheses and, within each, over its samples: a sample is one machine,
// whose parts, severity and quirks stay the same from reading to reading, so that a reading which repeats
// another adds little. `priors` are by hypothesis and sum to 1 (make_hypotheses with the intake's facts).
// Readings that are set aside, or that check_reading refuses, do not count. Computes missing columns. `stop`
// is asked at each reading and each hypothesis; once it says true the ranking comes back empty.
Ranking rank(PredictionTable& table, const std::vector<double>& priors, const std::vector<Reading>& readings,
             const AccuracyOptions& accuracy = {}, const std::function<bool()>& stop = {});

// Log likelihood of each reading that counts under each hypothesis by itself: [reading][hypothesis]. Computes
// missing columns. `stop` is asked at each reading; once it says true the rest is missing.
std::vector<std::vector<double>> likelihood_table(PredictionTable& table,
                                                  const std::vector<Reading>& readings,
                                                  const AccuracyOptions& accuracy = {},
                                                  const std::function<bool()>& stop = {});

// By hypothesis: how many of the readings that count the best fitting of its samples leaves unexplained,
// being several widths off or a word that it hardly ever shows; all of them for "none of these". Computes
// missing columns.
std::vector<std::size_t> unexplained_readings(PredictionTable& table, const std::vector<Reading>& readings,
                                              const AccuracyOptions& accuracy = {});

// Of the ways in which a part may be at fault, the one whose remedy puts most of them right, by probability;
// the more probable one of two alike. Of the ways that this kind of work puts right and that work done so
// far, as `now` tells it, has left there. Requires a part that still has such a fault.
FaultInstance fault_to_remedy(const Ranking& ranking, const PredictionTable& table, const std::string& block,
                              Work work, const BenchConfiguration& now = {});

// The kind of work that a fault of the catalogue calls for (core/machine/model/fault.h).
Work work_for(const FaultInstance& fault, const FaultCatalogue& catalogue);

// That a part is at fault in any way.
double suspicion_of(const Ranking& ranking, const std::string& block);

// The priors of hypotheses, in their order.
std::vector<double> priors_of(const std::vector<Hypothesis>& hypotheses);

}  // namespace eh
