// SPDX-License-Identifier: GPL-3.0-or-later
// How the samples of a machine are drawn, and how much each counts.
#include <array>

#include "core/machine/model/fault_reach.h"
#include "core/prediction/prediction_store.h"

namespace eh {
namespace {

// Nobody knows beforehand how the make of charger on the bench protects itself.
constexpr std::array makes{Protection::foldback, Protection::hiccup, Protection::latched};
static_assert(makes.size() == samples_of_design);

}  // namespace

std::size_t PredictionStore::samples_of(Depth depth) const {
    return depth == Depth::few_designs ? static_cast<std::size_t>(options_.samples) : sound_models_.size();
}

void PredictionStore::draw_sound_models(Depth depth) const {
    for (std::size_t s = 0; s < samples_of(depth); ++s) {
        if (sound_models_[s] == nullptr)
            sound_models_[s] = std::make_unique<const MachineModel>(*plan_, std::vector<FaultInstance>{},
                                                                    sample_draw(static_cast<int>(s)));
    }
}

std::vector<double> PredictionStore::sample_weights(const Machine& machine) const {
    std::vector<double> weights;
    double total = 0.0;
    const bool severe = draws_severity(plan_->knowledge().catalogue, machine.faults);
    const std::size_t samples = samples_of(machine.depth);
    weights.reserve(samples);
    for (std::size_t s = 0; s < samples; ++s) {
        // Only shorts are drawn from another spread than their own, and only severities more densely.
        const double drawn = severe ? sample_model(machine, static_cast<int>(s)).weight() *
                                          severity_of(machine, static_cast<int>(s)).weight
                                    : 1.0;
        weights.push_back(drawn * options_.designs[s / samples_of_design].weight);
        total += weights.back();
    }
    for (double& weight : weights)
        weight /= total;
    return weights;
}

// Makes of charger change fastest from sample to sample, then the design, so that each is met with each of
// the others. Samples of one design have the same parts; faults of some severity, which bring the make out,
// have each their own.
PartDraw PredictionStore::sample_draw(int sample) const {
    const int number = sample / samples_of_design;
    const DesignSample& design = options_.designs[static_cast<std::size_t>(number)];
    PartDraw draw;
    draw.typical = false;
    // The same sound parts for every machine: differences between machines are then the faults' own.
    draw.seed = options_.seed + design.parts;
    draw.protection = makes[static_cast<std::size_t>(sample % samples_of_design)];
    draw.pack_empty = design.pack_empty;
    draw.pack_charge = design.pack_charge;
    draw.alike_punching_through = number / 2 % 2 != 0;
    draw.habits = design.habits;
    draw.tolerance_factor = options_.tolerance_factor;
    return draw;
}

SeverityDraw PredictionStore::severity_of(const Machine& machine, int sample) const {
    const bool severe = draws_severity(plan_->knowledge().catalogue, machine.faults);
    const double even = evenly(static_cast<std::size_t>(severe ? sample : sample / samples_of_design));
    // The first of stream 0 is the draw's severity.
    for (std::size_t f = 0; f < machine.faults.size(); ++f) {
        if (machine.streams[f] == 0)
            return severity_draw(even, machine.faults[f].severity);
    }
    return severity_draw(even, {});
}

MachineModel PredictionStore::sample_model(const Machine& machine, int sample) const {
    PartDraw draw = sample_draw(sample);
    draw.severity = severity_of(machine, sample).quantile;
    draw.knee = evenly_beside(static_cast<std::size_t>(sample));
    draw.streams = machine.streams;
    return {*sound_models_[static_cast<std::size_t>(sample)], machine.faults, draw};
}

bool PredictionStore::has_parts_of_sample_before(const Machine& machine, std::size_t sample) const {
    return sample % samples_of_design != 0 && !draws_severity(plan_->knowledge().catalogue, machine.faults);
}

}  // namespace eh
