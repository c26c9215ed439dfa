// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shop/survival.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>

namespace eh {
namespace {

constexpr double two_sided = 1.959964;

// A group's cases by their days, walked through moment by moment.
class Walk {
  public:
    explicit Walk(std::vector<SurvivalCase> cases) : cases_(std::move(cases)) {
        std::sort(cases_.begin(), cases_.end(),
                  [](const SurvivalCase& a, const SurvivalCase& b) { return a.days < b.days; });
    }
    // Moments must rise from call to call. Returns how many are at risk just before this one.
    double at_risk(double days) {
        while (next_ < cases_.size() && cases_[next_].days < days)
            ++next_;
        return static_cast<double>(cases_.size() - next_);
    }
    // Behind at_risk() of the same moment.
    [[nodiscard]] double returns_at(double days) const {
        int returns = 0;
        for (std::size_t i = next_; i < cases_.size() && cases_[i].days == days; ++i)
            returns += cases_[i].came_back ? 1 : 0;
        return returns;
    }

  private:
    std::vector<SurvivalCase> cases_;
    std::size_t next_ = 0;
};

// Days that are no number have no place in an order.
bool all_have_days(const std::vector<SurvivalCase>& cases) {
    return std::all_of(cases.begin(), cases.end(), [](const SurvivalCase& each) { return each.days >= 0.0; });
}

Error no_days() {
    return refused("a case lasts no less than 0 days; look at its dates", "returns");
}

}  // namespace

Result<std::vector<SurvivalStep>> kaplan_meier(std::vector<SurvivalCase> cases) {
    if (!all_have_days(cases))
        return no_days();
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
    const auto after =
        std::upper_bound(curve.begin(), curve.end(), days,
                         [](double moment, const SurvivalStep& step) { return moment < step.days; });
    return after == curve.begin() ? 1.0 : std::prev(after)->holds;
}

Result<LogRank> log_rank(const std::vector<SurvivalCase>& a, const std::vector<SurvivalCase>& b) {
    if (a.empty() || b.empty())
        return refused("a group without a case cannot be compared", "returns");
    if (!all_have_days(a) || !all_have_days(b))
        return no_days();
    std::set<double> moments;
    for (const auto* group : {&a, &b})
        for (const SurvivalCase& each : *group)
            if (each.came_back)
                moments.insert(each.days);
    if (moments.empty())
        return refused("nothing has come back yet in either group: there is nothing to compare", "returns");
    LogRank test;
    double variance = 0.0;
    Walk walk_a(a);
    Walk walk_b(b);
    for (const double days : moments) {
        const double risk_a = walk_a.at_risk(days);
        const double risk = risk_a + walk_b.at_risk(days);
        const double returns_a = walk_a.returns_at(days);
        const double returns = returns_a + walk_b.returns_at(days);
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
