// SPDX-License-Identifier: GPL-3.0-or-later
// Streams of the inline meter for tests: made of stretches, or of a machine of the model.
#pragma once

#include <vector>

#include "core/base/random.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

namespace eh::test {

inline constexpr double rate_hz = 50.0;

struct Stretch {
    double seconds, volts, from_amps, to_amps;
};

// Stretches one after the other, with a meter's noise; 0 V is dark.
inline std::vector<MeterSample> stream_of(const std::vector<Stretch>& stretches, std::uint64_t seed = 1,
                                          double source_ohms = 0.0) {
    Random random(seed);
    std::vector<MeterSample> samples;
    double start_s = 0.0;
    for (const Stretch& stretch : stretches) {
        const int count = static_cast<int>(stretch.seconds * rate_hz);
        for (int i = 0; i < count && stretch.volts > 0.0; ++i) {
            const double amps = stretch.from_amps + (stretch.to_amps - stretch.from_amps) * i / count;
            samples.push_back({start_s + i / rate_hz,
                               stretch.volts - source_ohms * amps + 0.006 * random.normal(),
                               std::max(0.0, amps + 0.004 * random.normal())});
        }
        start_s += stretch.seconds;
    }
    return samples;
}

inline std::vector<MeterSample> stream_of_machine(const std::vector<FaultInstance>& faults,
                                                  Protection protection, double seconds = 40.0) {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    PartDraw draw;
    draw.protection = protection;
    draw.typical = false;
    draw.pack_empty = false;
    MachineModel model(plan, faults, draw);
    BenchConfiguration bench = plugged("p1");
    DcSolver solver;
    return meter_stream(run_course(model, bench, solver), 0.0, seconds, rate_hz);
}

}  // namespace eh::test
