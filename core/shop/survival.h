// SPDX-License-Identifier: GPL-3.0-or-later
// How long repairs hold: survival of cases that have not all failed yet.
#pragma once

#include <vector>

#include "core/base/result.h"

namespace eh {

// One case: it came back after so many days, or had not by then.
struct SurvivalCase {
    double days = 0.0;
    bool came_back = false;
};

struct SurvivalStep {
    double days = 0.0;  // of a return
    int at_risk = 0;    // just before
    int returns = 0;
    double holds = 1.0;  // share that still holds from here on
    double error = 0.0;  // standard error (Greenwood)
    double low = 0.0;    // 95 % band, on the log-minus-log scale, so that it stays within 0 and 1
    double high = 1.0;
};

// Kaplan and Meier (1958). A case that had not come back counts as at risk through its last day. Steps only
// where something came back; none where nothing did. Refuses negative days. Where the share is 0 the band is
// 0 to the last upper bound.
Result<std::vector<SurvivalStep>> kaplan_meier(std::vector<SurvivalCase> cases);

// The share that holds after so many days.
double holds_after(const std::vector<SurvivalStep>& curve, double days);

struct LogRank {
    double chi_squared = 0.0;
    double p = 1.0;  // of a difference at least so large by chance
    double observed[2] = {0.0, 0.0};
    double expected[2] = {0.0, 0.0};
};

// The log-rank test of two groups (Mantel 1966; hypergeometric variance), one degree of freedom. Refuses
// groups without a case, negative days, and both without a return.
Result<LogRank> log_rank(const std::vector<SurvivalCase>& a, const std::vector<SurvivalCase>& b);

// Returns a group must have, and cases, before its curve is more than a hint (judgement).
inline constexpr int least_returns = 5;
inline constexpr int least_cases = 20;
bool too_few(const std::vector<SurvivalCase>& cases);

}  // namespace eh
