// SPDX-License-Identifier: GPL-3.0-or-later
// Conversions from barrel to USB-C: figures of the trade and of the specification.
#include "core/rework/conversion.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/electrics/wire.h"
#include "core/rework/stopgap.h"
#include "core/usbc/power_rules.h"

using namespace eh;

namespace {

ConversionParts conversion_parts(const char* label, double watts) {
    ConversionParts parts;
    parts.source = *parse_label(label);
    parts.source_watts = watts;
    return parts;
}

ConvertedMachine small_machine() {
    ConvertedMachine machine;
    machine.adapter_watts = 45.0;
    machine.input_limit_volts = 24.0;
    machine.charging_watts = 44.0;
    machine.idle_watts = 12.0;
    return machine;
}

bool conversion_says(const ConversionPlan& plan, const std::string& word) {
    for (const ConversionNote& note : plan.notes)
        if (note.says.find(word) != std::string::npos)
            return true;
    return false;
}

const char* const full_label = "5V 3A, 9V 3A, 15V 3A, 20V 3.25A";

}  // namespace

TEST_CASE("sources offer what the power rules ask of them", "[rework][conversion]") {
    // USB Power Delivery, revision 3, source power rules, from memory.
    const auto highest = [](double watts) { return required_offers(watts).back().most_volts; };
    CHECK(highest(15) == 5.0);
    CHECK(highest(18) == 9.0);
    CHECK(highest(27) == 9.0);
    CHECK(highest(45) == 15.0);  // a 45 W source need not offer 20 V
    CHECK(highest(60) == 20.0);
    CHECK(required_offers(60).back().amps == Approx(3.0));
    CHECK(required_offers(100).back().amps == Approx(5.0));
    for (double watts = 5.0; watts <= 100.0; watts += 1.0)
        for (const LabelOffer& offer : required_offers(watts))
            CHECK(offer.most_volts * offer.amps <= watts + 1e-9);
}

TEST_CASE("the volts of a conversion are those of the trade", "[rework][conversion]") {
    // Common practice: 20 V is 5.3 % above 19 V and 2.6 % above 19.5 V; at its upper limit 10.5 and 7.7 %.
    ConvertedMachine machine = small_machine();
    auto plan = plan_conversion(machine, conversion_parts(full_label, 65));
    REQUIRE(plan.ok());
    CHECK(plan->above_adapter == Approx(0.053).margin(0.0005));
    CHECK(plan->highest_volts == Approx(21.0));
    CHECK(plan->highest_above_adapter == Approx(0.105).margin(0.0005));
    machine.adapter_volts = 19.5;
    ConversionParts marked = conversion_parts(full_label, 65);
    marked.cable.marked_5_amps = true;
    plan = plan_conversion(machine, marked);
    CHECK(plan->above_adapter == Approx(0.026).margin(0.0005));
    CHECK(plan->highest_above_adapter == Approx(0.077).margin(0.0005));
    CHECK(plan->verdict == Conversion::works);
    // Common practice: 19.7 V idle, 19 V x 2.3 A = 44 W while charging, through a metre of cable and its
    // leads.
    ConversionParts thin = conversion_parts(full_label, 65);
    thin.cable.power_gauge = thin.cable.ground_gauge = 26.0;
    thin.cable.length_m = 1.5;
    plan = plan_conversion(small_machine(), thin);
    CHECK(plan->idle_volts == Approx(19.7).margin(0.15));
    CHECK(plan->charging_volts == Approx(19.0).margin(0.2));
    CHECK(plan->charging_amps == Approx(2.3).margin(0.05));
    // About an hour and a half for some 50 Wh.
    CHECK(plan->charge_hours_off == Approx(1.5).margin(0.15));
}

TEST_CASE("a 45 W source without 20 V is told, and what the trigger then does", "[rework][conversion]") {
    const char* label = "5V 3A, 9V 3A, 15V 3A";
    ConversionParts parts = conversion_parts(label, 45);
    auto plan = plan_conversion(small_machine(), parts);
    REQUIRE(plan.ok());
    CHECK(plan->verdict == Conversion::does_not);
    CHECK(conversion_says(*plan, "need not"));
    CHECK(plan->contract_volts == 15.0);
    parts.fallback = TriggerFallback::nothing;
    CHECK(plan_conversion(small_machine(), parts)->contract_volts == 0.0);
    parts.fallback = TriggerFallback::stays_at_5;
    CHECK(plan_conversion(small_machine(), parts)->contract_volts == 5.0);
    // One that has it: 45 W = 20 V x 2.25 A (common practice).
    plan = plan_conversion(small_machine(), conversion_parts("5V 3A, 9V 3A, 15V 3A, 20V 2.25A", 45));
    CHECK(plan->contract_amps == Approx(2.25));
    CHECK(plan->contract_volts * plan->contract_amps == Approx(45.0));
    CHECK(plan->verdict != Conversion::does_not);
}

