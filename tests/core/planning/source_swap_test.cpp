// SPDX-License-Identifier: GPL-3.0-or-later
// Two minutes outside before an hour inside: common practice of the trade, stage by stage.
#include "core/planning/source_swap.h"

#include <algorithm>

#include "core/machine/model/source_pieces.h"
#include "core/planning/next_act.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Party suspect(const std::string& fault, const std::string& block, double suspicion = 0.97) {
    Party party;
    party.block = block;
    party.fault = {fault, block};
    party.suspicion = suspicion;
    return party;
}

BenchConfiguration with(Owner charger, Owner lead) {
    BenchConfiguration bench = plugged("p1");
    bench.charger = charger;
    bench.lead = lead;
    return bench;
}

std::optional<BenchConfiguration> due(const Party& top, const std::vector<Reading>& taken) {
    return due_source_swap(top, taken, with(Owner::customer, Owner::customer), shared_table(chained).plan(),
                           shipped_costs());
}

const Reading five_volts =
    meter_reading("a", with(Owner::customer, Owner::customer), MeterPattern::steady, 5.0, 0.05);

}  // namespace

TEST_CASE("no chip is condemned before another charger and another lead were tried", "[next]") {
    const Party chip = suspect("controller_dead", "pc1");
    std::vector<Reading> taken{five_volts};
    const auto charger = due(chip, taken);
    REQUIRE(charger);
    CHECK(charger->charger == Owner::bench);
    CHECK(charger->charger_connected);
    taken.push_back(meter_reading("b", *charger, MeterPattern::steady, 5.0, 0.05));
    const auto lead = due(chip, taken);
    REQUIRE(lead);
    CHECK(lead->lead == Owner::bench);
    taken.push_back(meter_reading("c", *lead, MeterPattern::steady, 5.0, 0.05));
    CHECK_FALSE(due(chip, taken));
    // What is set aside proves nothing.
    taken.back().set_aside = true;
    CHECK(due(chip, taken));
}

TEST_CASE("a charger that has given its higher volts somewhere need not be changed to condemn a chip",
          "[next]") {
    const Party chip = suspect("controller_dead", "pc1");
    BenchConfiguration twin = with(Owner::customer, Owner::customer);
    twin.port = "p2";
    CHECK_FALSE(due(chip, {five_volts, meter_reading("b", twin, MeterPattern::steady, 19.9, 1.0)}));
}

TEST_CASE("neither a short nor a chip that is not due yet asks for another charger", "[next]") {
    CHECK_FALSE(due(suspect("controller_supply_short", "pc1"), {five_volts}));
    CHECK_FALSE(due(suspect("controller_dead", "pc1", 0.5), {five_volts}));
    CHECK_FALSE(due(suspect("capacitor_shorted", "cm"), {five_volts}));
}

TEST_CASE("a charger under suspicion is changed for the shop's own, once", "[next]") {
    const Party charger = suspect("charger_5v_only", "charger_usb-c", 0.7);
    const auto swapped = due(charger, {five_volts});
    REQUIRE(swapped);
    CHECK(swapped->charger == Owner::bench);
    CHECK(swapped->lead == Owner::customer);
    CHECK_FALSE(due(charger, {five_volts, meter_reading("b", *swapped, MeterPattern::steady, 5.0, 0.05)}));
}

TEST_CASE("whoever looked at a part has tried no charger", "[next]") {
    const Party charger = suspect("charger_5v_only", "charger_usb-c", 0.95);
    Reading look;
    look.id = "look";
    look.configuration = plugged("p1");  // the shop's, as a bench stands of itself
    look.value = LookReading{"rec1", Look::broken};
    CHECK(due(charger, {five_volts, look}));
}

TEST_CASE("what was read at a tester is no try at the machine, but a charger proves itself there", "[next]") {
    const Party chip = suspect("controller_dead", "pc1");
    BenchConfiguration shop = with(Owner::bench, Owner::bench);
    shop.tester = Tester::loaded;
    const auto still = due(chip, {five_volts, meter_reading("t", shop, MeterPattern::steady, 5.0, 2.5)});
    REQUIRE(still);
    CHECK(still->tester == Tester::none);
    BenchConfiguration own = with(Owner::customer, Owner::customer);
    own.tester = Tester::loaded;
    CHECK_FALSE(due(chip, {five_volts, meter_reading("t", own, MeterPattern::steady, 19.7, 2.9)}));
}

TEST_CASE("an adapter and the lead that is fixed to it are swapped and suspected as one piece", "[next]") {
    // Common practice: the lead of a barrel adapter comes out of its case; nobody swaps it alone.
    const Kit& kit = shipped_knowledge().kit;
    CHECK(has_fixed_lead(kit, "barrel"));
    CHECK_FALSE(has_fixed_lead(kit, "usb-c"));
    CHECK_FALSE(has_fixed_lead(kit, "nothing of the kind"));
    const std::vector<std::string> both{"charger_barrel", "lead_barrel"};
    CHECK(changed_with(kit, "lead_barrel") == both);
    CHECK(changed_with(kit, "charger_barrel") == both);
    CHECK(changed_with(kit, "lead_usb-c") == std::vector<std::string>{"lead_usb-c"});
    CHECK(changed_with(kit, "jack") == std::vector<std::string>{"jack"});

    PredictionTable& table = shared_table(barrel);
    BenchConfiguration own = plugged("p1");
    own.charger = Owner::customer;
    own.lead = Owner::customer;
    for (const BenchConfiguration& reached : reachable_configurations(own, table.plan()))
        CHECK(reached.charger == reached.lead);
    for (const BenchConfiguration& usual : usual_configurations(table.plan()))
        CHECK(usual.charger == usual.lead);

    // Not known with the customer's adapter, charging with the shop's: the ID of the adapter or its wire in
    // the lead, and one thing to replace.
    Reading unknown;
    unknown.id = "a";
    unknown.configuration = own;
    unknown.value = FirmwareReading{FirmwareMessage::adapter_unknown};
    const std::vector<Reading> readings{unknown,
                                        meter_reading("b", plugged("p1"), MeterPattern::steady, 19.4, 2.2)};
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    const Parties parties = make_parties(ranking, table, own, shipped_costs());
    const Party& top = parties.list.front();
    CHECK(top.suspicion ==
          Approx(suspicion_of(ranking, both[0]) + suspicion_of(ranking, both[1])).margin(0.02));
    CHECK(top.suspicion > suspicion_of(ranking, top.block) + 0.02);
    CHECK(std::count_if(parties.list.begin(), parties.list.end(), [&](const Party& party) {
              return std::find(both.begin(), both.end(), party.block) != both.end();
          }) == 1);
}
