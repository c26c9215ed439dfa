// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/wiggle.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>

#include "core/base/distributions.h"
#include "core/base/quantile.h"
#include "core/base/text.h"
#include "core/electrics/engineering.h"
#include "core/trace/time_blocks.h"

namespace eh {
namespace {

constexpr double step_s = 4.0;
constexpr double gone_below_share = 0.33;  // of the amps at rest
constexpr double back_above_share = 0.6;
constexpr double least_rest_amps = 0.05;
constexpr double block_s = 0.2;
constexpr double wavers_share = 0.06;  // of volts over amps; machines flicker by some percent themselves
constexpr double confidence = 0.95;
constexpr double wavers_factor = 3.0;  // times the spread at rest

using Samples = std::span<const MeterSample>;

Samples between(Samples samples, double from_s, double to_s) {
    const auto by_time = [](const MeterSample& sample, double t) { return sample.t_s < t; };
    const auto first = std::lower_bound(samples.begin(), samples.end(), from_s, by_time);
    return {first, std::lower_bound(first, samples.end(), to_s, by_time)};
}

double median_amps(Samples samples) {
    std::vector<double> amps;
    amps.reserve(samples.size());
    for (const MeterSample& sample : samples)
        amps.push_back(sample.amps);
    if (amps.empty())
        return 0.0;
    return median(std::move(amps));
}

// Of what flows: blocks in which the plug is gone count as drop-outs, not as spread.
double spread_share(Samples samples, double least_amps) {
    double sum = 0.0;
    double squares = 0.0;
    int count = 0;
    for (std::size_t first = 0; first < samples.size();) {
        double volts = 0.0;
        double amps = 0.0;
        const std::size_t next = end_of_block(samples, first, block_s);
        for (const MeterSample& sample : samples.subspan(first, next - first)) {
            volts += sample.volts;
            amps += sample.amps;
        }
        if (amps > least_amps * static_cast<double>(next - first)) {
            sum += volts / amps;
            squares += (volts / amps) * (volts / amps);
            ++count;
        }
        first = next;
    }
    if (count < 2)
        return 0.0;
    const double mean = sum / count;
    return std::sqrt(std::max(0.0, (squares - sum * mean) / (count - 1))) / mean;
}

struct DropOut {
    double from_s = 0.0;
    double to_s = 0.0;
};

std::vector<DropOut> drop_outs(Samples samples, double rest_amps, double dark_s, double end_s) {
    std::vector<DropOut> found;
    bool gone = false;
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const bool after_dark = i > 0 && samples[i].t_s - samples[i - 1].t_s > dark_s;
        if (after_dark) {
            if (!gone || samples[i - 1].volts > 0.0)
                found.push_back({samples[i - 1].t_s, samples[i].t_s});
            gone = true;
        }
        if (!gone && samples[i].amps < gone_below_share * rest_amps) {
            gone = true;
            found.push_back({samples[i].t_s, samples[i].t_s});
        }
        if (gone) {
            found.back().to_s = samples[i].t_s;
            gone = samples[i].amps < back_above_share * rest_amps;
        }
    }
    if (!samples.empty() && end_s - samples.back().t_s > dark_s) {
        if (gone)
            found.back().to_s = end_s;
        else
            found.push_back({samples.back().t_s, end_s});
    }
    return found;
}

}  // namespace

std::vector<WiggleStep> wiggle_steps(double start_s) {
    std::vector<WiggleStep> steps;
    for (const auto direction : {WiggleDirection::rest, WiggleDirection::up, WiggleDirection::down,
                                 WiggleDirection::left, WiggleDirection::right}) {
        steps.push_back({direction, start_s, start_s + step_s});
        start_s += step_s;
    }
    return steps;
}

