// SPDX-License-Identifier: GPL-3.0-or-later
// Looks, diode mode, through a harness, known-good parts, instruments that lie, the battery's percentage.
#include <cmath>

#include "core/electrics/element_laws.h"
#include "core/inference/ranking.h"
#include "core/machine/model/fault_reach.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

const MachinePlan& plan_of(const std::string& id) {
    return shared_table(id).plan();
}

MachineModel unpowered_model(const std::string& id, const std::vector<FaultInstance>& faults,
                             const BenchConfiguration& configuration = for_ohms()) {
    MachineModel model(plan_of(id), faults, {});
    model.configure(configuration);
    return model;
}

int net_number(const std::string& id, const std::string& net) {
    const auto& nets = topology(id).nets;
    for (std::size_t n = 0; n < nets.size(); ++n) {
        if (nets[n].id == net)
            return static_cast<int>(n);
    }
    return -1;
}

Reading look_reading(const std::string& block, Look look) {
    Reading reading;
    reading.id = "look";
    reading.configuration = for_ohms();
    reading.value = LookReading{block, look};
    return reading;
}

}  // namespace

TEST_CASE("looks are shares of a whole, for sound parts and for every fault", "[look]") {
    for (const Hypothesis& hypothesis : shared_table(chained).hypotheses()) {
        for (const FaultInstance& fault : hypothesis.faults) {
            CAPTURE(fault.fault);
            const LookShares shares =
                look_shares(plan_of(chained), hypothesis.faults, fault.block, for_ohms());
            double sum = 0.0;
            for (const double share : shares) {
                CHECK(share >= 0.0);
                sum += share;
            }
            CHECK(sum == Approx(1.0));
        }
    }
}

TEST_CASE("a burnt part is suspected more, a sound-looking one less", "[look]") {
    const double before = part_probability(chained, "sp2", {});
    const double burnt = part_probability(chained, "sp2", {look_reading("sp2", Look::burnt)});
    const double sound = part_probability(chained, "sp2", {look_reading("sp2", Look::sound)});
    CHECK(burnt > 10.0 * before);
    CHECK(sound < before);
    CHECK(sound > 0.5 * before);  // most shorts leave no mark
}

TEST_CASE("a part that was changed looks as a sound one", "[look]") {
    BenchConfiguration changed = for_ohms();
    changed.replaced = {"sp2"};
    const std::vector<FaultInstance> faults{{"protector_shorted", "sp2"}};
    CHECK(look_shares(plan_of(chained), faults, "sp2", changed) ==
          shipped_knowledge().catalogue.looks_of_sound);
    CHECK(look_shares(plan_of(chained), faults, "sp2", for_ohms()) !=
          shipped_knowledge().catalogue.looks_of_sound);
}

TEST_CASE("diode mode shows a diode's drop on rails of chips, nothing across a short", "[diode]") {
    DcSolver solver;
    // Silicon drops 0.3 to 0.75 V at a milliamp (common practice).
    const MachineModel sound = unpowered_model(chained, {});
    const double drop = sound.diode_drop(net_number(chained, "main"), solver);
    CHECK(drop > 0.2);
    CHECK(drop < 0.75);
    const MachineModel shorted = unpowered_model(chained, {{"capacitor_shorted", "cv2", 2.0}});
    CHECK(shorted.diode_drop(net_number(chained, "vbus2"), solver) < 0.02);
}

TEST_CASE("two equal diodes side by side share the milliamp", "[diode]") {
    // Shockley: n Vt ln 2 less than one alone. The memory's and two controllers' diodes lie on one supply;
    // with all but one chip gone that one is left alone.
    DcSolver solver;
    BenchConfiguration both = for_ohms();
    for (const PlanBlock& block : plan_of(chained).blocks) {
        if (block.kind->clamp_volts.count("supply") == 0 && block.kind->clamp_volts.count("out") == 0)
            continue;
        if (block.id != "pc1" && block.id != "pc2" && block.family.empty() &&
            block.kind->remove_minutes.has_value())
            insert_block(both.removed, block.id);
    }
    BenchConfiguration one = both;
    insert_block(one.removed, "pc2");
    const int net = net_number(chained, "cc1_p1");
    if (net >= 0) {
        // CC lines have a diode of their own controller alone: the other controller changes nothing there.
        CHECK(unpowered_model(chained, {}, both).diode_drop(net, solver) ==
              Approx(unpowered_model(chained, {}, one).diode_drop(net, solver)).margin(1e-3));
    }
    const auto pins = plan_of(chained).blocks[static_cast<std::size_t>(plan_of(chained).find_block("pc1"))];
    const int supply = pins.pin_nodes.at("supply");
    for (std::size_t n = 0; n < plan_of(chained).net_nodes.size(); ++n) {
        if (plan_of(chained).net_nodes[n] != supply)
            continue;
        const double alone = unpowered_model(chained, {}, one).diode_drop(static_cast<int>(n), solver);
        const double shared = unpowered_model(chained, {}, both).diode_drop(static_cast<int>(n), solver);
        CHECK(alone - shared > 0.0);
        CHECK(alone - shared < 1.5 * laws::thermal_volts * std::log(2.0) + 1e-3);
    }
}

