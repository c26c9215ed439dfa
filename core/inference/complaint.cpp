// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/complaint.h"

#include <algorithm>
#include <cmath>

namespace eh {
namespace {

// Of machines that behave as sound ones, how many come in for each one that does not: estimate.
constexpr double unnoticed_factor = 0.1;
// A fault that shows in less than this share of its cases is one that does not show.
constexpr double least_shown = 0.05;

}  // namespace

BenchConfiguration as_brought_in(const Topology& topology, const std::string& port) {
    BenchConfiguration configuration;
    configuration.port = topology.find_port(port) == nullptr ? topology.ports.front().id : port;
    configuration.charger = Owner::customer;
    configuration.lead = Owner::customer;
    return configuration;
}

std::vector<BenchConfiguration> ways_to_plug_in(const Topology& topology) {
    std::vector<BenchConfiguration> ways;
    for (const Port& port : topology.ports) {
        ways.push_back(as_brought_in(topology, port.id));
        if (port.family == "usb-c") {
            ways.push_back(ways.back());
            ways.back().side = PlugSide::b;
        }
    }
    return ways;
}

bool is_noticed(const PoweredView& view, const PoweredView& sound) {
    constexpr double noticed_drops = 0.25;
    constexpr double amps_ratio = 1.6;
    constexpr double amps_floor = 0.05;
    return view.meter.pattern != sound.meter.pattern || view.firmware != sound.firmware ||
           view.drop_probability > noticed_drops ||
           std::abs(std::log((view.meter.amps + amps_floor) / (sound.meter.amps + amps_floor))) >
               std::log(amps_ratio);
}

std::optional<Complaint> weigh_complaint(PredictionTable& table, const std::function<bool()>& stop) {
    std::vector<std::shared_ptr<const PoweredColumn>> columns;
    for (const BenchConfiguration& way : ways_to_plug_in(table.plan().topology())) {
        columns.push_back(table.powered(way, stop));
        if (columns.back() == nullptr)
            return std::nullopt;
    }
    const auto& hypotheses = table.hypotheses();
    const auto sound = static_cast<std::size_t>(
        std::find_if(hypotheses.begin(), hypotheses.end(),
                     [](const Hypothesis& h) { return h.kind == HypothesisKind::nothing_wrong; }) -
        hypotheses.begin());
    Complaint complaint;
    complaint.prior_factors.assign(hypotheses.size(), 1.0);
    for (std::size_t h = 0; h < hypotheses.size(); ++h) {
        std::vector<double> weights = table.sample_weights(h);
        double shown = 0.0;
        if (hypotheses[h].kind == HypothesisKind::fault) {
            double total = 0.0;
            for (std::size_t s = 0; s < weights.size(); ++s) {
                const bool noticed = std::any_of(columns.begin(), columns.end(), [&](const auto& column) {
                    return is_noticed((*column)[h][s], (*column)[sound][s]);
                });
                shown += noticed ? weights[s] : 0.0;
                weights[s] *= noticed ? 1.0 : unnoticed_factor;
                total += weights[s];
            }
            for (double& weight : weights)
                weight /= total;
            if (shown < least_shown)
                complaint.prior_factors[h] = unnoticed_factor;
        }
        complaint.sample_weights.push_back(std::move(weights));
    }
    return complaint;
}

}  // namespace eh
