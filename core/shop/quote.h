// SPDX-License-Identifier: GPL-3.0-or-later
// What a repair will take, from what is suspected: minutes and money with a band.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/inference/ranking.h"
#include "core/planning/bench_costs.h"

namespace eh {

// One way it may turn out.
struct QuoteCase {
    std::string what;  // "Surge protector of port 2 shorted"
    double probability = 0.0;
    double minutes = 0.0;  // of the repair, opening included
    double part_cost = 0.0;
    bool repairable = true;  // false: nothing wrong, or none of these
};

// The cases of a ranking: each hypothesis with the remedies of its faults as the bench stands. Ways with less
// than a thousandth are put together under "something else".
std::vector<QuoteCase> quote_cases(const Ranking& ranking, const PredictionTable& table,
                                   const BenchConfiguration& bench, const BenchCosts& costs);

struct QuoteTerms {
    double an_hour = 60.0;        // the shop's price of an hour
    double part_factor = 1.5;     // of the part's cost
    double fixed_minutes = 30.0;  // finding, proof, paper: in any case
    std::optional<double> worth;  // of the machine
    std::optional<double> limit;  // that the customer accepted
};

struct Quote {
    double minutes_median = 0.0;
    double minutes_90 = 0.0;  // enough in 9 of 10
    double price_median = 0.0;
    double price_90 = 0.0;
    double price_expected = 0.0;
    double not_repairable = 0.0;         // probability that nothing here can be repaired by this catalogue
    std::optional<double> within_limit;  // probability that the limit suffices
    std::vector<std::string> left_out;   // what the limit leaves out
    std::string advice;
};

// Minutes of a repair scatter by a factor (log-normal, 0.35): quantiles of the mixture over all cases by
// bisection of its distribution, whose price is an_hour times minutes plus part_factor times parts. A repair
// above 0.6 of the machine's worth in the median is advised against (common practice: a cheap old machine can
// be worth less than the work). Refuses lists without cases, probabilities that do not sum to 1 within 1 %,
// and terms below 0.
Result<Quote> make_quote(const std::vector<QuoteCase>& cases, const QuoteTerms& terms);

}  // namespace eh
