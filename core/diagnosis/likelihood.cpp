#include "core/diagnosis/likelihood.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace eh {
namespace {

// Broad spread: what a bench can show at all.
constexpr double broad_volts_span = 22.0;
constexpr double broad_mean_amps = 1.0;
constexpr double broad_ol_share = 0.4;
constexpr double broad_ln_ohms_span = 19.0;  // 0.05 Ω to 10 MΩ
constexpr double broad_mean_rise = 30.0;
constexpr double ol_edge_width = 0.5;  // of ln(ohms)
constexpr double meter_patterns = 4.0;

double square(double x) {
    return x * x;
}

// Student's t with 4 degrees of freedom.
double student4(double deviation, double width) {
    const double z = deviation / width;
    return 0.375 / width * std::pow(1.0 + 0.25 * z * z, -2.5);
}

// Half the distance from each value to its second nearest neighbour: how wide a bump must be to close the gap
// between samples (the nearest-neighbour kernel; Loftsgaarden and Quesenberry 1965). Narrow where values pile
// up, as volts do at the contracts, wide along a continuum, as with the severity of a short. Values of
// different groups are no neighbours.
std::vector<double> gaps(const std::vector<double>& values, const std::vector<int>& groups = {}) {
    constexpr double share = 0.5;
    std::vector<double> result(values.size(), 0.0);
    for (std::size_t i = 0; i < values.size(); ++i) {
        double nearest = std::numeric_limits<double>::infinity();
        double second = nearest;
        for (std::size_t j = 0; j < values.size(); ++j) {
            if (j == i || (!groups.empty() && groups[i] != groups[j]))
                continue;
            const double distance = std::abs(values[i] - values[j]);
            if (!(distance < second))
                continue;
            second = std::max(nearest, distance);
            nearest = std::min(nearest, distance);
        }
        result[i] = std::isfinite(second) ? share * second : std::isfinite(nearest) ? share * nearest : 0.0;
    }
    return result;
}

double ln_ohms(double ohms, const AccuracyOptions& options) {
    return std::log(ohms + options.lead_ohms);
}

// Probability that an ohmmeter shows OL on so many ohms.
double ol_probability(double ohms, const AccuracyOptions& options) {
    if (!std::isfinite(ohms))
        return 1.0;
    const double x = (std::log(std::max(ohms, 1e-3)) - std::log(options.over_limit_ohms)) / ol_edge_width;
    return 1.0 / (1.0 + std::exp(-x));
}

double mixed(double fitting, double broad, const AccuracyOptions& options) {
    return std::log((1.0 - options.odd_reading) * fitting + options.odd_reading * broad);
}

double broad_meter(const Reading& reading) {
    const bool lit =
        reading.meter.pattern == MeterPattern::steady || reading.meter.pattern == MeterPattern::cycling;
    double density = 1.0 / meter_patterns;
    if (lit) {
        density /= broad_volts_span;
        if (reading.amps_known)
            density *= std::exp(-std::abs(reading.meter.amps) / broad_mean_amps) / broad_mean_amps;
    }
    return density;
}

double broad(const Reading& reading) {
    switch (reading.kind) {
        case ReadingKind::meter:
            return broad_meter(reading);
        case ReadingKind::net_volts:
            return 1.0 / broad_volts_span;
        case ReadingKind::net_ohms:
            return reading.over_limit ? broad_ol_share : (1.0 - broad_ol_share) / broad_ln_ohms_span;
        case ReadingKind::hot_part:
            return std::exp(-std::abs(reading.value) / broad_mean_rise) / broad_mean_rise / 20.0;
        case ReadingKind::firmware:
            return 1.0 / firmware_message_count;
        case ReadingKind::wiggle:
            return 0.5;
    }
    return 1.0;
}

// How likely the pattern is seen as `seen` when it is `real`.
double pattern_probability(MeterPattern seen, MeterPattern real, const AccuracyOptions& options) {
    // Who looks late sees only the dark after a flash.
    constexpr double flash_missed = 0.5;
    if (real == MeterPattern::flash) {
        if (seen == MeterPattern::flash)
            return (1.0 - options.pattern_slip) * (1.0 - flash_missed);
        if (seen == MeterPattern::dark)
            return (1.0 - options.pattern_slip) * flash_missed;
        return options.pattern_slip / 2.0;
    }
    return seen == real ? 1.0 - options.pattern_slip : options.pattern_slip / (meter_patterns - 1.0);
}

// Densities of a reading under each of the samples.
using Densities = std::vector<double>;

Densities meter_densities(const Reading& reading, const std::vector<PoweredView>& samples,
                          const AccuracyOptions& o) {
    const bool lit =
        reading.meter.pattern == MeterPattern::steady || reading.meter.pattern == MeterPattern::cycling;
    std::vector<double> volts;
    std::vector<double> ln_amps;
    std::vector<int> patterns;
    for (const PoweredView& view : samples) {
        volts.push_back(view.meter.volts);
        ln_amps.push_back(std::log(std::max(view.meter.amps, 0.0) + o.meter_amps_digit));
        patterns.push_back(static_cast<int>(view.meter.pattern));
    }
    const auto volts_gaps = gaps(volts, patterns);
    const auto amps_gaps = gaps(ln_amps, patterns);
    Densities densities;
    densities.reserve(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const PoweredView& view = samples[s];
        double density = pattern_probability(reading.meter.pattern, view.meter.pattern, o);
        if (lit) {
            const double spread =
                view.meter.pattern == MeterPattern::cycling ? 0.25 * view.meter.volts_spread : 0.0;
            const double volts_width =
                std::sqrt(square(o.meter_volts_digit) +
                          square((o.meter_volts_share + o.model_volts_share) * view.meter.volts) +
                          square(spread) + square(volts_gaps[s]));
            density *= student4(reading.meter.volts - view.meter.volts, volts_width);
            if (reading.amps_known) {
                const double floor = o.meter_amps_digit;
                const double seen = std::log(std::max(reading.meter.amps, 0.0) + floor);
                const double expected = std::log(std::max(view.meter.amps, 0.0) + floor);
                const double relative =
                    std::sqrt(square(o.meter_amps_share + o.model_amps_share) +
                              square(floor / (std::max(view.meter.amps, 0.0) + floor)) * 0.25);
                const double width = std::sqrt(square(relative) + square(amps_gaps[s]));
                // Density over amps, so that it can be compared with the broad spread's.
                density *= student4(seen - expected, width) / (std::max(reading.meter.amps, 0.0) + floor);
            }
        }
        densities.push_back(density);
    }
    return densities;
}

Densities rail_densities(const Reading& reading, const std::vector<PoweredView>& samples, int net,
                         const AccuracyOptions& o) {
    std::vector<double> volts;
    volts.reserve(samples.size());
    for (const PoweredView& view : samples)
        volts.push_back(view.net_volts[static_cast<std::size_t>(net)]);
    const auto between = gaps(volts);
    Densities densities;
    for (std::size_t s = 0; s < volts.size(); ++s) {
        const double width =
            std::sqrt(square(o.dmm_volts_digit) +
                      square((o.dmm_volts_share + o.model_rail_share) * volts[s]) + square(between[s]));
        densities.push_back(student4(reading.value - volts[s], width));
    }
    return densities;
}

Densities heat_densities(const Reading& reading, const std::vector<PoweredView>& samples, int block,
                         const AccuracyOptions& o) {
    Densities densities;
    for (const PoweredView& view : samples) {
        const double own = view.rise_kelvin[static_cast<std::size_t>(block)];
        // The part named is the hottest one that was found: how much do the others outshine it?
        const double hottest = *std::max_element(view.rise_kelvin.begin(), view.rise_kelvin.end());
        const double stands_out = (own + o.rise_digit_kelvin) / (hottest + o.rise_digit_kelvin);
        const double width = std::sqrt(square(o.rise_digit_kelvin) + square(o.rise_share * own));
        densities.push_back(square(stands_out) * student4(reading.value - own, width));
    }
    return densities;
}

double word_density(bool hit, double alternatives, const AccuracyOptions& o) {
    return hit ? 1.0 - o.word_slip : o.word_slip / alternatives;
}

}  // namespace

