// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated machine that the simulated instruments share: one set of faults, one way it stands.
//
// No sockets here and no noise: instruments add their own.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/machine/simulation/observation.h"

namespace eh::sims {

struct BenchMachineOptions {
    std::vector<FaultInstance> faults;
    std::uint64_t seed = 1;
    bool plugged = true;  // from the start, in the first port
    bool typical = true;  // all parts nominal, faults at their stated or median values
};

class BenchMachine {
  public:
    // The plan must outlive the machine.
    BenchMachine(const MachinePlan& plan, const BenchMachineOptions& options);

    // Carries out one command: "port p2", "side b", "battery out", "charger off", "charger customer", "lead
    // bench", "replaced sp2", "removed sp2", "refitted sp2", "reset mb" and what else puts one thing right,
    // "power cut", "fresh parts" (undoes the last five). The answer is one line: "ok" or "error ...".
    std::string command(const std::string& line, double now_s);
    // Connects the bench supply's output, or takes it away.
    void feed(const std::optional<Injection>& injection, double now_s);

    [[nodiscard]] const BenchConfiguration& configuration() const { return configuration_; }
    [[nodiscard]] const MachinePlan& plan() const { return *plan_; }
    [[nodiscard]] MachineModel& model() { return model_; }
    [[nodiscard]] const MachineModel& model() const { return model_; }
    [[nodiscard]] const Course& course() const { return course_; }
    // What happens at a time; nullptr while nothing is plugged in.
    [[nodiscard]] const Phase* plugged_phase(double now_s) const;

    // Index of a net by its id; -1 if there is none.
    [[nodiscard]] int find_net(const std::string& id) const;
    // Volts of a net to ground now.
    [[nodiscard]] double net_volts(int net, double now_s) const;
    // Ohms of a net to ground, as a multimeter shows them; infinity over its range, and where volts stand on
    // the net: an ohmmeter shows nothing that means anything there.
    [[nodiscard]] double net_ohms(int net, double now_s);
    // What the bench supply gives.
    struct Supply {
        double volts = 0.0;
        double amps = 0.0;
    };
    [[nodiscard]] Supply supply() const;

  private:
    void restart(double now_s);
    std::string change(const std::string& what, const std::string& value);

    const MachinePlan* plan_;
    MachineModel model_;
    DcSolver solver_;
    BenchConfiguration configuration_;
    Course course_;
    double plugged_at_s_ = 0.0;
};

}  // namespace eh::sims
