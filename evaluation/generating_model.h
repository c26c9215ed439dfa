// SPDX-License-Identifier: GPL-3.0-or-later
// Machines to try the reasoning on: drawn from a model that is not quite the one it reasons with.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/random.h"
#include "core/prediction/hypothesis.h"

namespace eh {

// How far the generating model is off, and what befalls its machines.
struct Perturbation {
    double rate_factor = 3.0;       // rates and shares of causes are multiplied or divided by up to this
    double noise_factor = 1.5;      // of the readings
    double tolerance_factor = 2.0;  // of the parts
    bool other_protection = true;   // chargers protect themselves in another way
    double tied_share = 0.15;       // machines with a fault that another one brought about
    double untied_share =
        0.15;  // machines with two or three faults that came with liquid or an earlier repair
    bool unknown_effects = false;  // every machine has an effect that the catalogue does not hold
    // Machines of makers that the reasoning's library of designs does not hold (evaluation/other_makers.h).
    bool other_makers = false;
    double slip_share = 0.0;       // of readings of a net: the probe stood on another one
    double no_camera_share = 0.0;  // of machines on the bench of a technician without a camera

    // The model itself: nothing moved, single faults only.
    static Perturbation none() { return {1.0, 1.0, 1.0, false, 0.0, 0.0, false}; }
    // Other makers' machines, probes that slip, benches without a camera.
    static Perturbation strangers() {
        Perturbation perturbation;
        perturbation.other_makers = true;
        perturbation.slip_share = 0.02;
        perturbation.no_camera_share = 1.0 / 3.0;
        return perturbation;
    }
};

// The knowledge as another world might have it. Deterministic for a seed.
Knowledge perturbed(const Knowledge& knowledge, const Perturbation& perturbation, std::uint64_t seed);

struct DrawnMachine {
    std::vector<FaultInstance> faults;  // none: nothing wrong
    std::vector<std::string> facts;     // what the intake says
    std::uint64_t seed = 0;             // of its parts and readings
};

// Draws machines of a plan made from perturbed knowledge. Requires a plan that outlives it.
class MachineSource {
  public:
    MachineSource(const MachinePlan& plan, const Perturbation& perturbation, std::uint64_t seed);
    DrawnMachine next();

  private:
    [[nodiscard]] const Hypothesis& drawn(const std::vector<double>& weights);
    std::vector<FaultInstance> untied(const std::vector<std::string>& facts);
    std::vector<std::string> facts_with(const std::vector<FaultInstance>& faults);

    const MachinePlan& plan_;
    Perturbation perturbation_;
    Random random_;
    std::vector<Hypothesis> hypotheses_;
};

// A copy of the knowledge whose catalogue also holds, under ids that start with "unknown_", effects on the
// kinds of this plan that the catalogue knows nothing of: leaks between pins, parts that leak a little,
// connections that are worse than they look, values that have drifted. For trying what the reasoning does
// when it cannot know.
Knowledge with_unknown_effects(const Knowledge& knowledge, const Topology& topology, std::uint64_t seed);

}  // namespace eh