double log_broad(const Reading& reading, const AccuracyOptions&) {
    return std::log(broad(reading));
}

std::vector<double> log_likelihoods(const Reading& reading, const std::vector<PoweredView>& samples, int net,
                                    int block, const AccuracyOptions& o) {
    Densities densities;
    switch (reading.kind) {
        case ReadingKind::meter:
            densities = meter_densities(reading, samples, o);
            break;
        case ReadingKind::net_volts:
            densities = rail_densities(reading, samples, net, o);
            break;
        case ReadingKind::hot_part:
            densities = heat_densities(reading, samples, block, o);
            break;
        case ReadingKind::firmware:
            for (const PoweredView& view : samples)
                densities.push_back(
                    word_density(view.firmware == reading.firmware, firmware_message_count - 1, o));
            break;
        case ReadingKind::wiggle:
            for (const PoweredView& view : samples)
                densities.push_back(reading.drops_out ? view.drop_probability : 1.0 - view.drop_probability);
            break;
        case ReadingKind::net_ohms:
            densities.assign(samples.size(), broad(reading));
            break;
    }
    for (std::size_t s = 0; s < samples.size(); ++s)
        densities[s] = mixed(samples[s].valid ? densities[s] : broad(reading), broad(reading), o);
    return densities;
}

std::vector<double> log_likelihoods(const Reading& reading, const std::vector<double>& samples,
                                    const AccuracyOptions& o) {
    std::vector<double> ln;
    ln.reserve(samples.size());
    for (const double ohms : samples)
        ln.push_back(std::isfinite(ohms) ? ln_ohms(ohms, o) : std::numeric_limits<double>::infinity());
    const auto between = gaps(ln);
    const double seen = ln_ohms(reading.value, o);
    Densities densities;
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double ohms = samples[s];
        double density = 0.0;
        if (std::isnan(ohms)) {
            density = broad(reading);
        } else if (reading.over_limit) {
            density = ol_probability(ohms, o);
        } else if (std::isfinite(ohms)) {
            const double lead_share = o.lead_ohms / (ohms + o.lead_ohms);
            const double width = std::sqrt(square(o.ohms_share) + square(lead_share) + square(between[s]));
            density = (1.0 - ol_probability(ohms, o)) * student4(seen - ln_ohms(ohms, o), width);
        }
        densities.push_back(mixed(density, broad(reading), o));
    }
    return densities;
}

}  // namespace eh
