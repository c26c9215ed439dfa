#include "core/diagnosis/expectation.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace eh {
namespace {

constexpr double over_limit_edge_width = 0.5;  // of ln(ohms)

double square(double x) {
    return x * x;
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

Expected expected(double value, double instrument_width, double model_width, double gap,
                  const AccuracyOptions& o) {
    const double left_out = square(model_width) + square(gap);
    return {value, std::sqrt(o.common_share * left_out),
            std::sqrt(square(instrument_width) + (1.0 - o.common_share) * left_out)};
}

template <typename Get>
std::vector<double> values_of(const std::vector<PoweredView>& samples, Get get) {
    std::vector<double> values;
    values.reserve(samples.size());
    for (const PoweredView& view : samples)
        values.push_back(get(view));
    return values;
}

std::vector<int> patterns_of(const std::vector<PoweredView>& samples) {
    std::vector<int> patterns;
    patterns.reserve(samples.size());
    for (const PoweredView& view : samples)
        patterns.push_back(static_cast<int>(view.meter.pattern));
    return patterns;
}

}  // namespace

double ln_amps(double amps, const AccuracyOptions& o) {
    return std::log(std::max(amps, 0.0) + o.meter_amps_digit);
}

double ln_ohms(double ohms, const AccuracyOptions& o) {
    return std::log(std::max(ohms, 0.0) + o.lead_ohms);
}

std::vector<Expected> expected_injection_ohms(const std::vector<PoweredView>& samples,
                                              const AccuracyOptions& o) {
    std::vector<double> ohms;
    ohms.reserve(samples.size());
    for (const PoweredView& view : samples)
        ohms.push_back(view.meter.volts / std::max(view.meter.amps, 1e-9));
    return expected_ohms(ohms, o);
}

std::vector<double> hottest_shares(const PoweredView& view, const AccuracyOptions& o) {
    constexpr double sharpness = 6.0;
    std::vector<double> shares;
    shares.reserve(view.rise_kelvin.size());
    const double hottest = hottest_part(view).kelvin + o.rise_digit_kelvin;
    double total = 0.0;
    for (const double rise : view.rise_kelvin) {
        shares.push_back(std::pow((std::max(rise, 0.0) + o.rise_digit_kelvin) / hottest, sharpness));
        total += shares.back();
    }
    for (double& share : shares)
        share /= total;
    return shares;
}

double nothing_warm_probability(double hottest_kelvin, const AccuracyOptions& o) {
    constexpr double edge_width_kelvin = 1.5;
    return 1.0 / (1.0 + std::exp((hottest_kelvin - o.warm_kelvin) / edge_width_kelvin));
}

double over_limit_probability(double ohms, const AccuracyOptions& o) {
    if (!std::isfinite(ohms))
        return 1.0;
    constexpr double smallest_ohms = 1e-3;
    const double x = std::log(std::max(ohms, smallest_ohms) / o.over_limit_ohms) / over_limit_edge_width;
    return 1.0 / (1.0 + std::exp(-x));
}

std::vector<Expected> expected_meter_volts(const std::vector<PoweredView>& samples, const AccuracyOptions& o) {
    const auto volts = values_of(samples, [](const PoweredView& v) { return v.meter.volts; });
    const auto between = gaps(volts, patterns_of(samples));
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const MeterSummary& meter = samples[s].meter;
        // A cycling source is read at some moment of its cycle.
        const double spread = meter.pattern == MeterPattern::cycling ? 0.25 * meter.volts_spread : 0.0;
        const double instrument = std::hypot(o.meter_volts_digit, o.meter_volts_share * volts[s], spread);
        list.push_back(expected(volts[s], instrument, o.model_volts_share * volts[s], between[s], o));
    }
    return list;
}

std::vector<Expected> expected_meter_amps(const std::vector<PoweredView>& samples, const AccuracyOptions& o) {
    const auto amps = values_of(samples, [&](const PoweredView& v) { return ln_amps(v.meter.amps, o); });
    const auto between = gaps(amps, patterns_of(samples));
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double digit = 0.5 * o.meter_amps_digit / std::exp(amps[s]);
        list.push_back(
            expected(amps[s], std::hypot(o.meter_amps_share, digit), o.model_amps_share, between[s], o));
    }
    return list;
}

std::vector<Expected> expected_net_volts(const std::vector<PoweredView>& samples, int net,
                                         const AccuracyOptions& o) {
    const auto volts = values_of(
        samples, [net](const PoweredView& v) { return double{v.net_volts[static_cast<std::size_t>(net)]}; });
    const auto between = gaps(volts);
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double instrument = std::hypot(o.dmm_volts_digit, o.dmm_volts_share * volts[s]);
        list.push_back(expected(volts[s], instrument, o.model_rail_share * volts[s], between[s], o));
    }
    return list;
}

std::vector<Expected> expected_rise(const std::vector<PoweredView>& samples, int block,
                                    const AccuracyOptions& o) {
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (const PoweredView& view : samples) {
        const double rise = view.rise_kelvin[static_cast<std::size_t>(block)];
        list.push_back(expected(rise, o.rise_digit_kelvin, o.rise_share * rise, 0.0, o));
    }
    return list;
}

std::vector<Expected> expected_ohms(const std::vector<double>& samples, const AccuracyOptions& o) {
    std::vector<double> ln;
    ln.reserve(samples.size());
    for (const double ohms : samples)
        ln.push_back(std::isfinite(ohms) ? ln_ohms(ohms, o) : std::numeric_limits<double>::infinity());
    const auto between = gaps(ln);
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double lead_share = std::isfinite(samples[s]) ? o.lead_ohms / (samples[s] + o.lead_ohms) : 0.0;
        Expected one = expected(ln[s], std::hypot(o.dmm_ohms_share, lead_share), o.model_ohms_share,
                                std::isfinite(between[s]) ? between[s] : 0.0, o);
        if (std::isnan(samples[s]))
            one.value = samples[s];
        list.push_back(one);
    }
    return list;
}

}  // namespace eh
