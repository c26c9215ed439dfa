// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated inline meter at a machine: its clock, its noise, and that it lives on VBUS.
//
// No sockets here: MeterServer asks for the samples that have become due.
#pragma once

#include <memory>
#include <vector>

#include "core/base/random.h"
#include "core/trace/inline_meter.h"
#include "core/usbc/cc_capture.h"
#include "sims/bench_machine.h"

namespace eh::sims {

struct MeterBenchOptions {
    std::uint64_t seed = 1;
    double rate_hz = 50.0;
    double meter_dies_below_volts = 3.3;
    double meter_wakes_after_s = 1.0;
};

class MeterBench {
  public:
    MeterBench(std::shared_ptr<BenchMachine> machine, const MeterBenchOptions& options);

    // The samples that fall due up to `now_s` since the start; empty while the meter is dark.
    std::vector<MeterSample> advance(double now_s);

    // What a recorder on the CC line heard from plugging in on, for so long; nothing while unplugged.
    [[nodiscard]] std::vector<pd::SeenFrame> talk(double seconds) const;

    [[nodiscard]] BenchMachine& machine() { return *machine_; }
    [[nodiscard]] double rate_hz() const { return options_.rate_hz; }

  private:
    std::shared_ptr<BenchMachine> machine_;
    MeterBenchOptions options_;
    InlineMeter meter_;
    Random noise_;
    long next_sample_ = 0;
};

}  // namespace eh::sims
