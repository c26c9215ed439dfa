// SPDX-License-Identifier: GPL-3.0-or-later
#include "sims/meter_bench.h"

#include <algorithm>
#include <cmath>

#include "core/machine/simulation/port_talk.h"

namespace eh::sims {
namespace {

// Noise of the meter: one digit of the last place, and what flickers in a machine that runs.
constexpr double volts_noise = 0.004;
constexpr double amps_noise = 0.002;
constexpr double load_flicker_share = 0.03;
constexpr double digit = 0.001;

double rounded(double value) {
    return std::round(value / digit) * digit;
}

}  // namespace

MeterBench::MeterBench(std::shared_ptr<BenchMachine> machine, const MeterBenchOptions& options)
    : machine_(std::move(machine)),
      options_(options),
      meter_({options.meter_dies_below_volts, options.meter_wakes_after_s}),
      noise_(options.seed ^ 0x5eedULL) {}

std::vector<MeterSample> MeterBench::advance(double now_s) {
    std::vector<MeterSample> samples;
    for (; static_cast<double>(next_sample_) / options_.rate_hz <= now_s; ++next_sample_) {
        const double t_s = static_cast<double>(next_sample_) / options_.rate_hz;
        const Phase* phase = machine_->plugged_phase(t_s);
        const double volts = phase == nullptr ? 0.0 : phase->meter_volts;
        if (!meter_.lit(t_s, volts))
            continue;
        const double flicker = phase->meter_amps > 0.25 ? load_flicker_share * phase->meter_amps : 0.0;
        samples.push_back(
            {t_s, rounded(std::max(0.0, volts + volts_noise * noise_.normal())),
             rounded(std::max(0.0, phase->meter_amps + (amps_noise + flicker) * noise_.normal()))});
    }
    return samples;
}

std::vector<pd::SeenFrame> MeterBench::talk(double seconds) const {
    std::vector<pd::SeenFrame> seen;
    const int line = machine_->configuration().side == PlugSide::a ? 1 : 2;
    for (const pd::Frame& frame : port_talk(machine_->model(), machine_->course(), seconds))
        seen.push_back({frame, line});
    return seen;
}

}  // namespace eh::sims
