// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shop/own_hits.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "core/base/text.h"
#include "core/shop/shop_rates.h"

namespace eh {
namespace {

constexpr double clear_z = 1.959963984540054;

// Whether what was said is what cured: work on the part itself, of whatever kind, or the very same way of
// leaving it as it is.
bool is_what_cured(const SaidRepair& said, const ConfirmedRepair& cured) {
    return said.block == cured.block && (said.work == cured.work || cured.work == Work::other ||
                                         (!leaves_the_part(said.work) && !leaves_the_part(cured.work)));
}

}  // namespace

std::optional<JudgedJob> judge_job(const Job& job) {
    const auto cured = confirmed_repair(job);
    if (!cured || job.said.repairs.empty())
        return std::nullopt;
    JudgedJob judged;
    judged.number = job.ticket.number;
    judged.said = job.said.repairs.front();
    judged.cured_block = cured->block;
    judged.cured_work = cured->work;
    judged.first = is_what_cured(judged.said, *cured);
    judged.among_two =
        judged.first || (job.said.repairs.size() > 1 && is_what_cured(job.said.repairs[1], *cured));
    return judged;
}

ShareBand share_band(int hits, int count, double z) {
    assert(hits >= 0 && hits <= count && "share_band: more hits than cases");
    if (count == 0)
        return {};
    const double n = count;
    const double share = hits / n;
    const double centre = share + z * z / (2.0 * n);
    const double half = z * std::sqrt(share * (1.0 - share) / n + z * z / (4.0 * n * n));
    const double whole = 1.0 + z * z / n;
    return {share, std::max(0.0, (centre - half) / whole), std::min(1.0, (centre + half) / whole)};
}

OwnHits own_hits(const std::vector<Job>& jobs) {
    OwnHits hits;
    int first = 0;
    int among_two = 0;
    double excess = 0.0;
    double variance = 0.0;
    for (const Job& job : jobs) {
        const auto judged = judge_job(job);
        if (!judged)
            continue;
        const double said = judged->said.probability;
        const double right = judged->first ? 1.0 : 0.0;
        ++hits.judged;
        first += judged->first ? 1 : 0;
        among_two += judged->among_two ? 1 : 0;
        SaidBin& bin = hits.bins[static_cast<std::size_t>(std::clamp(said * 10.0, 0.0, 9.0))];
        ++bin.jobs;
        bin.said += said;
        bin.right += right;
        const double pull = 1.0 - 2.0 * said;
        excess += (right - said) * pull;
        variance += pull * pull * said * (1.0 - said);
        if (!judged->first)
            hits.wrong.push_back(*judged);
    }
    hits.first = share_band(first, hits.judged);
    hits.among_two = share_band(among_two, hits.judged);
    double said_sum = 0.0;
    for (SaidBin& bin : hits.bins) {
        if (bin.jobs == 0)
            continue;
        said_sum += bin.said;
        bin.said /= bin.jobs;
        bin.right /= bin.jobs;
        hits.calibration_error += std::abs(bin.said - bin.right) * bin.jobs / hits.judged;
    }
    // The statistic itself has no direction; what came true against what was said in sum gives it one.
    if (variance > 0.0)
        hits.z = std::copysign(std::abs(excess) / std::sqrt(variance), first - said_sum);
    return hits;
}

std::string describe(const OwnHits& hits) {
    if (hits.judged == 0)
        return "No job yet in which the program had named a part before the work and the proof told which "
               "one it was.";
    const std::string right = "The part named first was the one in " + percent_text(hits.first.share) +
                              " of " + integer_text(hits.judged) + (hits.judged == 1 ? " job" : " jobs") +
                              " (with 95 % confidence " + percent_text(hits.first.low) + " to " +
                              percent_text(hits.first.high) + "), among the first two in " +
                              percent_text(hits.among_two.share) + ".";
    if (hits.judged < least_judged_jobs)
        return right + " Too few jobs to judge its percentages.";
    if (std::abs(hits.z) < clear_z)
        return right + " Its percentages hold: what it said came true about as often as it said.";
    return right + (hits.z < 0.0 ? " It is too sure: parts came true less often than it said."
                                 : " It could be surer: parts came true more often than it said.");
}

}  // namespace eh
