// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proof/soak.h"

#include <algorithm>
#include <cassert>

#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double enough_share = 0.9;

std::string sentence(const SoakReading& soak, double seconds) {
    const std::string length = format_quantity(seconds / 60.0, Unit::none, 2) + " min";
    if (soak.lit_s == 0.0)
        return "By the clock alone, " + length + ": no meter recorded.";
    const std::string level = format_quantity(soak.mean_volts, Unit::volts) + " and " +
                              format_quantity(soak.mean_amps, Unit::amps) + " on average";
    if (!soak.held)
        return "Dropped out " +
               (soak.drop_outs == 1 ? std::string("once") : integer_text(soak.drop_outs) + " times") +
               " in " + length + ", away for up to " + format_quantity(soak.longest_out_s, Unit::seconds, 2) +
               "; " + level + ".";
    if (!soak.recorded)
        return "No drop-out in the " + format_quantity(soak.lit_s / 60.0, Unit::none, 2) + " min of " +
               length + " that a meter recorded; " + level + ".";
    return "Recorded for " + length + " without a drop-out: " + level + ".";
}

}  // namespace

SoakReading read_soak(std::span<const MeterSample> samples, double from_s, double to_s) {
    assert(from_s < to_s && "read_soak: no time at all");
    const auto by_time = [](const MeterSample& sample, double t) { return sample.t_s < t; };
    const auto first = std::lower_bound(samples.begin(), samples.end(), from_s, by_time);
    const auto last = std::upper_bound(first, samples.end(), to_s,
                                       [](double t, const MeterSample& sample) { return t < sample.t_s; });
    const std::span<const MeterSample> own(first, last);
    SoakReading soak;
    double away_s = 0.0;
    const auto away = [&](double seconds) {
        ++soak.drop_outs;
        soak.longest_out_s = std::max(soak.longest_out_s, seconds);
        away_s += seconds;
    };
    if (!own.empty()) {
        const double gap_s = dark_gap_s(own);
        for (std::size_t i = 0; i < own.size(); ++i) {
            soak.mean_volts += own[i].volts;
            soak.mean_amps += own[i].amps;
            if (i == 0)
                continue;
            const double step_s = own[i].t_s - own[i - 1].t_s;
            if (step_s > gap_s)
                away(step_s);
            else
                soak.lit_s += step_s;
        }
        if (to_s - own.back().t_s > gap_s)
            away(to_s - own.back().t_s);
        soak.mean_volts /= static_cast<double>(own.size());
        soak.mean_amps /= static_cast<double>(own.size());
    }
    soak.held = soak.drop_outs == 0;
    soak.recorded = soak.lit_s > 0.0 && soak.lit_s >= enough_share * (to_s - from_s - away_s);
    soak.says = sentence(soak, to_s - from_s);
    return soak;
}

}  // namespace eh
