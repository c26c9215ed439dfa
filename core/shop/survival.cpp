#include "core/shop/survival.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace eh {
namespace {

constexpr double two_sided = 1.959964;

int at_risk(const std::vector<SurvivalCase>& cases, double days) {
    return static_cast<int>(
        std::count_if(cases.begin(), cases.end(), [&](const SurvivalCase& c) { return c.days >= days; }));
}

int returns_at(const std::vector<SurvivalCase>& cases, double days) {
    return static_cast<int>(std::count_if(
        cases.begin(), cases.end(), [&](const SurvivalCase& c) { return c.came_back && c.days == days; }));
}

}  // namespace

Result<std::vector<SurvivalStep>> kaplan_meier(std::vector<SurvivalCase> cases) {
    for (const SurvivalCase& each : cases)
        if (!(each.days >= 0.0))
            return refused("a case lasts no less than 0 days; look at its dates", "returns");
    std::sort(cases.begin(), cases.end(),
              [](const SurvivalCase& a, const SurvivalCase& b) { return a.days < b.days; });
    std::vector<SurvivalStep> curve;
    double holds = 1.0;
    double greenwood = 0.0;
    double last_high = 1.0;
    for (std::size_t i = 0; i < cases.size();) {
        const double days = cases[i].days;
        const int risk = static_cast<int>(cases.size() - i);
        int returns = 0;
        for (; i < cases.size() && cases[i].days == days; ++i)
            returns += cases[i].came_back;
        if (returns == 0)
            continue;
        holds *= 1.0 - static_cast<double>(returns) / risk;
        SurvivalStep step{days, risk, returns, holds, 0.0, 0.0, last_high};
        if (holds > 0.0) {
            greenwood += returns / (static_cast<double>(risk) * (risk - returns));
            step.error = holds * std::sqrt(greenwood);
            // log(-log S) has the standard error sqrt(greenwood) / |log S|.
            const double width = two_sided * std::sqrt(greenwood) / std::abs(std::log(holds));
            step.low = std::pow(holds, std::exp(width));
            step.high = std::pow(holds, std::exp(-width));
            last_high = step.high;
        }
        curve.push_back(step);
    }
    return curve;
}

double holds_after(const std::vector<SurvivalStep>& curve, double days) {
    double holds = 1.0;
    for (const SurvivalStep& step : curve)
        if (step.days <= days)
            holds = step.holds;
    return holds;
}

Result<LogRank> log_rank(const std::vector<SurvivalCase>& a, const std::vector<SurvivalCase>& b) {
    if (a.empty() || b.empty())
        return refused("a group without a case cannot be compared", "returns");
    std::set<double> moments;
    for (const auto* group : {&a, &b})
        for (const SurvivalCase& each : *group)
            if (each.came_back)
                moments.insert(each.days);
    if (moments.empty())
        return refused("nothing has come back yet in either group: there is nothing to compare", "returns");
    LogRank test;
    double variance = 0.0;
    for (const double days : moments) {
        const double risk_a = at_risk(a, days);
        const double risk = risk_a + at_risk(b, days);
        const double returns_a = returns_at(a, days);
        const double returns = returns_a + returns_at(b, days);
        test.observed[0] += returns_a;
        test.observed[1] += returns - returns_a;
        test.expected[0] += returns * risk_a / risk;
        test.expected[1] += returns * (risk - risk_a) / risk;
        if (risk > 1.0)
            variance += returns * (risk_a / risk) * (1.0 - risk_a / risk) * (risk - returns) / (risk - 1.0);
    }
    const double difference = test.observed[0] - test.expected[0];
    test.chi_squared = variance > 0.0 ? difference * difference / variance : 0.0;
    // Chi squared with one degree of freedom is the square of a normal.
    test.p = std::erfc(std::sqrt(0.5 * test.chi_squared));
    return test;
}

bool too_few(const std::vector<SurvivalCase>& cases) {
    const auto returns =
        std::count_if(cases.begin(), cases.end(), [](const SurvivalCase& c) { return c.came_back; });
    return static_cast<int>(cases.size()) < least_cases || returns < least_returns;
}

}  // namespace eh
