// SPDX-License-Identifier: GPL-3.0-or-later
// What to ask the customer: facts of the intake that nobody has asked about, one at a time.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/planning/bench_costs.h"
#include "core/planning/parties.h"
#include "core/prediction/prediction_table.h"

namespace eh {

struct CustomerQuestion {
    std::string fact;   // of the catalogue
    std::string words;  // to be read out; answered with yes or no
    double yes = 0.0;   // probability that the answer is yes, where there is one
    double bits = 0.0;
    double minutes = 0.0;
    friend bool operator==(const CustomerQuestion&, const CustomerQuestion&) = default;
};

// The question that tells most about the part at fault; nothing where none tells as much as is worth a line.
// `asked` are facts that were answered, or that nobody knew. One customer in five does not know (estimate).
std::optional<CustomerQuestion> best_question(const Parties& parties, const PredictionTable& table,
                                              const std::vector<std::string>& asked, const BenchCosts& costs);

}  // namespace eh
