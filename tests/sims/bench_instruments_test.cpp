// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated multimeter and supply at one machine: what one does the other sees.
#include "sims/bench_instruments.h"
#include "core/machine/simulation/known_ohms.h"

#include "instruments/scpi_line.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;
using namespace eh::sims;

namespace {

struct SharedBench {
    FittedPlan plan;
    std::shared_ptr<BenchMachine> machine;
    SimulatedMultimeter dmm;
    SimulatedSupply psu;

    explicit SharedBench(const std::vector<FaultInstance>& faults)
        : plan(shipped_knowledge(), topology(chained)),
          machine(std::make_shared<BenchMachine>(plan, options(faults))),
          dmm(machine, 1),
          psu(machine, 2) {
        machine->command("battery out", 0.0);
    }
    static BenchMachineOptions options(const std::vector<FaultInstance>& faults) {
        BenchMachineOptions made;
        made.faults = faults;
        made.plugged = false;
        return made;
    }
    double ask(ScpiInstrument& instrument, const std::string& question, double now_s = 5.0) {
        const auto value = parse_scpi_number(instrument.answer(question, now_s));
        REQUIRE(value);
        return *value;
    }
};

}  // namespace

TEST_CASE("the supply's volts over its amps are the multimeter's ohms, and both see the same volts",
          "[sims]") {
    for (const double ohms : {0.4, 3.3, 12.0}) {
        CAPTURE(ohms);
        SharedBench b({{"capacitor_shorted", "cm", ohms}});
        CHECK(b.dmm.answer("SIM:PROBE main", 5.0).empty());
        const double measured_ohms = b.ask(b.dmm, "MEAS:RES?");
        b.psu.answer("SIM:CLIP main", 5.0);
        b.psu.answer("VOLT 1.0;CURR 3.0;OUTP ON", 5.0);
        const double volts = b.ask(b.psu, "MEAS:VOLT:DC?");
        const double amps = b.ask(b.psu, "MEAS:CURR?");
        CHECK(b.ask(b.dmm, "MEAS:VOLT:DC?") == Approx(volts).margin(0.12));
        CHECK(volts / amps == Approx(measured_ohms).epsilon(0.06).margin(0.05));
        // Ohms of a net that is fed mean nothing.
        CHECK(std::isinf(b.ask(b.dmm, "MEAS:RES?")));
        b.psu.answer("OUTP OFF", 5.0);
        CHECK(b.ask(b.psu, "MEAS:CURR?") < 0.01);
        CHECK(b.ask(b.dmm, "MEAS:RES?") == Approx(measured_ohms).epsilon(0.02).margin(0.05));
    }
}

TEST_CASE("a supply at its limit gives the limit", "[sims]") {
    SharedBench b({{"capacitor_shorted", "cm", 0.2}});
    b.psu.answer("SIM:CLIP main;VOLT 5;CURR 1;OUTP ON", 5.0);
    CHECK(b.ask(b.psu, "MEAS:CURR?") == Approx(1.0).epsilon(0.05));
    CHECK(b.ask(b.psu, "MEAS:VOLT?") < 0.5);
}

TEST_CASE("what an instrument does not understand waits in its error queue, in order", "[sims]") {
    SharedBench b({});
    CHECK_THAT(b.dmm.answer("*IDN?", 0.0), Catch::StartsWith("Eager Hound,simulated multimeter"));
    CHECK(b.dmm.answer("MEAS:TEMP?", 0.0).empty());
    CHECK(b.dmm.answer("SIM:PROBE nowhere", 0.0).empty());
    CHECK_THAT(b.dmm.answer("SYST:ERR?", 0.0), Catch::StartsWith("-113"));
    CHECK_THAT(b.dmm.answer("syst:err?", 0.0), Catch::StartsWith("-224"));
    CHECK_THAT(b.dmm.answer("SYST:ERR?", 0.0), Catch::StartsWith("0"));
    CHECK(b.psu.answer("VOLT 1000;CURR -1;VOLT x", 0.0).empty());
    for (int i = 0; i < 3; ++i)
        CHECK_THAT(b.psu.answer("SYST:ERR?", 0.0), Catch::StartsWith("-222"));
    CHECK(b.psu.answer("VOLT?;CURR?", 0.0) == "+0.00000E+00;+1.00000E-01");
}

TEST_CASE("numbers of SCPI: over the range is infinite, not a number is none", "[instruments]") {
    // SCPI-99, 7.2.1.4 and 7.2.1.5 (from memory).
    CHECK(parse_scpi_number("+1.25E-03") == Approx(0.00125));
    CHECK(parse_scpi_number(" 5 \r") == 5.0);
    CHECK(std::isinf(parse_scpi_number("9.9E37").value()));
    CHECK(parse_scpi_number("-9.9E37").value() < 0.0);
    CHECK_FALSE(parse_scpi_number("9.91E37"));
    CHECK_FALSE(parse_scpi_number("volts"));
    CHECK_FALSE(parse_scpi_number(""));
}
