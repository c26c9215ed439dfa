// SPDX-License-Identifier: GPL-3.0-or-later
// Where the circuit of a machine comes to rest in one state, and which of two points it rests at.
//
// A converter draws the more the lower its input is, so that a source that folds back, or a path that limits
// its amps, may hold it at either of two points. A machine that comes from full volts stays at the upper one.
// A short that punches through has two points as well, and is met at the lower one.
#pragma once

#include <optional>
#include <vector>

#include "core/machine/simulation/machine_model.h"

namespace eh {

class PointSearch {
  public:
    // Both must outlive the search. The model's circuit is solved as it stands; what is changed for a trial
    // is put back.
    PointSearch(MachineModel& model, DcSolver& solver);

    // A last step as small as this leaves an error far below what any instrument shows: the steps shrink
    // quadratically.
    [[nodiscard]] static SolveOptions options();

    // The operating point that a machine comes to which stood at `before` (node volts; empty: nothing was
    // on). `source_volts` are those of the plugged charger, where it is live. The status of the solution says
    // whether there is one.
    [[nodiscard]] Solution find(const std::vector<double>& before, std::optional<double> source_volts);

  private:
    [[nodiscard]] bool overloads(const Solution& solution) const;
    [[nodiscard]] std::vector<Regulator*> limiting_paths();
    [[nodiscard]] bool path_gives_all(const Solution& solution);
    [[nodiscard]] bool punches_through() const;
    [[nodiscard]] Solution by_soft_start(const std::vector<double>& before);
    [[nodiscard]] Solution from_full(const std::vector<double>& before);

    MachineModel& model_;
    DcSolver& solver_;
    std::optional<double> source_volts_;
};

}  // namespace eh
