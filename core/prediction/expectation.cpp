// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/expectation.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <limits>
#include <numeric>

namespace eh {
namespace {

constexpr double no_path_ohms = 1e7;  // of a net that nothing leads from: a clean board's leakage

double square(double x) {
    return x * x;
}

// Of errors that do not hang on each other. Nothing here is near the ends of a double, which is what
// std::hypot guards against, at several times the cost.
double together(double a, double b, double c = 0.0) {
    return std::sqrt(a * a + b * b + c * c);
}

constexpr std::size_t mask_samples = 64;

bool counts(SampleMask counted, std::size_t sample) {
    return sample >= mask_samples || (counted >> sample & 1U) != 0;
}

// Which neighbour the bump of a sample reaches: the second of few samples, a farther one of many. As samples
// grow, bumps are to shrink with the power -1 / (4 + d) of their number (Silverman 1986, section 4.3), d
// being how many things differ from sample to sample and show. Readings show some half a dozen of them at
// once; with bumps as narrow as one of them allows, which sample lives would hang on parts that have nothing
// to do with the fault.
std::size_t reached_neighbour(std::size_t samples) {
    constexpr double few_samples = 48.0;
    constexpr double differ = 6.0;
    constexpr double second = 2.0;
    const double more = static_cast<double>(samples) / few_samples;
    return static_cast<std::size_t>(
        std::lround(second * std::max(1.0, std::pow(more, 1.0 - 1.0 / (4.0 + differ)))));
}

// Samples of one group that have the same value.
struct Stack {
    int group = 0;
    double value = 0.0;
    std::size_t samples = 0;
    std::size_t number = 0;

