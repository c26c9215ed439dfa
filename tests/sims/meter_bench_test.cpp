// SPDX-License-Identifier: GPL-3.0-or-later
#include "sims/meter_bench.h"
#include "core/machine/simulation/known_ohms.h"

#include <cmath>

#include "core/trace/meter_summary.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;
using eh::sims::BenchMachine;
using eh::sims::BenchMachineOptions;
using eh::sims::MeterBench;
using eh::sims::MeterBenchOptions;

namespace {

struct Bench {
    FittedPlan plan;
    std::shared_ptr<BenchMachine> machine;
    MeterBench bench;
    explicit Bench(const BenchMachineOptions& options = {}, const MeterBenchOptions& meter = {})
        : plan(shipped_knowledge(), topology(chained)),
          machine(std::make_shared<BenchMachine>(plan, options)),
          bench(machine, meter) {}
};

}  // namespace

TEST_CASE("the simulated meter shows 5 V, then the contract, then the charge", "[sims]") {
    Bench b;
    const auto samples = b.bench.advance(30.0);
    REQUIRE(samples.size() > 1000);
    // Common practice: the meter itself wakes about a second after VBUS stands.
    CHECK(samples.front().t_s > 1.0);
    CHECK(samples.front().volts == Approx(5.0).margin(0.3));
    CHECK(samples.back().volts > 18.5);
    CHECK(samples.back().amps > 1.0);
}

TEST_CASE("samples come at the asked rate and never twice", "[sims]") {
    MeterBenchOptions options;
    options.rate_hz = 1000.0;
    Bench b({}, options);
    std::vector<MeterSample> all;
    for (double now_s = 0.0; now_s < 12.0; now_s += 0.037) {
        for (const MeterSample& sample : b.bench.advance(now_s))
            all.push_back(sample);
    }
    REQUIRE(all.size() > 9000);
    for (std::size_t i = 1; i < all.size(); ++i) {
        const double step = all[i].t_s - all[i - 1].t_s;
        CHECK(step > 0.9e-3);
        if (step > 1.1e-3)
            FAIL("a gap at " << all[i].t_s);
    }
}

TEST_CASE("a short under a charger that retries comes and goes, dark in between", "[sims]") {
    BenchMachineOptions options;
    options.faults = {{"protector_shorted", "sp2", 3.3, 3.0}};
    Bench b(options);
    CHECK(b.machine->command("port p2", 0.0) == "ok");
    const auto samples = b.bench.advance(30.0);
    const MeterSummary summary = summarise(samples, 10.0, 30.0);
    CHECK(summary.pattern == MeterPattern::cycling);
    // Kernel header pd.h: a source recovers for 0.66-1.0 s after a hard reset; common practice: cycles of 1-2
    // s and somewhat more.
    CHECK(summary.period_s > 0.8);
    CHECK(summary.period_s < 3.0);
    CHECK(summary.volts < 5.5);
    CHECK(summary.amps > 2.0);
}

TEST_CASE("replacing the part at fault makes the machine charge", "[sims]") {
    BenchMachineOptions options;
    options.faults = {{"memory_unreadable", "mem"}};
    Bench b(options);
    CHECK(summarise(b.bench.advance(20.0), 10.0, 20.0).volts < 5.5);
    CHECK(b.machine->command("replaced mem", 20.0) == "ok");
    CHECK(summarise(b.bench.advance(45.0), 35.0, 45.0).volts > 18.5);
    CHECK(b.machine->command("fresh parts", 45.0) == "ok");
    CHECK(summarise(b.bench.advance(70.0), 60.0, 70.0).volts < 5.5);
}

TEST_CASE("what hangs lets go when all power is cut, and a reset puts firmware right", "[sims]") {
    const auto amps_after = [](const std::string& fault, const std::string& block,
                               const std::string& command) {
        BenchMachineOptions options;
        options.faults = {{fault, block}};
        Bench b(options);
        CHECK(summarise(b.bench.advance(20.0), 10.0, 20.0).amps < 0.3);
        CHECK(b.machine->command(command, 20.0) == "ok");
        return summarise(b.bench.advance(45.0), 35.0, 45.0).amps;
    };
    CHECK(amps_after("ec_hung", "ec", "power cut") > 0.3);
    CHECK(amps_after("ec_dead", "ec", "power cut") < 0.3);
    CHECK(amps_after("firmware_stuck", "mb", "reset mb") > 0.3);
    CHECK(amps_after("mainboard_no_start", "mb", "reset mb") < 0.3);
}

TEST_CASE("pulling the charger makes the meter dark", "[sims]") {
    Bench b;
    CHECK_FALSE(b.bench.advance(10.0).empty());
    CHECK(b.machine->command("charger off", 10.0) == "ok");
    CHECK(b.bench.advance(20.0).empty());
    CHECK(b.machine->command("charger on", 20.0) == "ok");
    CHECK_FALSE(b.bench.advance(30.0).empty());
}

TEST_CASE("commands that mean nothing are answered with what is meant", "[sims]") {
    Bench b;
    const BenchConfiguration before = b.machine->configuration();
    for (const char* line : {"", "port p9", "port", "side c", "battery full", "replaced nothing",
                             "reset nothing", "power off", "dance", "charger maybe"}) {
        CAPTURE(line);
        CHECK_THAT(b.machine->command(line, 0.0), Catch::StartsWith("error"));
    }
    CHECK(b.machine->configuration() == before);
}
