// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/survey.h"

#include <algorithm>

#include "core/inference/complaint.h"

namespace eh {

std::vector<BenchConfiguration> ways_unread(const MachinePlan& plan, const BenchConfiguration& now,
                                            const TakenReadings& taken,
                                            const std::vector<DangerFound>& dangers,
                                            const BenchCosts& costs) {
    std::vector<BenchConfiguration> left;
    for (const BenchConfiguration& way : ways_to_plug_in(plan.topology())) {
        BenchConfiguration at = plugged_into(plan.topology(), now);
        at.port = way.port;
        at.side = way.side;
        if (forbidding(dangers, at) == nullptr && !taken.hold(ReadingKind::meter, "", at))
            left.push_back(std::move(at));
    }
    std::vector<BenchConfiguration> ways;
    BenchConfiguration standing = now;
    while (!left.empty()) {
        const auto nearest = std::min_element(left.begin(), left.end(), [&](const auto& a, const auto& b) {
            return setup_minutes(standing, a, plan, costs) < setup_minutes(standing, b, plan, costs);
        });
        standing = *nearest;
        left.erase(nearest);
        ways.push_back(standing);
    }
    return ways;
}

double survey_minutes(const std::vector<BenchConfiguration>& ways, const BenchConfiguration& now,
                      const MachinePlan& plan, const BenchCosts& costs) {
    double minutes = 0.0;
    BenchConfiguration standing = now;
    for (const BenchConfiguration& way : ways) {
        minutes += setup_minutes(standing, way, plan, costs) +
                   costs.reading_minutes[static_cast<std::size_t>(ReadingKind::meter)];
        standing = way;
    }
    return minutes;
}

}  // namespace eh