    friend bool operator<(const Stack& a, const Stack& b) {
        return a.group != b.group ? a.group < b.group : a.value < b.value;
    }
    [[nodiscard]] bool is_of(int in_group, double at) const { return group == in_group && value == at; }
};

// In the order of groups and values; to each sample where its own is.
struct Stacks {
    std::vector<Stack> list;
    std::vector<std::size_t> of_sample;
};

Stacks stacks_of(const std::vector<double>& values, SampleMask counted, const std::vector<int>& groups) {
    // Samples that differ in nothing that showed stand side by side: fewer are left to sort.
    std::vector<Stack> runs;
    std::vector<std::size_t> run_of_sample;
    runs.reserve(values.size());
    run_of_sample.reserve(values.size());
    for (std::size_t s = 0; s < values.size(); ++s) {
        const int own = groups.empty() ? 0 : groups[s];
        const int group = counts(counted, s) ? own : -1 - own;
        if (runs.empty() || !runs.back().is_of(group, values[s]))
            runs.push_back({group, values[s], 0, runs.size()});
        ++runs.back().samples;
        run_of_sample.push_back(runs.size() - 1);
    }
    std::sort(runs.begin(), runs.end());
    Stacks stacks;
    std::vector<std::size_t> stack_of_run(runs.size());
    for (const Stack& run : runs) {
        if (!stacks.list.empty() && stacks.list.back().is_of(run.group, run.value))
            stacks.list.back().samples += run.samples;
        else
            stacks.list.push_back(run);
        stack_of_run[run.number] = stacks.list.size() - 1;
    }
    stacks.of_sample = std::move(run_of_sample);
    for (std::size_t& place : stacks.of_sample)
        place = stack_of_run[place];
    return stacks;
}

// How far from a stack the neighbour is that its bump reaches, among the `reached` nearest; infinity where
// there is none.
double reach_of(const std::vector<Stack>& stacks, std::size_t stack, std::size_t reached) {
    constexpr double same_cluster = 4.0;
    const auto distance = [&](std::size_t steps, bool up) {
        if (up ? stack + steps >= stacks.size() : steps > stack)
            return std::numeric_limits<double>::infinity();
        const Stack& a = stacks[stack];
        const Stack& b = stacks[up ? stack + steps : stack - steps];
        return a.group == b.group && std::isfinite(a.value) && std::isfinite(b.value)
                   ? std::abs(a.value - b.value)
                   : std::numeric_limits<double>::infinity();
    };
    std::size_t below = 1;
    std::size_t above = 1;
    const auto next_nearest = [&] {
        const double down = distance(below, false);
        const double up = distance(above, true);
        ++(down <= up ? below : above);
        return std::min(down, up);
    };
    double reach = next_nearest();
    // A neighbour far beyond those before it belongs to another cluster: another state of the machine. Of
    // many samples the nearest is often very near by chance.
    double within = reached > 2 ? same_cluster * same_cluster : same_cluster;
    for (std::size_t n = 1; n < reached && std::isfinite(reach); ++n) {
        const double next = next_nearest();
        if (next > within * reach)
            break;
        reach = next;
        within = same_cluster;
    }
    return reach;
}

// Half the distance from each value to its second nearest neighbour, or to a farther one where there are many
// samples: how wide a bump must be to close the gap between samples (the nearest-neighbour kernel;
// Loftsgaarden and Quesenberry 1965). Narrow where values pile up, as volts do at the contracts, wide along a
// continuum, as with the severity of a short. Values of different groups are no neighbours, and samples of
// one value count as one.
std::vector<double> gaps(const std::vector<double>& values, SampleMask counted,
                         const std::vector<int>& groups = {}) {
    constexpr double share = 0.5;
    constexpr std::size_t alike_but_for_the_charger = 3;  // samples that have the same parts
    std::vector<double> result(values.size(), 0.0);
    // Most nets of most machines: no sample differs.
    if (std::adjacent_find(values.begin(), values.end(), std::not_equal_to<>()) == values.end())
        return result;
    const Stacks stacks = stacks_of(values, counted, groups);
    const std::size_t reached = reached_neighbour(values.size());
    std::vector<double> of_stack(stacks.list.size(), 0.0);
    for (std::size_t stack = 0; stack < stacks.list.size(); ++stack) {
        // Machines with different parts that agree to the last digit leave no gap to close.
        if (stacks.list[stack].samples > alike_but_for_the_charger)
            continue;
        const double reach = reach_of(stacks.list, stack, reached);
        of_stack[stack] = std::isfinite(reach) ? share * reach : 0.0;
    }
    for (std::size_t s = 0; s < values.size(); ++s)
        result[s] = of_stack[stacks.of_sample[s]];
    return result;
}

// `machine_width` is of what one machine has and keeps (where between two samples it stands, what leaks on
// its board), `model_width` of what the model leaves out of every reading.
Expected expected(double value, double instrument_width, double model_width, double machine_width,
                  const AccuracyOptions& o) {
    const double of_model = square(model_width);
    const double of_machine = square(machine_width);
    return {value, std::sqrt(o.common_share * of_model + o.machine_common_share * of_machine),
            std::sqrt(square(instrument_width) + (1.0 - o.common_share) * of_model +
                      (1.0 - o.machine_common_share) * of_machine)};
}

// How far off volts may be that nothing but a leak brings to a net: as far as they are high, for a switch
// that is off leaks from kilohms to tens of megohms. Whatever is meant to bring volts brings more amps.
double leaked_volts(double volts, double net_ohms) {
    constexpr double meant_amps = 1e-5;
    const bool by_leak =
        std::abs(volts) < strays_below_volts && std::abs(volts) < meant_amps * std::abs(net_ohms);
    return by_leak ? std::abs(volts) : 0.0;
}

// Ohms are set by one part where they are few, by many that no model knows where they are many.
double model_ohms_share(double ohms, const AccuracyOptions& o) {
    constexpr double many_decades = 2.0;
    if (!std::isfinite(ohms) || ohms <= few_ohms)
        return o.model_ohms_share;
    const double decades = std::min(1.0, std::log10(ohms / few_ohms) / many_decades);
    return o.model_ohms_share + decades * (o.model_kiloohms_share - o.model_ohms_share);
}

// Whether so many ohms are what they are without a fault.
bool is_about(double ohms, double sound) {
    constexpr double factor = 1.5;
    return ohms <= sound * factor && ohms >= sound / factor;
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

SampleMask counted_samples(const std::vector<double>& weights) {
    SampleMask counted = all_samples;
    for (std::size_t s = 0; s < weights.size() && weights.size() <= mask_samples; ++s) {
        if (!(weights[s] > 0.0))
            counted &= ~(SampleMask{1} << s);
    }
    return counted;
}

double ln_amps(double amps, const AccuracyOptions& o) {
    return std::log(std::max(amps, 0.0) + o.meter_amps_digit);
}

double ln_ohms(double ohms, const AccuracyOptions& o) {
    return std::log(std::max(ohms, 0.0) + o.lead_ohms);
}

double stray_share(double net_ohms, const AccuracyOptions& o) {
    constexpr double held = 1e-3;
    const double share = 1.0 / (1.0 + o.stray_ohms / std::abs(net_ohms));
    return share > held ? share * std::sqrt(share) : 0.0;
}

std::vector<Expected> expected_injection_ohms(const std::vector<PoweredView>& samples,
                                              const AccuracyOptions& o, SampleMask counted, double amps_ln) {
    constexpr double no_short_above_ohms = 20.0;
    std::vector<double> ohms;
    ohms.reserve(samples.size());
    for (const PoweredView& view : samples)
        ohms.push_back(view.meter.volts / std::max(view.meter.amps, 1e-9));
    std::vector<double> drawn;  // as if of the sound machine, whose makers differ
    drawn.reserve(ohms.size());
    for (const double one : ohms)
        drawn.push_back(one > no_short_above_ohms ? one : 0.0);
    return expected_ohms(ohms, o, counted, {0.0, amps_ln}, drawn);
}

std::vector<double> hottest_shares(const PoweredView& view, const AccuracyOptions& o) {
    std::vector<double> shares;
    shares.reserve(view.rise_kelvin.size());
    const double hottest = hottest_part(view).kelvin + o.rise_digit_kelvin;
    double total = 0.0;
    for (const float rise : view.rise_kelvin) {
        // The sixth power: a part half as warm is named once in sixty times.
        const double squared = square((std::max(double{rise}, 0.0) + o.rise_digit_kelvin) / hottest);
        shares.push_back(squared * squared * squared);
        total += shares.back();
    }
    for (double& share : shares)
        share /= total;
    return shares;
}

double seen_drop_probability(const PoweredView& view) {
    constexpr double taken_for_a_drop = 0.5;  // estimate
    return std::max(double{view.drop_probability},
                    view.meter.pattern == MeterPattern::cycling ? taken_for_a_drop : 0.0);
}

double nothing_warm_probability(double hottest_kelvin, const AccuracyOptions& o) {
    constexpr double edge_width_kelvin = 1.5;
    return 1.0 / (1.0 + std::exp((hottest_kelvin - o.warm_kelvin) / edge_width_kelvin));
}

double over_limit_probability(double ohms, double ln_width, const AccuracyOptions& o) {
    if (!std::isfinite(ohms))
        return 1.0;
    constexpr double smallest_ohms = 1e-3;
    constexpr double narrowest = 0.05;
    // A logistic step is as wide as a normal one of 1.7 times its width (Camilli 1994).
    const double edge = std::max(ln_width, narrowest) / 1.7;
    const double x = std::log(std::max(ohms, smallest_ohms) / o.over_limit_ohms) / edge;
    return 1.0 / (1.0 + std::exp(-x));
}

std::vector<Expected> expected_meter_volts(const std::vector<PoweredView>& samples, const AccuracyOptions& o,
                                           SampleMask counted) {
    const auto volts = values_of(samples, [](const PoweredView& v) { return v.meter.volts; });
    const auto between = gaps(volts, counted, patterns_of(samples));
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const MeterSummary& meter = samples[s].meter;
        // A cycling source is read at some moment of its cycle.
        const double spread = meter.pattern == MeterPattern::cycling ? 0.5 * meter.volts_spread : 0.0;
        const double instrument = together(o.meter_volts_digit, o.meter_volts_share * volts[s], spread);
        const double sagged = o.sag_share * double{samples[s].sag} * volts[s];
        list.push_back(
            expected(volts[s], instrument, o.model_volts_share * volts[s], together(between[s], sagged), o));
    }
    return list;
}

std::vector<Expected> expected_meter_amps(const std::vector<PoweredView>& samples, const AccuracyOptions& o,
                                          SampleMask counted, double amps_ln) {
    const auto amps = values_of(samples, [&](const PoweredView& v) { return ln_amps(v.meter.amps, o); });
    const auto between = gaps(amps, counted, patterns_of(samples));
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double digit = 0.5 * o.meter_amps_digit / std::exp(amps[s]);
        // A charger at its limit gives what it can, whatever the machine would draw. What a machine draws
        // hangs as much on what it does at the moment as on its make.
        const double of_load = samples[s].source_strained ? 0.0 : amps_ln;
        const MeterSummary& meter = samples[s].meter;
        const double moment = meter.pattern == MeterPattern::cycling
                                  ? std::log1p(meter.amps_spread / (meter.amps + o.meter_amps_digit))
                                  : 0.0;
        list.push_back(expected(amps[s], together(o.meter_amps_share, digit, moment),
                                together(o.model_amps_share, of_load), between[s], o));
    }
    return list;
}

std::vector<Expected> expected_net_volts(const std::vector<PoweredView>& samples, int net,
                                         const AccuracyOptions& o, SampleMask counted,
                                         const NetVariety& variety) {
    const auto volts = values_of(
        samples, [net](const PoweredView& v) { return double{v.net_volts[static_cast<std::size_t>(net)]}; });
    const auto between = gaps(volts, counted);
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double instrument = together(o.dmm_volts_digit, o.dmm_volts_share * volts[s]);
        const double stray =
            o.most_stray_volts * stray_share(double{samples[s].net_ohms[static_cast<std::size_t>(net)]}, o);
        const double sagged = o.sag_share * double{samples[s].sag} * volts[s];
        const double of_maker = variety.volts_share * volts[s];
        const double leaked =
            leaked_volts(volts[s], double{samples[s].net_ohms[static_cast<std::size_t>(net)]});
        list.push_back(expected(volts[s], instrument, o.model_rail_share * volts[s],
                                together(together(stray, of_maker, leaked), between[s], sagged), o));
    }
    return list;
}

