// SPDX-License-Identifier: GPL-3.0-or-later
// What a sample makes one expect of a number on an instrument, and how far off it may be.
//
// Numbers are on the scale on which deviations are alike: volts as they are, amps and ohms as logarithms.
// Internal to core/diagnosis.
#pragma once

#include <cstdint>
#include <vector>

#include "core/machine/model/design_variety.h"
#include "core/machine/simulation/observation.h"
#include "core/readings/accuracy.h"

namespace eh {

struct Expected {
    double value = 0.0;
    // Of what the model leaves out: alike for all readings of one quantity on one machine.
    double common_width = 0.0;
    // Of the instrument, and of what the model leaves out of this reading alone.
    double own_width = 0.0;
};

// Which samples of a hypothesis count, bit by bit. The others (their fault has no such variety) stand for no
// machine, so that they close no gap between those that do. Of more than 64 samples all count.
using SampleMask = std::uint64_t;
inline constexpr SampleMask all_samples = ~SampleMask{0};
SampleMask counted_samples(const std::vector<double>& weights);

// Each by sample. `net` and `block` are indices of the plan. What differs from maker to maker widens what one
// machine has and keeps: `amps_ln` what it draws, `variety` the net.
std::vector<Expected> expected_meter_volts(const std::vector<PoweredView>& samples, const AccuracyOptions& o,
                                           SampleMask counted = all_samples);
// On the scale of ln_amps().
std::vector<Expected> expected_meter_amps(const std::vector<PoweredView>& samples, const AccuracyOptions& o,
                                          SampleMask counted = all_samples, double amps_ln = 0.0);
std::vector<Expected> expected_net_volts(const std::vector<PoweredView>& samples, int net,
                                         const AccuracyOptions& o, SampleMask counted = all_samples,
                                         const NetVariety& variety = {});
std::vector<Expected> expected_rise(const std::vector<PoweredView>& samples, int block,
                                    const AccuracyOptions& o);
// On the scale of ln_ohms(); infinite where the sample is open, NaN where it is not known. `variety` widens
// the samples that are about what the same machine is without its faults (`sound`, by sample), and only
// those: a short is no habit of a maker's.
std::vector<Expected> expected_ohms(const std::vector<double>& samples, const AccuracyOptions& o,
                                    SampleMask counted = all_samples, const NetVariety& variety = {},
                                    const std::vector<double>& sound = {});

// Volts in diode mode; infinite where the sample is open, NaN where it is not known.
std::vector<Expected> expected_drops(const std::vector<double>& samples, const AccuracyOptions& o,
                                     SampleMask counted = all_samples);

// Volts of a pack at its connector, unplugged.
std::vector<Expected> expected_pack_volts(const std::vector<double>& samples, const AccuracyOptions& o,
                                          SampleMask counted = all_samples);

// Logarithms with the meter's digit and the leads added, so that nothing is infinite.
double ln_amps(double amps, const AccuracyOptions& o);
double ln_ohms(double ohms, const AccuracyOptions& o);

// Of the supply's volts over its amps, on the scale of ln_ohms(). Where no short takes them, they are what
// the machine draws, which `amps_ln` widens.
std::vector<Expected> expected_injection_ohms(const std::vector<PoweredView>& samples,
                                              const AccuracyOptions& o, SampleMask counted = all_samples,
                                              double amps_ln = 0.0);

// How far a net that is held through so many ohms is left to leaks that nobody models: 1 where nothing holds
// it. A leak divides with what holds the net, and one strong enough to matter at a well held net is rare as
// well: hence more than in proportion (estimate).
double stray_share(double net_ohms, const AccuracyOptions& o);

// Probability that a camera names each block as the hottest part, where one is warm at all: heat depends on
// much that is not modelled, so that parts nearly as warm are named too.
std::vector<double> hottest_shares(const PoweredView& view, const AccuracyOptions& o);

// Probability that contact seems to be lost when the plug is pushed: what comes and goes by itself does so
// then as well.
double seen_drop_probability(const PoweredView& view);

// Probability that a camera finds nothing warm where the hottest part is so much warmer than its
// surroundings.
double nothing_warm_probability(double hottest_kelvin, const AccuracyOptions& o);

// Probability that an ohmmeter shows OL, or as good as that (reads_open()), on so many ohms, which are known
// to `ln_width` (one standard deviation of their logarithm).
double over_limit_probability(double ohms, double ln_width, const AccuracyOptions& o);

}  // namespace eh
