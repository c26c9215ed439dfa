// SPDX-License-Identifier: GPL-3.0-or-later
// One reading against every sample of every hypothesis: internal to the ranking.
#pragma once

#include <functional>
#include <memory>
#include <vector>

#include "core/inference/likelihood.h"
#include "core/prediction/prediction_table.h"

namespace eh {

// By hypothesis, then by sample; nothing for "none of these". Hypotheses that show the same share what was
// worked out.
struct ReadingFit {
    ReadingTerms terms;
    std::vector<std::shared_ptr<const std::vector<SampleTerms>>> samples;
};

// Whether a reading is weighed at all: it is not set aside, and check_reading has nothing against it.
bool counts(const Reading& reading, const MachinePlan& plan);

// The column of numbers that the multimeter shows with the machine off, computed if it is missing; nullptr
// when stopped. Requires is_unpowered(reading.kind()) and a place of the plan.
std::shared_ptr<const NumberColumn> number_column(PredictionTable& table, const Reading& reading,
                                                  const std::function<bool()>& stop = {});

// Computes missing columns. Requires counts(reading).
ReadingFit fit_of(PredictionTable& table, const Reading& reading, const AccuracyOptions& accuracy);

// Weighs at which contact of an inlet something was seen. Requires a look.
void add_contact(ReadingFit& fit, const PredictionTable& table, const Reading& reading);

// The same once another reading at the same place is known (core/inference/repeats.h).
void take_again(ReadingFit& fit, const Reading& reading, const Reading& before,
                const AccuracyOptions& accuracy);

}  // namespace eh
