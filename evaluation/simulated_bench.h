// SPDX-License-Identifier: GPL-3.0-or-later
// A faulty machine on a bench that can be measured and repaired: what the reasoning is tried on.
#pragma once

#include <cstdint>
#include <vector>

#include "core/base/random.h"
#include "core/inference/likelihood.h"
#include "core/planning/next_act.h"
#include "evaluation/other_makers.h"

namespace eh {

class SimulatedBench {
  public:
    // A machine of the plan with these faults; `seed` draws its parts and the noise of its readings.
    // noise_factor 0: what is there, without noise.
    SimulatedBench(const MachinePlan& plan, const std::vector<FaultInstance>& faults, std::uint64_t seed,
                   double noise_factor = 1.0, double tolerance_factor = 1.0);

    // From here on, nets differ from what the plan says, and of the readings of a net so many are of another
    // one.
    void of_other_maker(NetFactors nets, double slip_share) {
        nets_ = std::move(nets);
        slip_share_ = slip_share;
    }

    // What there is to be seen, without an instrument's noise.
    PoweredView view(const BenchConfiguration& configuration) {
        return look_at(model_, configuration, solver_);
    }

    // Takes the reading that an act proposes (Requires !act.repair), with the instrument's noise.
    Reading take(const NextAct& act);

  private:
    struct Instruments;
    HotPartReading hottest_of(const PoweredView& view);
    // The numbers of the settings page; empty where nobody opens it, which is the case in three of four.
    SettingsPage page_of(const PoweredView& view);
    std::optional<double> ohms_shown(double ohms);  // empty: OL
    double noisy(double value, double share, double digit);
    [[nodiscard]] std::size_t net_under_probe(const std::string& net);

    MachineModel model_;
    std::vector<FaultInstance> faults_;
    DcSolver solver_;
    Random noise_;
    double noise_factor_;
    NetFactors nets_;  // empty: as the plan says
    double slip_share_ = 0.0;
    int serial_ = 0;
};

}  // namespace eh
