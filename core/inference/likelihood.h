// SPDX-License-Identifier: GPL-3.0-or-later
// How well a reading fits what a sample of a hypothesis predicts.
//
// Numbers are compared as Student-t bumps around what is expected (core/prediction/expectation.h); words (a
// pattern, what the machine says) fit or are wrong. What the model leaves out of one machine is alike for all
// readings of a quantity, so that repeating a reading teaches little: Quirks follows it from reading to
// reading. Any reading may also be odd (slipped probe, wrong line written down): with a small share it comes
// from a broad spread over everything a bench can show.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/prediction/expectation.h"
#include "core/readings/reading.h"

namespace eh {

// Log density of the broad spread at this reading. Finite for every reading.
double log_broad(const Reading& reading);

// A reading's number against one sample.
struct Residual {
    double deviation = 0.0;  // seen less expected
    double common_width = 0.0;
    double own_width = 0.0;
    double scale = 1.0;  // from the density on the scale of expectation to that of the reading
};

// A reading against one sample.
struct SampleTerms {
    bool known = false;     // false: the sample could not be solved, and says nothing
    double given = 1.0;     // probability of the word seen, and of what is censored, when the model is right
    double anything = 0.0;  // probability that the number may be anything at all
    double else_factor = 1.0;  // how readily such a machine says this word against its model, of the usual
    int count = 0;             // of residuals
    std::array<Residual, 2> residuals;
};

// What samples make one expect, where it is known already: of the meter's volts and amps, of the volts of a
// net, of the multimeter's number. nullptr: worked out anew, of machines whose makers differ as said.
struct KnownExpectations {
    const std::vector<Expected>* number = nullptr;
    const std::vector<Expected>* amps = nullptr;
    SampleMask counted = all_samples;
    NetVariety variety = {};  // of the net that is read
    double amps_ln = 0.0;
    const std::vector<double>* sound_ohms = nullptr;  // of the net, by sample without its faults
    // Blocks that look like the one that is read and are joined to the same nets, next to it on the board.
    std::vector<int> sisters = {};
};

// Of a reading of kinds meter, net_volts, hot_part, firmware, wiggle, injection, by sample. `net` and `block`
// are the indices of the reading's place, -1 where it has none.
std::vector<SampleTerms> sample_terms(const Reading& reading, const std::vector<PoweredView>& samples,
                                      int net, int block, const AccuracyOptions& options = {},
                                      const KnownExpectations& known = {});
// The same for net_ohms, through and diode; infinite samples mean OL, NaN ones say nothing.
std::vector<SampleTerms> sample_terms(const Reading& reading, const std::vector<double>& number_samples,
                                      const AccuracyOptions& options = {},
                                      const KnownExpectations& known = {});
// The same for what is seen of parts, which is as probable on all samples of a hypothesis.
std::vector<SampleTerms> sample_terms(double given, std::size_t samples);

// How far one machine is off its model in one quantity, as a multiple of the common width: normal with this
// mean and variance.
struct Shift {
    double mean = 0.0;
    double variance = 1.0;
};

// Whether one machine says something else than its model.
struct Doubt {
    double wrong = 0.0;  // probability
    int last_word = -1;
};

// Density of a number that is read again as it was before, within what the instrument leaves: what a sample
// gives at best.
double repeat_density(const SampleTerms& sample);

// Density of a reading under one sample when the readings before it are known; the quirks learn from it (the
// scalar Kalman filter, Kalman 1960, with an odd reading left out). `shifts` are those of terms.channels,
// `doubt` that of terms.word_channel; nullptr where there is none. Positive and finite.
double density(const ReadingTerms& reading, const SampleTerms& sample, std::array<Shift*, 2> shifts,
               Doubt* doubt, const AccuracyOptions& options = {});

// Log densities of a reading by itself under each of the samples. Never NaN.
std::vector<double> log_likelihoods(const Reading& reading, const std::vector<PoweredView>& samples, int net,
                                    int block, const AccuracyOptions& options = {},
                                    const KnownExpectations& known = {});
std::vector<double> log_likelihoods(const Reading& reading, const std::vector<double>& ohms_samples,
                                    const AccuracyOptions& options = {}, const KnownExpectations& known = {});

}  // namespace eh
