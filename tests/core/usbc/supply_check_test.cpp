// SPDX-License-Identifier: GPL-3.0-or-later
// Charger, cable and machine: wire tables, labels and contracts.
#include "core/usbc/supply_check.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/random.h"
#include "core/electrics/wire.h"

using namespace eh;

namespace {

std::vector<LabelOffer> label(const char* text) {
    const auto offers = parse_label(text);
    REQUIRE(offers.ok());
    return *offers;
}

bool says(const SupplyCheck& check, const std::string& word) {
    for (const CheckNote& note : check.notes) {
        if (note.says.find(word) != std::string::npos)
            return true;
    }
    return false;
}

}  // namespace

TEST_CASE("copper wire is that of the tables", "[electrics]") {
    // Handbook tables of solid copper at 20 C: AWG 28 0.2129, AWG 24 0.0842, AWG 20 0.0333 ohm/m.
    CHECK(wire_ohms(28, 1.0) == Approx(0.2129).epsilon(0.003));
    CHECK(wire_ohms(24, 1.0) == Approx(0.0842).epsilon(0.003));
    CHECK(wire_ohms(20, 1.0) == Approx(0.0333).epsilon(0.003));
    // ASTM B258: gauge 36 is 5 mil, 0000 is 460 mil (gauge -3).
    CHECK(awg_diameter_m(36) == Approx(0.127e-3));
    CHECK(awg_diameter_m(-3) == Approx(11.684e-3).epsilon(1e-4));
    // IEC 60028: at 70 C copper has 1.1965 times its ohms at 20 C.
    CHECK(wire_ohms(24, 1.0, 70.0) / wire_ohms(24, 1.0) == Approx(1.1965));
}

TEST_CASE("labels are read however they are printed", "[usbc]") {
    const std::vector<LabelOffer> wanted{{5, 5, 3}, {9, 9, 3}, {15, 15, 3}, {20, 20, 3.25}};
    for (const char* text : {"5V 3A, 9V 3A, 15V 3A, 20V 3.25A", "5V⎓3A / 9V⎓3A / 15V⎓3A / 20V⎓3.25A",
                             "Output: 5.0V=3.0A; 9.0 V = 3.0 A; 15 V 3 A\n20v 3.25a"}) {
        CAPTURE(text);
        CHECK(label(text) == wanted);
    }
    CHECK(label("PPS 3.3-21V 5A") == std::vector<LabelOffer>{{3.3, 21, 5}});
    for (const char* text : {"", "  ", "65 W", "5V", "5 A", "V A", "5V 0A", "21-3.3V 5A", "5V 3A, x"}) {
        CAPTURE(text);
        CHECK_FALSE(parse_label(text).ok());
    }
    Random random(8);
    const std::string letters = "0123456789.VA ,;/-=x⎓\n";
    for (int i = 0; i < 20'000; ++i) {
        std::string text;
        for (int k = random.below(24); k > 0; --k)
            text += letters[static_cast<std::size_t>(random.below(static_cast<int>(letters.size())))];
        const auto offers = parse_label(text);
        if (offers.ok()) {
            for (const LabelOffer& offer : *offers)
                CHECK((offer.amps > 0.0 && offer.most_volts >= offer.least_volts && offer.least_volts > 0.0));
        }
    }
}

