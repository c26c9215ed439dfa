// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/injections.h"

#include <algorithm>
#include <cmath>

#include "core/planning/next_act.h"
#include "core/planning/off_numbers.h"

namespace eh {
namespace {

// The supply into this net as it comes next: gently at first, then harder where that warmed nothing.
Injection next_injection(const Net& net, const std::vector<Reading>& taken) {
    constexpr double gentle_share = 0.5;  // of the net's own volts, at most
    constexpr double to_warm_watts = 2.0;
    constexpr double worth_raising = 1.3;  // times the volts of before
    constexpr double step_volts = 0.1;
    Injection injection{net.id};
    injection.volts = std::min(injection.volts, gentle_share * net.volts);
    const auto gentle = std::find_if(taken.begin(), taken.end(), [&](const Reading& reading) {
        const auto& into = reading.configuration.injection;
        const auto* injected = reading.as<InjectionReading>();
        return !reading.set_aside && injected != nullptr && injected->hottest.part.empty() && into &&
               into->net == net.id;
    });
    if (gentle == taken.end())
        return injection;
    const MeterSummary& supply = std::get<InjectionReading>(gentle->value).supply;
    if (supply.amps <= 0.0)
        return injection;
    const double volts = std::min(net.volts, std::sqrt(to_warm_watts * supply.volts / supply.amps));
    if (volts >= worth_raising * injection.volts)
        injection.volts = std::floor(volts / step_volts + 0.5 * step_volts) * step_volts;
    return injection;
}

// Whether a charger's power reaches nets of this stage; what a regulator makes of it is limited.
bool is_fed_by_charger(const Net& net) {
    return net.stage == "inlet" || net.stage == "switch" || net.stage == "charger" || net.stage == "rail";
}

}  // namespace

std::vector<double> short_probabilities(const PredictionTable& table, const Ranking& ranking,
                                        const BenchConfiguration& off) {
    constexpr double short_ohms = 30.0;
    const auto& nets = table.plan().topology().nets;
    std::vector<double> probabilities(nets.size(), 0.0);
    for (std::size_t n = 0; n < nets.size(); ++n) {
        const auto column = nets[n].stage.empty() ? nullptr : table.known_ohms(off, static_cast<int>(n));
        if (column == nullptr)
            continue;
        for (const Suspicion& suspicion : ranking.suspicions) {
            const auto& weights = ranking.sample_weights[suspicion.hypothesis];
            for (std::size_t s = 0; s < weights.size(); ++s) {
                if ((*column)[suspicion.hypothesis][s] < short_ohms)
                    probabilities[n] += suspicion.probability * weights[s];
            }
        }
    }
    return probabilities;
}

bool power_would_strain(const PredictionTable& table, const Ranking& ranking, const BenchConfiguration& now) {
    constexpr double likelier_than_not = 0.5;
    const auto& nets = table.plan().topology().nets;
    const std::vector<double> shorted = short_probabilities(table, ranking, measured_off(now));
    for (std::size_t n = 0; n < nets.size(); ++n) {
        if (is_fed_by_charger(nets[n]) && shorted[n] > likelier_than_not)
            return true;
    }
    return false;
}

bool was_measured(const std::vector<Reading>& taken, const std::string& net) {
    return std::any_of(taken.begin(), taken.end(), [&](const Reading& reading) {
        const bool at_net = reading.kind() == ReadingKind::net_ohms || reading.kind() == ReadingKind::diode;
        const auto& fed = reading.configuration.injection;
        return !reading.set_aside && ((at_net && reading.place() == net) || (fed && fed->net == net));
    });
}

std::vector<BenchConfiguration> injection_configurations(const PredictionTable& table, const Ranking& ranking,
                                                         const std::vector<Reading>& taken,
                                                         const BenchConfiguration& now) {
    constexpr double worth_injecting = 0.3;  // probability of a short
    constexpr std::size_t most_nets = 4;
    BenchConfiguration base = measured_off(now);
    const std::vector<double> shorted = short_probabilities(table, ranking, base);
    std::vector<std::size_t> nets;
    for (std::size_t n = 0; n < shorted.size(); ++n) {
        if (shorted[n] >= worth_injecting)
            nets.push_back(n);
    }
    std::stable_sort(nets.begin(), nets.end(),
                     [&](std::size_t a, std::size_t b) { return shorted[a] > shorted[b]; });
    nets.resize(std::min(most_nets, nets.size()));
    std::vector<BenchConfiguration> configurations;
    for (const std::size_t n : nets) {
        base.injection = next_injection(table.plan().topology().nets[n], taken);
        configurations.push_back(base);
    }
    return configurations;
}

}  // namespace eh