WiggleReport read_wiggle(std::span<const MeterSample> samples, const std::vector<WiggleStep>& steps) {
    assert(!steps.empty() && "read_wiggle: no steps");
    WiggleReport report;
    const WiggleStep& rest = steps.front();
    const Samples at_rest = between(samples, rest.from_s, rest.to_s);
    const double rest_amps = median_amps(at_rest);
    const double dark_s = dark_gap_s(samples);
    const Samples all = between(samples, rest.from_s, steps.back().to_s);
    const auto drops = drop_outs(all, rest_amps, dark_s, steps.back().to_s);
    for (const WiggleStep& step : steps) {
        WiggleStretch stretch;
        stretch.direction = step.direction;
        const Samples own = between(samples, step.from_s, step.to_s);
        stretch.amps = median_amps(own);
        stretch.spread_share = spread_share(own, gone_below_share * rest_amps);
        for (const DropOut& drop : drops)
            stretch.drop_outs += drop.from_s >= step.from_s && drop.from_s < step.to_s ? 1 : 0;
        if (step.direction != WiggleDirection::rest)
            report.seconds += step.to_s - step.from_s;
        report.stretches.push_back(stretch);
    }
    for (const DropOut& drop : drops) {
        ++report.drop_outs;
        report.gone_s += drop.to_s - drop.from_s;
    }
    if (at_rest.empty() || rest_amps < least_rest_amps)
        return report;
    const double minutes = (steps.back().to_s - rest.from_s) / 60.0;
    report.most_a_minute = poisson_upper(report.drop_outs, confidence) / minutes;
    const auto pushed_from = report.stretches.begin() + 1;
    if (report.drop_outs > 0) {
        report.verdict = WiggleVerdict::drops_out;
        const auto most = std::max_element(
            pushed_from, report.stretches.end(),
            [](const WiggleStretch& a, const WiggleStretch& b) { return a.drop_outs < b.drop_outs; });
        if (most != report.stretches.end() && most->drop_outs > 0)
            report.worst = most->direction;
        return report;
    }
    report.verdict = WiggleVerdict::holds;
    const auto widest = std::max_element(
        pushed_from, report.stretches.end(),
        [](const WiggleStretch& a, const WiggleStretch& b) { return a.spread_share < b.spread_share; });
    if (widest != report.stretches.end() &&
        widest->spread_share >
            std::max(wavers_share, wavers_factor * report.stretches.front().spread_share)) {
        report.verdict = WiggleVerdict::wavers;
        report.worst = widest->direction;
    }
    return report;
}

std::string to_text(WiggleDirection direction) {
    constexpr std::array names{"at rest", "up", "down", "left", "right"};
    return names[static_cast<std::size_t>(direction)];
}

std::string describe(const WiggleReport& report) {
    const auto percent = [](double share) { return integer_text(std::lround(100.0 * share)) + " %"; };
    const std::string length = format_quantity(report.seconds, Unit::seconds, 2) + " of pushing";
    const std::string worst = report.worst ? to_text(*report.worst) : "";
    switch (report.verdict) {
        case WiggleVerdict::cannot_tell:
            return "Nothing flows at rest, so nothing can drop out: plug in so that the machine draws "
                   "current, "
                   "then push.";
        case WiggleVerdict::drops_out: {
            std::string text = report.drop_outs == 1 ? std::string("1 drop-out")
                                                     : integer_text(report.drop_outs) + " drop-outs";
            text += " in " + length + ", away for " + format_quantity(report.gone_s, Unit::seconds, 2);
            text += worst.empty() ? ", all of them at rest." : ", most when pushed " + worst + ".";
            return text + " A contact or the anchors give way, or the plug does: try another plug.";
        }
        case WiggleVerdict::wavers: {
            const auto own =
                std::find_if(report.stretches.begin(), report.stretches.end(),
                             [&](const WiggleStretch& s) { return s.direction == *report.worst; });
            return "No drop-out in " + length + ", but pushed " + worst + " what the charger sees moves by " +
                   percent(own->spread_share) + " against " + percent(report.stretches.front().spread_share) +
                   " at rest: a contact that gives way.";
        }
        case WiggleVerdict::holds:
            break;
    }
    return "Holds: no drop-out in " + length + " (with 95 % confidence fewer than " +
           format_quantity(report.most_a_minute, Unit::none, 2) + " a minute).";
}

}  // namespace eh