std::vector<Expected> expected_rise(const std::vector<PoweredView>& samples, int block,
                                    const AccuracyOptions& o) {
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (const PoweredView& view : samples) {
        const double rise = view.rise_kelvin[static_cast<std::size_t>(block)];
        const double sagged = o.sag_rise_share * double{view.sag} * rise;
        list.push_back(expected(rise, o.rise_digit_kelvin, o.rise_share * rise, sagged, o));
    }
    return list;
}

std::vector<Expected> expected_ohms(const std::vector<double>& samples, const AccuracyOptions& o,
                                    SampleMask counted, const NetVariety& variety,
                                    const std::vector<double>& sound) {
    std::vector<double> ln;
    ln.reserve(samples.size());
    const auto of_maker = [&](std::size_t s) {
        return s < sound.size() && is_about(samples[s], sound[s]) ? variety.ohms_ln : 0.0;
    };
    for (std::size_t s = 0; s < samples.size(); ++s) {
        // What no path leads from in one maker's machine has one in another's.
        const double ohms = of_maker(s) > 0.0 ? std::min(samples[s], no_path_ohms) : samples[s];
        ln.push_back(std::isfinite(ohms) ? ln_ohms(ohms, o) : std::numeric_limits<double>::infinity());
    }
    const auto between = gaps(ln, counted);
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double lead_share = std::isfinite(samples[s]) ? o.lead_ohms / (samples[s] + o.lead_ohms) : 0.0;
        Expected one =
            expected(ln[s], together(o.dmm_ohms_share, lead_share), model_ohms_share(samples[s], o),
                     together(std::isfinite(between[s]) ? between[s] : 0.0, of_maker(s)), o);
        if (std::isnan(samples[s]))
            one.value = samples[s];
        list.push_back(one);
    }
    return list;
}