TEST_CASE("limits of the input are compared, not guessed", "[rework][conversion]") {
    ConvertedMachine machine = small_machine();
    machine.input_limit_volts = 20.5;
    auto plan = plan_conversion(machine, conversion_parts(full_label, 65));
    CHECK(plan->verdict == Conversion::does_not);
    CHECK(plan->input_margin < 0.0);
    machine.input_limit_volts.reset();
    plan = plan_conversion(machine, conversion_parts(full_label, 65));
    CHECK(plan->verdict == Conversion::works_with_limits);
    CHECK(conversion_says(*plan, "look it up"));
    machine = small_machine();
    machine.capacitor_rating_volts = 20.0;
    CHECK(
        conversion_says(*plan_conversion(machine, conversion_parts(full_label, 65)), "capacitors are rated"));
}

TEST_CASE("the ID promises no more watts than the source has", "[rework][conversion]") {
    ConvertedMachine machine = small_machine();
    machine.id = IdScheme::resistor_to_ground;
    machine.adapter_watts = 90.0;
    auto plan = plan_conversion(machine, conversion_parts(full_label, 65));
    CHECK(plan->verdict == Conversion::does_not);
    CHECK(conversion_says(*plan, "Fake no more"));
    machine.id_watts_step = 65.0;
    plan = plan_conversion(machine, conversion_parts(full_label, 65));
    // A cable without mark carries 3 A: 60 W.
    CHECK(conversion_says(*plan, "Fake no more"));
    machine.id_watts_step = 45.0;
    plan = plan_conversion(machine, conversion_parts(full_label, 65));
    CHECK(plan->verdict != Conversion::does_not);
    // Common practice: 10 k to ground.
    CHECK(plan->id_how.find("10.0 kΩ") != std::string::npos);
    machine.id = IdScheme::divider;
    machine.id_ohms = 10e3;
    machine.id_share = 0.25;
    CHECK(plan_conversion(machine, conversion_parts(full_label, 65))->id_how.find("3.33 kΩ") !=
          std::string::npos);
    machine.id = IdScheme::one_wire_data;
    plan = plan_conversion(machine, conversion_parts(full_label, 65));
    CHECK(plan->verdict == Conversion::works_with_limits);
    CHECK(conversion_says(*plan, "does not charge"));
}

TEST_CASE("room, wires and watts are counted", "[rework][conversion]") {
    ConversionParts parts = conversion_parts(full_label, 65);
    parts.space_height_mm = 3.5;
    CHECK(conversion_says(*plan_conversion(small_machine(), parts), "0.5 mm too large"));
    parts = conversion_parts(full_label, 65);
    parts.lead_gauge = 30.0;
    parts.lead_length_m = 0.5;
    const auto plan = plan_conversion(small_machine(), parts);
    CHECK(conversion_says(*plan, "thicker"));
    // Ohm's law with the wire table: AWG 30 0.339 ohm/m at 20 °C (handbook), both ways, at 40 °C.
    const double ohms = 2.0 * 0.5 * 0.3386 * (1.0 + 0.00393 * 20.0);
    CHECK(plan->lead_drop_volts == Approx(plan->charging_amps * ohms).epsilon(0.01));
    // Power balance: what arrives and what wires take is what the source gives.
    const double loop = ohms + 2.0 * wire_ohms(24.0, 1.0, 40.0);
    CHECK(plan->contract_volts * plan->charging_amps ==
          Approx(plan->charging_watts + plan->charging_amps * plan->charging_amps * loop).epsilon(0.002));
    ConvertedMachine hungry = small_machine();
    hungry.charging_watts = 90.0;
    hungry.idle_watts = 70.0;
    CHECK(conversion_says(*plan_conversion(hungry, conversion_parts(full_label, 65)), "do not even run"));
    ConversionParts bank = conversion_parts(full_label, 65);
    bank.bank_wh = 72.0;
    CHECK(plan_conversion(small_machine(), bank)->bank_hours == Approx(72.0 * 0.85 / 12.0));
}

TEST_CASE("what no machine has is refused", "[rework][conversion]") {
    const auto refused_with = [](auto change) {
        ConvertedMachine machine = small_machine();
        ConversionParts parts = conversion_parts(full_label, 65);
        change(machine, parts);
        return !plan_conversion(machine, parts).ok();
    };
    CHECK(refused_with([](auto& m, auto&) { m.adapter_volts = 230.0; }));
    CHECK(refused_with([](auto& m, auto&) { m.idle_watts = 0.0; }));
    CHECK(refused_with([](auto& m, auto&) { m.idle_watts = 80.0; }));
    CHECK(refused_with([](auto&, auto& p) { p.space_depth_mm = -1.0; }));
    CHECK(refused_with([](auto&, auto& p) { p.lead_length_m = 40.0; }));
    CHECK(refused_with([](auto&, auto& p) { p.trigger_volts = std::nan(""); }));
}

TEST_CASE("stopgaps come back by their date", "[rework][conversion]") {
    const auto open = open_stopgaps({{"1", "D-1", "lead", 0, 300, false},
                                     {"2", "D-2", "lead", 0, 100, false},
                                     {"3", "D-3", "lead", 0, 50, true}});
    REQUIRE(open.size() == 2);
    CHECK(open[0].id == "2");
    CHECK(*parse_stopgaps(write_stopgaps(open), "stopgaps.json") == open);
    CHECK_FALSE(parse_stopgaps("{}", "stopgaps.json").ok());
}
