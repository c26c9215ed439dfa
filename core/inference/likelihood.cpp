// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/likelihood.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace eh {
namespace {

double square(double x) {
    return x * x;
}

// Student's t with 16 degrees of freedom: four widths off is seen now and then, eight widths off does not
// fit; the heavier tail is that of odd readings.
double student16(double deviation, double width) {
    const double x = 1.0 + square(deviation / width) / 16.0;
    return 0.39276 / (width * square(square(square(x))) * std::sqrt(x));
}

// What stood anywhere stands there again, within what changes from one bench set-up to the next: the update
// from a prior as broad as can be. Requires a common width above 0, as strays have.
Shift strayed(const Residual& residual) {
    constexpr double stays_within = 0.2;  // of how far it was off (estimate)
    return {residual.deviation / residual.common_width,
            (square(stays_within * residual.deviation) + square(residual.own_width)) /
                square(residual.common_width)};
}

std::vector<double> log_densities(const Reading& reading, const std::vector<SampleTerms>& terms,
                                  const AccuracyOptions& o) {
    const ReadingTerms of_reading = reading_terms(reading, {});
    std::vector<double> logs;
    logs.reserve(terms.size());
    for (const SampleTerms& of_sample : terms) {
        Doubt doubt{o.model_wrong_word};
        logs.push_back(std::log(density(of_reading, of_sample, {nullptr, nullptr}, &doubt, o)));
    }
    return logs;
}

}  // namespace

double log_broad(const Reading& reading) {
    return std::log(reading_terms(reading, {}).broad);
}

double repeat_density(const SampleTerms& sample) {
    double density = 1.0;
    for (int i = 0; i < sample.count; ++i) {
        const Residual& r = sample.residuals[static_cast<std::size_t>(i)];
        density *= student16(0.0, r.own_width) * r.scale;
    }
    return density;
}

double density(const ReadingTerms& reading, const SampleTerms& sample, std::array<Shift*, 2> shifts,
               Doubt* doubt, const AccuracyOptions& o) {
    if (!sample.known)
        return reading.broad;
    double fitting = sample.given;
    bool first_is_odd = false;
    bool first_strays = false;
    for (int i = 0; i < sample.count; ++i) {
        const Residual& r = sample.residuals[static_cast<std::size_t>(i)];
        const Shift shift =
            shifts[static_cast<std::size_t>(i)] == nullptr ? Shift{} : *shifts[static_cast<std::size_t>(i)];
        const double width = std::sqrt(square(r.common_width) * shift.variance + square(r.own_width));
        double fits = student16(r.deviation - r.common_width * shift.mean, width) * r.scale;
        if (i == 0 && sample.anything > 0.0) {
            first_strays = sample.anything * reading.broad > (1.0 - sample.anything) * fits;
            fits = (1.0 - sample.anything) * fits + sample.anything * reading.broad;
        }
        if (i == 0 && reading.broad_first > 0.0) {
            first_is_odd = o.odd_reading * reading.broad_first > (1.0 - o.odd_reading) * fits;
            fits = (1.0 - o.odd_reading) * fits + o.odd_reading * reading.broad_first;
        }
        fitting *= fits;
    }
    double wrong = 0.0;  // the machine's own word, by the density of what is seen
    if (reading.word >= 0 && doubt != nullptr) {
        // A machine that says something else than its model keeps saying it.
        constexpr double says_it_again = 0.85;
        double again = 1.0 / reading.words;
        if (doubt->last_word >= 0)
            again = doubt->last_word == reading.word ? says_it_again
                                                     : (1.0 - says_it_again) / (reading.words - 1);
        wrong = doubt->wrong * again * reading.broad_values * sample.else_factor;
        fitting *= 1.0 - doubt->wrong;
    }
    const double odd = o.odd_reading * reading.broad;
    const double meant = (1.0 - o.odd_reading) * (fitting + wrong);
    const double total = std::max(meant + odd, std::numeric_limits<double>::min());
    if (reading.word >= 0 && doubt != nullptr) {
        constexpr double never_sure = 1e-3;
        // What means nothing leaves the doubt where it was.
        const double still_wrong = (1.0 - o.odd_reading) * wrong + odd * doubt->wrong;
        doubt->wrong = std::clamp(still_wrong / total, never_sure, 1.0 - never_sure);
        doubt->last_word = reading.word;
    }
    if ((1.0 - o.odd_reading) * fitting < 0.5 * total)
        return total;
    for (int i = 0; i < sample.count; ++i) {
        Shift* shift = shifts[static_cast<std::size_t>(i)];
        if (shift == nullptr || (i == 0 && first_is_odd))
            continue;
        const Residual& r = sample.residuals[static_cast<std::size_t>(i)];
        if (i == 0 && first_strays) {
            *shift = strayed(r);
            continue;
        }
        const double variance = square(r.common_width) * shift->variance + square(r.own_width);
        const double gain = r.common_width * shift->variance / variance;
        shift->mean += gain * (r.deviation - r.common_width * shift->mean);
        shift->variance *= 1.0 - gain * r.common_width;
    }
    return total;
}

std::vector<double> log_likelihoods(const Reading& reading, const std::vector<PoweredView>& samples, int net,
                                    int block, const AccuracyOptions& o, const KnownExpectations& known) {
    return log_densities(reading, sample_terms(reading, samples, net, block, o, known), o);
}

std::vector<double> log_likelihoods(const Reading& reading, const std::vector<double>& samples,
                                    const AccuracyOptions& o, const KnownExpectations& known) {
    return log_densities(reading, sample_terms(reading, samples, o, known), o);
}

}  // namespace eh
