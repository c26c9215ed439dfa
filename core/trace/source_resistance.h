// SPDX-License-Identifier: GPL-3.0-or-later
// How much a source's volts fall with the amps it gives: what lies upstream of the meter.
//
// Charger set-point droop and cable; some chargers compensate their cable, so that it may come out near 0 or
// even below. The contact resistance of a receptacle is downstream and not in it: that takes volts on the
// board at the same amps (contact_resistance).
#pragma once

#include <optional>
#include <span>

#include "core/trace/meter_summary.h"

namespace eh {

struct ResistanceEstimate {
    double ohms = 0.0;
    double low_ohms = 0.0;  // 95 % interval
    double high_ohms = 0.0;
    double volts_at_no_load = 0.0;
    double amps_span = 0.0;  // that the machine's current moved through
    int blocks = 0;          // independent points that it rests on
};

// Least squares of volts over amps of samples within one contract, averaged to blocks of block_s first (a
// meter's digits and the flicker of a load are not independent from sample to sample), with Student's
// interval. nullopt when the amps moved by less than least_amps_span or there are fewer than 6 blocks.
// Requires samples in the order of time.
std::optional<ResistanceEstimate> source_resistance(std::span<const MeterSample> samples,
                                                    double block_s = 0.1, double least_amps_span = 0.2);

// Resistance between meter and board from volts on both sides at the same amps, with the uncertainty (one
// sigma) that the two instruments' volts leave. nullopt below 0.1 A, where it says nothing.
struct ContactResistance {
    double ohms = 0.0;
    double sigma_ohms = 0.0;
    double heat_watts = 0.0;  // in the contact, at these amps
};
std::optional<ContactResistance> contact_resistance(double meter_volts, double board_volts, double amps,
                                                    double meter_sigma_volts, double board_sigma_volts);

}  // namespace eh