TEST_CASE("a harness is open or not, a worn jack does not show through it", "[through]") {
    const int harness = plan_of(barrel).find_block("har");
    REQUIRE(harness >= 0);
    CHECK(unpowered_model(barrel, {}).through_ohms(harness) < 0.5);
    CHECK(std::isinf(unpowered_model(barrel, {{"harness_power_open", "har"}}).through_ohms(harness)));
    // Common practice: an outside continuity pass says nothing about worn inner contacts.
    CHECK(unpowered_model(barrel, {{"jack_worn", "jack"}}).through_ohms(harness) ==
          Approx(unpowered_model(barrel, {}).through_ohms(harness)));
    Reading open;
    open.id = "t";
    open.configuration = for_ohms();
    open.value = ThroughReading{"har", std::nullopt, std::nullopt};
    CHECK(part_probability(barrel, "har", {open}) > 0.6);  // one reading in a hundred means nothing
    open.value = ThroughReading{"har", 0.1, std::nullopt};
    CHECK(part_probability(barrel, "har", {open}) < part_probability(barrel, "har", {}));
}

TEST_CASE("a known-good part in its place hides the fault of a part", "[lent]") {
    DcSolver solver;
    MachineModel model(plan_of(barrel), {{"jack_no_contact", "jack"}}, {});
    MachineModel sound(plan_of(barrel), {}, {});
    BenchConfiguration bench = plugged(topology(barrel).ports.front().id);
    const PoweredView broken = look_at(model, bench, solver);
    bench.lent = {"jack"};
    const PoweredView lent = look_at(model, bench, solver);
    const PoweredView healthy = look_at(sound, bench, solver);
    CHECK(lent.meter.amps == Approx(healthy.meter.amps));
    CHECK(broken.meter.amps < 0.2 * healthy.meter.amps);
}

TEST_CASE("it charges with a known-good jack: then it was the jack", "[lent]") {
    const BenchConfiguration bench = plugged(topology(barrel).ports.front().id);
    const Reading dead = meter_reading("a", bench, MeterPattern::steady, 19.5, 0.0);
    BenchConfiguration with_lent = bench;
    with_lent.lent = {"jack"};
    const Reading lives = meter_reading("b", with_lent, MeterPattern::steady, 19.3, 2.0);
    CHECK(part_probability(barrel, "jack", {dead, lives}) > 0.9);
}

TEST_CASE("an instrument that lies is found with another one", "[instruments]") {
    DcSolver solver;
    const FaultInstance broken_lead{"multimeter_lead_open", "bench_multimeter"};
    const FaultInstance short_circuit{"capacitor_shorted", "cv2", 2.0};
    BenchConfiguration usual = for_ohms();
    BenchConfiguration second = usual;
    second.second_instruments = true;
    const int net = net_number(chained, "vbus2");
    MachineModel lied_to = unpowered_model(chained, {broken_lead, short_circuit}, usual);
    CHECK(std::isinf(lied_to.ohms_to_ground(net, solver)));
    lied_to.configure(second);
    CHECK(lied_to.ohms_to_ground(net, solver) == Approx(2.0).epsilon(0.02));

    // OL on a net that never reads OL, then its usual value with the other meter.
    PredictionTable& table = shared_table(chained);
    int low = -1;
    double sound_ohms = 0.0;
    for (std::size_t n = 0; n < topology(chained).nets.size() && low < 0; ++n) {
        MachineModel sound = unpowered_model(chained, {});
        sound_ohms = sound.ohms_to_ground(static_cast<int>(n), solver);
        if (sound_ohms < 2e4)
            low = static_cast<int>(n);
    }
    REQUIRE(low >= 0);
    const std::string place = topology(chained).nets[static_cast<std::size_t>(low)].id;
    Reading again = ohms_reading("b", second, place, sound_ohms);
    const double before = part_probability(chained, "bench_multimeter", {});
    const double after =
        part_probability(chained, "bench_multimeter", {open_reading("a", usual, place), again});
    CHECK(after > 10.0 * before);
    CHECK(table.hypotheses().size() > 10);
}

