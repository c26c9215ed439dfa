// SPDX-License-Identifier: GPL-3.0-or-later
// Outcomes of a reading, coarse enough to be told apart at the bench: the alphabet in which next_act.h counts
// information. Internal to core/diagnosis.
#pragma once

#include <string>
#include <vector>

#include "core/machine/model/machine_plan.h"
#include "core/readings/accuracy.h"
#include "core/readings/reading.h"

namespace eh {

// By number of the outcome. Numbers are only meaningful within the same kind and place of reading.
using OutcomeShares = std::vector<double>;

// A number as it may come out: normal around its mean, on the scale of core/prediction/expectation.h.
struct Foreseen {
    double mean = 0.0;
    double width = 0.0;
};

// Edges between outcomes: on the logarithmic scales, and those that depend on the machine.
struct OutcomeEdges {
    std::vector<double> ln_amps;
    std::vector<double> ln_ohms;
    std::vector<double> pack_volts;
};
OutcomeEdges outcome_edges(const AccuracyOptions& accuracy, const MachinePlan& plan);

// Each adds `weight` over the outcomes that may come of what is expected.
void add_meter_outcomes(MeterPattern pattern, const Foreseen& volts, const Foreseen& ln_amps, double weight,
                        const OutcomeEdges& edges, OutcomeShares& shares);
void add_volts_outcomes(const Foreseen& volts, double weight, OutcomeShares& shares);
void add_ohms_outcomes(const Foreseen& ln_ohms, double weight, const OutcomeEdges& edges,
                       OutcomeShares& shares);
void add_pack_outcomes(const Foreseen& volts, double weight, const OutcomeEdges& edges,
                       OutcomeShares& shares);
// firmware, sign, wiggle, hot_part, injection
void add_word_outcomes(ReadingKind kind, const PoweredView& view, double weight,
                       const AccuracyOptions& accuracy, OutcomeShares& shares);

}  // namespace eh