std::vector<Expected> expected_drops(const std::vector<double>& samples, const AccuracyOptions& o,
                                     SampleMask counted) {
    const auto between = gaps(samples, counted);
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double volts = samples[s];
        if (!std::isfinite(volts)) {
            list.push_back({volts, 0.0, 1.0});
            continue;
        }
        const double instrument = together(o.dmm_drop_digit, o.dmm_volts_share * volts);
        list.push_back(expected(volts, instrument, o.model_drop_share * volts,
                                std::isfinite(between[s]) ? between[s] : 0.0, o));
    }
    return list;
}

std::vector<Expected> expected_pack_volts(const std::vector<double>& samples, const AccuracyOptions& o,
                                          SampleMask counted) {
    constexpr double model_share = 0.03;  // of what cells of one charge differ by (common practice)
    // What an open protection lets through shows as tenths of a volt on a meter of 10 MOhm (common practice).
    constexpr double asleep_below_volts = 0.5;
    constexpr double asleep_leak_volts = 0.15;
    const auto between = gaps(samples, counted);
    std::vector<Expected> list;
    list.reserve(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double instrument = together(o.dmm_volts_digit, o.dmm_volts_share * samples[s]);
        const double model = samples[s] < asleep_below_volts ? asleep_leak_volts : model_share * samples[s];
        list.push_back(expected(samples[s], instrument, model, between[s], o));
    }
    return list;
}

}  // namespace eh