TEST_CASE("the percentage tells a full pack from one that takes nothing", "[firmware]") {
    DcSolver solver;
    const auto percent = [&](const std::vector<FaultInstance>& faults) {
        MachineModel model(plan_of(chained), faults, {});
        return look_at(model, plugged("p1"), solver).battery_percent.value;
    };
    std::string pack;
    for (const Block& block : topology(chained).blocks) {
        if (block.kind == "battery_pack")
            pack = block.id;
    }
    CHECK(percent({{"battery_full", pack}}) == Approx(100.0));
    CHECK(percent({{"charge_limit_set", pack}}) < 90.0);
    CHECK(percent({{"battery_dead", pack}}) < 10.0);

    Reading says;
    says.id = "f";
    says.configuration = plugged("p1");
    says.value = FirmwareReading{FirmwareMessage::not_charging, 1.0};
    const double empty = part_probability(chained, pack, {says});
    says.value = FirmwareReading{FirmwareMessage::not_charging, 55.0};
    CHECK(part_probability(chained, pack, {says}) < empty);
}

TEST_CASE(
    "a message on the screen speaks harder against a machine that stays dark than another message would",
    "[firmware]") {
    // Common practice: one message is taken for another, a dark screen for none.
    Reading says;
    says.configuration = plugged("p1");
    says.value = FirmwareReading{FirmwareMessage::not_charging, std::nullopt};
    PoweredView dark;
    dark.valid = true;
    dark.firmware = FirmwareMessage::none;
    PoweredView lit = dark;
    lit.firmware = FirmwareMessage::charging;
    const auto log_of = [&](const PoweredView& view) {
        return log_likelihoods(says, {view}, -1, -1, AccuracyOptions{}, {}).front();
    };
    CHECK(log_of(dark) < log_of(lit) - std::log(3.0));
    says.value = FirmwareReading{};
    CHECK(log_of(dark) > log_of(lit));
}

TEST_CASE("a sign of life speaks for the machines that give it", "[signs]") {
    Reading sign;
    sign.configuration = plugged("p1");
    PoweredView dead;
    dead.valid = true;
    dead.signs = shipped_knowledge().signs.of_state[static_cast<std::size_t>(SignState::off)];
    PoweredView waits = dead;
    waits.signs = shipped_knowledge().signs.of_state[static_cast<std::size_t>(SignState::waits_on_adapter)];
    const auto log_of = [&](MachineSign seen, const PoweredView& view) {
        sign.value = SignReading{seen};
        return log_likelihoods(sign, {view}, -1, -1, AccuracyOptions{}, {}).front();
    };
    CHECK(log_of(MachineSign::nothing, dead) > log_of(MachineSign::nothing, waits) + std::log(2.0));
    CHECK(log_of(MachineSign::lamp, waits) > log_of(MachineSign::lamp, dead) + std::log(4.0));
    // What is written down of a machine is one of the words.
    for (const PoweredView& view : {dead, waits}) {
        double sum = 0.0;
        for (int s = 0; s < machine_sign_count; ++s)
            sum += std::exp(log_of(static_cast<MachineSign>(s), view));
        CHECK(sum == Approx(1.0).epsilon(1e-3));
    }
}

TEST_CASE("a percentage that falls beside the adapter speaks against a machine that charges", "[firmware]") {
    PoweredView charging;
    charging.valid = true;
    charging.firmware = FirmwareMessage::charging;
    charging.trend = ChargeTrend::rising;
    PoweredView drained = charging;
    drained.trend = ChargeTrend::falling;
    Reading says;
    says.configuration = plugged("p1");
    const auto log_of = [&](std::optional<ChargeTrend> trend, const PoweredView& view) {
        says.value = FirmwareReading{FirmwareMessage::charging, std::nullopt, trend};
        return log_likelihoods(says, {view}, -1, -1, AccuracyOptions{}, {}).front();
    };
    CHECK(log_of(ChargeTrend::falling, drained) > log_of(ChargeTrend::falling, charging) + std::log(5.0));
    CHECK(log_of(std::nullopt, drained) == Approx(log_of(std::nullopt, charging)));
    // Faint trends are taken for each other.
    drained.trend = ChargeTrend::flat;
    CHECK(log_of(ChargeTrend::rising_slowly, drained) >
          log_of(ChargeTrend::rising_slowly, charging) + std::log(2.0));
}

TEST_CASE("a charger that stays dark at a tester is at fault, and one that gives its watts there is not",
          "[tester]") {
    BenchConfiguration own = plugged("p1");
    own.charger = own.lead = Owner::customer;
    const Reading dark = meter_reading("m", own, MeterPattern::dark);
    own.tester = Tester::loaded;
    const double before = part_probability("usbc-dual", "charger_usb-c", {dark});
    const double condemned =
        part_probability("usbc-dual", "charger_usb-c", {dark, meter_reading("t", own, MeterPattern::dark)});
    const double cleared = part_probability("usbc-dual", "charger_usb-c",
                                            {dark, meter_reading("t", own, MeterPattern::steady, 19.8, 4.4)});
    CHECK(condemned > 2.0 * before);
    CHECK(cleared < 0.1 * before);
}

