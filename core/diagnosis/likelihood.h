// How well a reading fits what a hypothesis predicts.
//
// A prediction is a set of samples. Each is widened into a Student-t bump whose width joins the instrument's
// accuracy, what the model leaves out, and the gap to the neighbouring samples. Any
// reading may also be odd (slipped probe, wrong line written down): with a small share it comes from a broad
// spread over everything a bench can show, which is also all that "none of these" predicts.
#pragma once

#include <vector>

#include "core/diagnosis/reading.h"

namespace eh {

// Accuracy of the instruments on the bench and of the model. Common practice for hand-held instruments.
struct AccuracyOptions {
    double meter_volts_share = 0.01;
    double meter_volts_digit = 0.03;
    double meter_amps_share = 0.03;
    double meter_amps_digit = 0.012;
    double model_volts_share = 0.012;  // chargers differ by some percent in their set-point
    double model_amps_share = 0.22;    // what a machine draws differs more
    double dmm_volts_share = 0.006;
    double dmm_volts_digit = 0.02;
    double model_rail_share = 0.03;
    double ohms_share = 0.12;      // instrument and model, as a ratio
    double lead_ohms = 0.05;       // of the test leads, left in or taken off
    double over_limit_ohms = 1e5;  // from about here on a reading counts as open (common practice: > 100 k)
    double rise_share = 0.5;       // heat depends on much that is not modelled
    double rise_digit_kelvin = 3.0;
    double pattern_slip = 0.06;  // share of readings whose pattern is misjudged
    double word_slip = 0.05;     // share of categories misjudged
    double odd_reading = 0.01;   // share of readings that mean nothing
};

// Log density of the broad spread at this reading. Finite for every reading.
double log_broad(const Reading& reading, const AccuracyOptions& options = {});

// Log density of a reading (kinds meter, net_volts, hot_part, firmware, wiggle) under each of the samples of
// the powered machine. `net` and `block` are the indices of the reading's place, -1 where it has none.
// Samples that are not valid give the broad spread. Never NaN.
std::vector<double> log_likelihoods(const Reading& reading, const std::vector<PoweredView>& samples, int net,
                                    int block, const AccuracyOptions& options = {});

// The same for net_ohms; infinite samples mean OL, NaN ones give the broad spread.
std::vector<double> log_likelihoods(const Reading& reading, const std::vector<double>& ohms_samples,
                                    const AccuracyOptions& options = {});

}  // namespace eh