TEST_CASE("the contract is the one of most watts that machine and cable can use", "[usbc]") {
    const auto hundred = label("5V 3A, 9V 3A, 15V 3A, 20V 5A");
    CableFacts cable;
    MachineDemand machine;
    machine.watts = 90;
    // Unmarked: 20 V at 3 A are 60 W.
    const auto unmarked = check_supply(hundred, cable, machine);
    REQUIRE(unmarked.ok());
    CHECK(unmarked->contract == LabelOffer{20, 20, 3});
    CHECK(unmarked->watts == Approx(60.0));
    CHECK(says(*unmarked, "not marked"));
    cable.marked_5_amps = true;
    const auto marked = check_supply(hundred, cable, machine);
    REQUIRE(marked.ok());
    CHECK(marked->watts == Approx(100.0));
    CHECK_FALSE(says(*marked, "not marked"));
    // A machine for 15 V takes 15 V.
    machine.most_volts = 15;
    CHECK(check_supply(hundred, cable, machine)->contract.most_volts == 15.0);
    // A telephone's charger.
    machine.most_volts = 20;
    const auto small = check_supply(label("5V 3A, 9V 2A"), cable, machine);
    REQUIRE(small.ok());
    CHECK(small->contract.most_volts == 9.0);
    CHECK(small->notes.front().weight == CheckWeight::problem);
    CHECK(says(*small, "18 W"));
    // More than 20 V only over a cable for it.
    machine.most_volts = 28;
    machine.watts = 140;
    const auto extended = label("5V 3A, 20V 5A, 28V 5A");
    CHECK(check_supply(extended, cable, machine)->contract.most_volts == 20.0);
    cable.extended = true;
    CHECK(check_supply(extended, cable, machine)->contract.most_volts == 28.0);
}

TEST_CASE("a cable's drop is Ohm's law, and the watts add up", "[usbc]") {
    Random random(6);
    for (int i = 0; i < 300; ++i) {
        CableFacts cable;
        cable.length_m = 0.2 + 3.0 * random.uniform();
        cable.power_gauge = 20.0 + 8.0 * random.uniform();
        cable.ground_gauge = 20.0 + 8.0 * random.uniform();
        cable.marked_5_amps = random.uniform() < 0.5;
        MachineDemand machine;
        machine.watts = 10.0 + 80.0 * random.uniform();
        const auto check = check_supply(label("5V 3A, 9V 3A, 15V 3A, 20V 5A"), cable, machine);
        REQUIRE(check.ok());
        const double volts = check->contract.most_volts;
        CHECK(check->plug_volts == Approx(volts - check->power_drop_volts - check->ground_drop_volts));
        CHECK(check->load_watts + check->cable_watts == Approx(volts * check->load_amps));
        CHECK(check->load_amps <= check->contract.amps + 1e-9);
        CHECK(check->load_watts <= machine.watts + 1e-6);
        // Nearly what it asks for, unless the charger or the cable limits it.
        if (check->load_amps < check->contract.amps - 1e-6)
            CHECK(check->load_watts == Approx(machine.watts).epsilon(1e-6));
        // Longer or thinner never gives more.
        CableFacts longer = cable;
        longer.length_m *= 1.5;
        CHECK(check_supply(label("5V 3A, 9V 3A, 15V 3A, 20V 5A"), longer, machine)->plug_volts <=
              check->plug_volts + 1e-9);
    }
    // Worked by hand: 2 m of AWG 28 each way are 0.426 ohm a wire; 3 A lose 1.3 V on either.
    CableFacts thin;
    thin.length_m = 2.0;
    thin.power_gauge = thin.ground_gauge = 28.0;
    thin.celsius = 20.0;
    MachineDemand machine;
    const auto check = check_supply(label("5V 3A, 20V 3A"), thin, machine);
    REQUIRE(check.ok());
    CHECK(check->power_drop_volts == Approx(check->load_amps * (0.4258 + 0.01)).epsilon(0.005));
    CHECK(says(*check, "0.5 V and 0.25 V are allowed"));
}

TEST_CASE("what no cable or machine has is refused", "[usbc]") {
    const auto offers = label("5V 3A");
    CableFacts cable;
    cable.length_m = 0.0;
    CHECK_FALSE(check_supply(offers, cable, {}).ok());
    cable = {};
    cable.power_gauge = 4.0;
    CHECK_FALSE(check_supply(offers, cable, {}).ok());
    MachineDemand machine;
    machine.watts = std::nan("");
    CHECK_FALSE(check_supply(offers, {}, machine).ok());
    CHECK_FALSE(check_supply({}, {}, {}).ok());
    CHECK_FALSE(check_supply(label("PPS 3.3-21V 5A"), {}, {}).ok());
}