TEST_CASE("an unplugged pack without volts is asleep, one with its cells' volts is not", "[pack]") {
    const auto pack_alone = [](double volts) {
        Reading reading;
        reading.id = "p";
        reading.configuration = for_ohms();
        reading.value = PackReading{volts};
        return reading;
    };
    const double before = part_probability("usbc-dual", "bat", {});
    CHECK(part_probability("usbc-dual", "bat", {pack_alone(0.0)}) > 2.0 * before);
    // Its protection leaks: what shows is not nothing.
    CHECK(part_probability("usbc-dual", "bat", {pack_alone(0.16)}) > 2.0 * before);
    CHECK(part_probability("usbc-dual", "bat", {pack_alone(11.1)}) < before);
}

TEST_CASE("a resistor that reads open from one end to the other is the suspect", "[between]") {
    const auto across = [](std::optional<double> ohms) {
        Reading reading;
        reading.id = "a";
        reading.configuration = for_ohms();
        reading.value = BetweenReading{"vin", "chgin", ohms};
        return reading;
    };
    const double before = part_probability("usbc-dual", "rs", {});
    CHECK(part_probability("usbc-dual", "rs", {across(4.7e5)}) > 10.0 * before);
    CHECK(part_probability("usbc-dual", "rs", {across(0.02)}) < 0.2 * before);
}

TEST_CASE("a fault away from a part leaves the ohms across it as they are", "[between]") {
    // What is taken for granted where machines are not simulated anew for such a question.
    PredictionTable& table = shared_table("usbc-dual");
    const int vin = net_number("usbc-dual", "vin");
    const int chgin = net_number("usbc-dual", "chgin");
    const auto column = table.number(for_ohms(), {OffQuestion::Of::between_nets, vin, chgin});
    REQUIRE(column != nullptr);
    DcSolver solver;
    int compared = 0;
    for (std::size_t h = 0; h < table.hypotheses().size(); ++h) {
        const Hypothesis& hypothesis = table.hypotheses()[h];
        if (hypothesis.faults.size() != 1)
            continue;
        MachineModel model = unpowered_model("usbc-dual", hypothesis.faults);
        const double exact = model.ohms_between(vin, chgin, solver);
        CAPTURE(hypothesis.faults.front().fault, hypothesis.faults.front().block, exact, (*column)[h][0]);
        if (!std::isfinite(exact) || exact > 1e4)
            continue;
        ++compared;
        CHECK((*column)[h][0] == Approx(exact).epsilon(0.5).margin(0.05));
    }
    CHECK(compared > 50);
}

TEST_CASE("a contact that is open at a plug and there on the board is the receptacle's", "[bare-plug]") {
    BenchConfiguration at_plug = for_ohms();
    at_plug.port = "p1";
    at_plug.bare_plug = true;
    const double before = part_probability("usbc-dual", "rec1", {});
    const std::vector<Reading> readings{ohms_reading("b", for_ohms(), "cc1_p1", 5100.0),
                                        open_reading("p", at_plug, "cc1_p1")};
    CHECK(part_probability("usbc-dual", "rec1", readings) > 5.0 * before);
}

TEST_CASE("a bench that contradicts itself is refused with its sentence", "[bench-states]") {
    const auto refusal = [](BenchConfiguration bench, ReadingValue value) {
        Reading reading;
        reading.id = "r9";
        reading.configuration = std::move(bench);
        reading.value = std::move(value);
        const Outcome checked = check_reading(reading, plan_of("usbc-dual"));
        return checked ? std::string() : checked.error().text();
    };
    BenchConfiguration bench = plugged("p1");
    bench.bare_plug = true;
    CHECK_THAT(refusal(bench, NetVoltsReading{"main", 7.4}), Catch::Contains("bare plug"));
    bench = plugged("p1");
    bench.tester = Tester::loaded;
    CHECK_THAT(refusal(bench, NetVoltsReading{"main", 7.4}), Catch::Contains("only the meter"));
    bench.charger_connected = false;
    CHECK_THAT(refusal(bench, MeterReading{}), Catch::Contains("tester"));
    bench = for_ohms();
    bench.button = Button::pressed;
    CHECK_THAT(refusal(bench, NetOhmsReading{"main", 10.0}), Catch::Contains("power button"));
    CHECK_THAT(refusal(for_ohms(), BetweenReading{"main", "main", 1.0}), Catch::Contains("itself"));
}
