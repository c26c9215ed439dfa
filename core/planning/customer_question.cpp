// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/customer_question.h"

#include <algorithm>

#include "core/planning/contingency.h"

namespace eh {
namespace {

constexpr double does_not_know = 0.2;  // of the customers (estimate)
constexpr double least_bits = 0.02;    // less is not worth a line

}  // namespace

std::optional<CustomerQuestion> best_question(const Parties& parties, const PredictionTable& table,
                                              const std::vector<std::string>& asked,
                                              const BenchCosts& costs) {
    const FaultCatalogue& catalogue = table.plan().knowledge().catalogue;
    const auto& hypotheses = table.hypotheses();
    std::optional<CustomerQuestion> best;
    for (const IntakeFact& fact : catalogue.facts) {
        if (!(fact.share > 0.0) || std::find(asked.begin(), asked.end(), fact.id) != asked.end())
            continue;
        Contingency answers(parties);
        double yes = 0.0;
        for (std::size_t h = 0; h < hypotheses.size(); ++h) {
            const double so = fact_probability(fact, hypotheses[h].faults, catalogue);
            answers.add(h, {(1.0 - does_not_know) * so, (1.0 - does_not_know) * (1.0 - so), does_not_know});
            yes += parties.p_hypothesis[h] * so;
        }
        answers.finish(0.0);
        if (const double bits = answers.bits(); bits >= least_bits && (!best || bits > best->bits))
            best = CustomerQuestion{fact.id, fact.question, yes, bits, costs.ask_minutes};
    }
    return best;
}

}  // namespace eh
