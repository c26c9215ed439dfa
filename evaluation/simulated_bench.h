// SPDX-License-Identifier: GPL-3.0-or-later
// A faulty machine on a bench that can be measured and repaired: what the reasoning is tried on.
#pragma once

#include <cstdint>
#include <vector>

#include "core/base/random.h"
#include "core/inference/likelihood.h"
#include "core/planning/next_act.h"

namespace eh {

class SimulatedBench {
  public:
    // A machine of the plan with these faults; `seed` draws its parts and the noise of its readings.
    SimulatedBench(const MachinePlan& plan, const std::vector<FaultInstance>& faults, std::uint64_t seed,
                   double noise_factor = 1.0, double tolerance_factor = 1.0);

    // What there is to be seen, without an instrument's noise.
    PoweredView view(const BenchConfiguration& configuration) {
        return look_at(model_, configuration, solver_);
    }

    // Takes the reading that an act proposes (Requires !act.repair), with the instrument's noise.
    Reading take(const NextAct& act);

  private:
    struct Instruments;
    HotPartReading hottest_of(const PoweredView& view);
    std::optional<double> ohms_shown(double ohms);  // empty: OL
    double noisy(double value, double share, double digit);

    MachineModel model_;
    std::vector<FaultInstance> faults_;
    DcSolver solver_;
    Random noise_;
    double noise_factor_;
    int serial_ = 0;
};

}  // namespace eh
