// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shop/quote.h"

#include <cmath>
#include <functional>

#include "core/base/text.h"

namespace eh {
namespace {

constexpr double scatter = 0.35;  // of the logarithm of a repair's minutes
constexpr double least_probability = 1e-3;
constexpr double worth_share = 0.6;
constexpr double unknown_minutes = 45.0;  // spent before giving up on what the catalogue does not hold

double below(double value, double median) {
    if (median <= 0.0)
        return 1.0;
    if (value <= 0.0)
        return 0.0;
    return 0.5 * std::erfc(-std::log(value / median) / (scatter * std::sqrt(2.0)));
}

// Where the mixture's distribution function reaches `share`.
double quantile(const std::function<double(double)>& distribution, double share) {
    double low = 0.0;
    double high = 1.0;
    while (distribution(high) < share && high < 1e9)
        high *= 2.0;
    constexpr int halvings = 60;
    for (int i = 0; i < halvings; ++i) {
        const double middle = 0.5 * (low + high);
        (distribution(middle) >= share ? high : low) = middle;
    }
    return high;
}

}  // namespace

std::vector<QuoteCase> quote_cases(const Ranking& ranking, const PredictionTable& table,
                                   const BenchConfiguration& bench, const BenchCosts& costs) {
    const MachinePlan& plan = table.plan();
    std::vector<QuoteCase> cases;
    QuoteCase rest{"something else", 0.0, 0.0, 0.0, true};
    for (const Suspicion& suspicion : ranking.suspicions) {
        const Hypothesis& hypothesis = table.hypotheses()[suspicion.hypothesis];
        QuoteCase one;
        one.what = hypothesis_title(hypothesis, plan);
        one.probability = suspicion.probability;
        one.repairable = hypothesis.kind == HypothesisKind::fault;
        if (hypothesis.kind == HypothesisKind::none_of_these)
            one.minutes = unknown_minutes;
        for (const FaultInstance& fault : hypothesis.faults) {
            one.minutes += repair_minutes(fault, bench, plan, costs);
            const FaultSpec* spec = plan.knowledge().catalogue.find(fault.fault);
            if (spec != nullptr && !spec->remedies.empty())
                one.part_cost += spec->remedies.front().part_cost;
        }
        if (one.probability >= least_probability || !one.repairable) {
            cases.push_back(std::move(one));
            continue;
        }
        rest.minutes += one.probability * one.minutes;
        rest.part_cost += one.probability * one.part_cost;
        rest.probability += one.probability;
    }
    if (rest.probability > 0.0) {
        rest.minutes /= rest.probability;
        rest.part_cost /= rest.probability;
        cases.push_back(rest);
    }
    return cases;
}

Result<Quote> make_quote(const std::vector<QuoteCase>& cases, const QuoteTerms& terms) {
    double sum = 0.0;
    for (const QuoteCase& each : cases)
        sum += each.probability;
    if (cases.empty() || std::abs(sum - 1.0) > 0.01)
        return refused("there is no ranking to quote from: take a reading first", "quote");
    if (!(terms.an_hour >= 0.0 && terms.part_factor >= 0.0 && terms.fixed_minutes >= 0.0))
        return refused("prices and minutes are not below 0", "terms");
    Quote quote;
    const auto minutes_below = [&](double minutes) {
        double share = 0.0;
        for (const QuoteCase& each : cases)
            share += each.probability / sum * below(minutes - terms.fixed_minutes, each.minutes);
        return share;
    };
    const auto price_below = [&](double price) {
        double share = 0.0;
        for (const QuoteCase& each : cases) {
            const double for_work = price - terms.part_factor * each.part_cost;
            const double minutes = terms.an_hour > 0.0 ? 60.0 * for_work / terms.an_hour - terms.fixed_minutes
                                                       : (for_work >= 0.0 ? 1e12 : -1.0);
            share += each.probability / sum * (minutes < 0.0 ? 0.0 : below(minutes, each.minutes));
        }
        return share;
    };
    quote.minutes_median = quantile(minutes_below, 0.5);
    quote.minutes_90 = quantile(minutes_below, 0.9);
    quote.price_median = quantile(price_below, 0.5);
    quote.price_90 = quantile(price_below, 0.9);
    const double mean_factor = std::exp(0.5 * scatter * scatter);  // mean over median of a log-normal
    for (const QuoteCase& each : cases) {
        const double p = each.probability / sum;
        quote.price_expected +=
            p * (terms.an_hour / 60.0 * (terms.fixed_minutes + mean_factor * each.minutes) +
                 terms.part_factor * each.part_cost);
        if (!each.repairable)
            quote.not_repairable += p;
    }
    if (terms.limit) {
        quote.within_limit = price_below(*terms.limit);
        for (const QuoteCase& each : cases) {
            const double price = terms.an_hour / 60.0 * (terms.fixed_minutes + each.minutes) +
                                 terms.part_factor * each.part_cost;
            if (each.repairable && each.probability / sum >= 0.02 && price > *terms.limit)
                quote.left_out.push_back(each.what + " (" + percent_text(each.probability / sum) +
                                         "): its repair would cost more than the limit.");
        }
        if (quote.left_out.empty() && *quote.within_limit < 0.9)
            quote.left_out.emplace_back("Washing, soak and a second attempt may not be within the limit.");
    }
    if (terms.worth && quote.price_median > worth_share * *terms.worth)
        quote.advice =
            std::string("The repair comes near to what the machine is worth: say so before it is begun.");
    else if (terms.limit && *quote.within_limit < 0.5)
        quote.advice =
            std::string("The limit will more likely not suffice: agree on a step first, the finding alone.");
    else
        quote.advice = std::string("Worth doing.");
    return quote;
}

}  // namespace eh
