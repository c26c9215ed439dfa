// The simulated machine behind the simulated inline meter: a clock, a machine, what is plugged where.
//
// No sockets here: MeterServer asks for the samples that have become due and passes commands on.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/base/random.h"
#include "core/machine/observation.h"
#include "core/trace/inline_meter.h"
#include "core/usbc/cc_capture.h"

namespace eh::sims {

struct MeterBenchOptions {
    std::vector<FaultInstance> faults;
    std::uint64_t seed = 1;
    double rate_hz = 50.0;
    double meter_dies_below_volts = 3.3;
    double meter_wakes_after_s = 1.0;
    bool plugged = true;  // from the start, in the first port
    bool typical = true;  // all parts nominal, faults at their stated or median values
};

class MeterBench {
  public:
    // The plan must outlive the bench.
    MeterBench(const MachinePlan& plan, const MeterBenchOptions& options);

    // The samples that fall due up to `now_s` since the start; empty while the meter is dark.
    std::vector<MeterSample> advance(double now_s);

    // Carries out one command: "port p2", "side b", "battery out", "charger off", "charger customer", "lead
    // bench", "replaced sp2", "removed sp2", "refitted sp2", "fresh parts" (undoes the last three). The
    // answer is one line: "ok" or "error ...".
    std::string command(const std::string& line, double now_s);

    // What a recorder on the CC line heard from plugging in on, for so long; nothing while unplugged.
    [[nodiscard]] std::vector<pd::SeenFrame> talk(double seconds) const;

    [[nodiscard]] const BenchConfiguration& configuration() const { return configuration_; }

  private:
    void restart(double now_s);
    std::string change(const std::string& what, const std::string& value);

    const MachinePlan* plan_;
    MeterBenchOptions options_;
    MachineModel model_;
    DcSolver solver_;
    BenchConfiguration configuration_;
    Course course_;
    InlineMeter meter_;
    Random noise_;
    double plugged_at_s_ = 0.0;
    long next_sample_ = 0;
};

}  // namespace eh::sims
