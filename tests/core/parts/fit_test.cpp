// SPDX-License-Identifier: GPL-3.0-or-later
// What fits in place of what: receptacles, capacitors, regulators, programmed chips, harnesses.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <set>

#include "core/base/random.h"
#include "core/parts/capacitor_choice.h"
#include "core/parts/donor_results.h"
#include "core/parts/footprint.h"
#include "core/parts/harness_map.h"
#include "core/parts/receptacle_pins.h"
#include "core/parts/regulator_match.h"
#include "tests/support/rework.h"

using namespace eh;

namespace {

const Footprint& footprint(const char* id) {
    const Footprint* found = test::rework().find_footprint(id);
    REQUIRE(found != nullptr);
    return *found;
}

Footprint moved(Footprint f, double x, double y) {
    for (FootprintPad& pad : f.pads) {
        pad.x += x;
        pad.y += y;
    }
    return f;
}

PadLoss pad_loss(const std::vector<std::string>& missing, double amps = 3.0) {
    const auto loss = judge_pads(test::rework().receptacle, missing, {}, amps);
    REQUIRE(loss.ok());
    return *loss;
}

StockPart capacitor(const std::string& id, double farads, double volts, const char* dielectric,
                    const char* package) {
    StockPart part;
    part.id = id;
    part.kind = PartKind::capacitor;
    part.name = id;
    part.value = farads;
    part.volts = volts;
    part.dielectric = dielectric;
    part.package = package;
    part.count = 10;
    return part;
}

DonorResult donor(const char* from, const char* from_at, const char* to, const char* to_at, double volts,
                  bool data = true) {
    DonorResult result{from, from_at, to, to_at, {{"port 1", {20.0, true}}, {"port 2", {volts, data}}},
                       20.0, "D-1",   1};
    return result;
}

}  // namespace

TEST_CASE("every footprint fits itself, wherever it is drawn", "[parts][footprint]") {
    for (const Footprint& f : test::rework().footprints) {
        CAPTURE(f.id);
        const auto same = compare_footprints(f, f);
        CHECK(same.fit == Fit::fits);
        CHECK(same.front_off == Approx(0.0).margin(1e-9));
        // Sideways the drawing's origin means nothing; inward it moves the opening.
        CHECK(compare_footprints(f, moved(f, 0.7, 0.0)).fit == Fit::fits);
        const auto inward = compare_footprints(f, moved(f, 0.0, -0.4));
        CHECK(inward.shift_y == Approx(0.4));
        CHECK(inward.front_off == Approx(-0.4));
        CHECK(inward.fit == Fit::with_a_change);
    }
}

TEST_CASE("parts that differ a little fit with a change, others not", "[parts][footprint]") {
    const auto legs = compare_footprints(footprint("usbc16_top"), footprint("usbc16_top_b"));
    CHECK(legs.fit == Fit::with_a_change);
    CHECK(std::any_of(legs.reasons.begin(), legs.reasons.end(), [](const std::string& reason) {
        return reason.find("Bend anchors S1, S2, S3, S4") != std::string::npos &&
               reason.find("0.4 mm") != std::string::npos;
    }));
    CHECK(compare_footprints(footprint("usbc16_top"), footprint("usbc16_mid")).fit == Fit::no);
    CHECK(compare_footprints(footprint("usbc16_top"), footprint("usbc24_top")).fit == Fit::no);
    CHECK(compare_footprints(footprint("usbc16_top"), footprint("jack_2")).fit == Fit::no);
    // A jack without the sense contact cannot stand in for one with it; the other way round it has a leg too
    // many.
    const auto sense = compare_footprints(footprint("jack_2_sense"), footprint("jack_2"));
    CHECK(sense.fit == Fit::no);
    CHECK(sense.reasons.front().find("sense") != std::string::npos);
    // An extra anchor is cut off.
    Footprint extra = footprint("usbc16_top");
    extra.pads.push_back({"S9", 0.0, 4.0, 0.5, 0.5, true, true});
    const auto cut = compare_footprints(footprint("usbc16_top"), extra);
    CHECK(cut.fit == Fit::with_a_change);
    CHECK(cut.reasons.front().find("Cut off leg S9") != std::string::npos);
}

TEST_CASE("footprints go to a file and come back", "[parts][footprint]") {
    const auto back = parse_footprints(write_footprints(test::rework().footprints), "mine.json");
    REQUIRE(back.ok());
    REQUIRE(back->size() == test::rework().footprints.size());
    for (std::size_t i = 0; i < back->size(); ++i)
        CHECK(compare_footprints(test::rework().footprints[i], (*back)[i]).fit == Fit::fits);
}

TEST_CASE("footprints without pins or with odd ones are refused", "[parts][footprint]") {
    Footprint f = footprint("usbc16_top");
    f.pads.clear();
    CHECK(check_footprint(f).error().message.find("without pins") != std::string::npos);
    f = footprint("usbc16_top");
    f.pads[0].width = 0.0;
    CHECK_FALSE(check_footprint(f).ok());
    f = footprint("usbc16_top");
    f.pads[0].name = f.pads[1].name;
    CHECK_FALSE(check_footprint(f).ok());
}

TEST_CASE("a measured part is entered in lines", "[parts][footprint]") {
    const auto jack = parse_measured_footprint(
        "barrel, jack from the drawer\nshell 9 14 out 0.8 high 5\n+ 0 10.5 2.2 1.2 leg\n- -3.6 7 1.2 2.4 "
        "leg\n"
        "sense 3.6 7 1.2 2.4 leg\nS1 -3.9 2.5 1.2 2 leg\n\nS2 3.9 2.5 1.2 2 leg\n");
    REQUIRE(jack.ok());
    CHECK(jack->title == "jack from the drawer");
    CHECK(compare_footprints(footprint("jack_2_sense"), *jack).fit == Fit::fits);
    CHECK(parse_measured_footprint("usb-c, x\nshell 9 7 out 0.6 high 1.6\n")
              .error()
              .message.find("without pins") != std::string::npos);
    CHECK(parse_measured_footprint("usb-c, x\nshell 9 7 out 0.6 high 1.6\nA1 wide").error().place ==
          "line 3");
    CHECK_FALSE(parse_measured_footprint("").ok());
    CHECK_FALSE(parse_measured_footprint("no comma here").ok());
}

TEST_CASE("the original is kept where it is sound", "[parts][footprint]") {
    // Common practice: torn off but sound is re-soldered and kept; a bought copy is the shop's warranty.
    OldPart old;
    old.torn_off_whole = true;
    old.new_part = Fit::fits;
    CHECK(advise_reuse(old).reuse);
    old.melted_or_burnt = true;
    CHECK_FALSE(advise_reuse(old).reuse);
    CHECK(advise_reuse(old).warranty.find("shop's own warranty") != std::string::npos);
    old.new_part.reset();
    CHECK(advise_reuse(old).neither);
}

TEST_CASE("a receptacle has the contacts of the specification", "[parts][pads]") {
    // USB Type-C specification, release 2, table of the receptacle's contacts, from memory: four power, four
    // ground, two CC; row B is row A turned over.
    const auto& map = test::rework().receptacle;
    CHECK(map.pins.size() == 24);
    const auto count = [&](PinFunction function) {
        return std::count_if(map.pins.begin(), map.pins.end(),
                             [&](const ReceptaclePin& pin) { return pin.function == function; });
    };
    CHECK(count(PinFunction::bus_power) == 4);
    CHECK(count(PinFunction::power_return) == 4);
    CHECK(count(PinFunction::cc) == 2);
    CHECK(count(PinFunction::high_speed) == 8);
    CHECK(map.find("A5")->signal == "CC1");
    CHECK(map.find("B5")->signal == "CC2");
    for (const ReceptaclePin& pin : map.pins) {
        const std::string turned = (pin.name[0] == 'A' ? "B" : "A") + pin.name.substr(1);
        CHECK(map.find(turned)->function == pin.function);
    }
    // 5 A over the four power contacts.
    CHECK(pad_loss({}).amps == Approx(5.0));
}

TEST_CASE("a lost pad costs what it did", "[parts][pads]") {
    // Common practice: a lost ground or VBUS pad among several costs amps, a lost CC one orientation or
    // everything, high-speed pads cost data.
    const PadLoss cc = pad_loss({"A5"});
    CHECK_FALSE(cc.charges_side[0]);
    CHECK(cc.charges_side[1]);
    CHECK(cc.rebuild == std::vector<std::string>{"A5"});
    const PadLoss both = pad_loss({"A5", "B5"});
    CHECK_FALSE(both.charges_side[0]);
    CHECK_FALSE(both.charges_side[1]);
    const PadLoss power = pad_loss({"A4"});
    CHECK(power.amps == Approx(3.75));
    CHECK(power.rebuild.empty());
    const PadLoss strong = pad_loss({"A4"}, 5.0);
    CHECK(strong.rebuild == std::vector<std::string>{"A4"});
    const PadLoss fast = pad_loss({"A2", "A3"});
    CHECK_FALSE(fast.high_speed_side[0]);
    CHECK(fast.high_speed_side[1]);
    CHECK(fast.charges_side[0]);
    CHECK(fast.rebuild.empty());
    CHECK(pad_loss({"A1", "A12", "B1", "B12"}).amps == 0.0);
    CHECK_FALSE(judge_pads(test::rework().receptacle, {"C3"}, {}, 3.0).ok());
    // Losing more never gives more.
    Random random(3);
    for (int round = 0; round < 100; ++round) {
        std::vector<std::string> missing;
        for (const ReceptaclePin& pin : test::rework().receptacle.pins)
            if (random.uniform() < 0.2)
                missing.push_back(pin.name);
        const PadLoss some = pad_loss(missing);
        missing.push_back("B9");
        CHECK(pad_loss(missing).amps <= some.amps);
    }
}

TEST_CASE("capacitors: rating, what is left, and one off among several", "[parts][capacitor]") {
    const auto& bands = test::rework().bias_bands;
    CHECK(leave_one_off(4).capacitance_share == Approx(0.75));
    CHECK(leave_one_off(4).ripple_factor == Approx(4.0 / 3.0));
    CHECK(leave_one_off(1).capacitance_share == 0.0);
    CHECK(leave_one_off(1).says.find("Refit") != std::string::npos);
    // The band is ordered and falls with volts.
    for (const BiasBand& band : bands) {
        double least = 1.0;
        for (double share = 0.0; share <= 1.0; share += 0.05) {
            const ShareLeft left = share_left(bands, band.dielectric, band.package, 25.0, 25.0 * share);
            CHECK(left.least <= left.most);
            CHECK(left.least <= least + 1e-12);
            least = left.least;
        }
    }
    CHECK(share_left(bands, "C0G", "0402", 50.0, 50.0).least > 0.95);
    const auto curve = parse_bias_curve("0 V 1; 5 V 80%; 20V 0.3");
    REQUIRE(curve.ok());
    CHECK(share_left(*curve, 12.5).least == Approx(0.55));
    CHECK(share_left(*curve, 99.0).most == Approx(0.3));
    for (const char* wrong : {"", "5 V", "5 V 0.8; 5 V 0.7", "5 V 3", "x 0.5"})
        CHECK_FALSE(parse_bias_curve(wrong).ok());
    Stock stock;
    stock.parts = {
        capacitor("tight", 10e-6, 16.0, "X5R", "0805"), capacitor("right", 10e-6, 35.0, "X5R", "0805"),
        capacitor("small", 10e-6, 35.0, "X5R", "0402"), capacitor("little", 4.7e-6, 35.0, "X7R", "0805")};
    const auto choices = choose_capacitors(stock, bands, {10e-6, 25.0, "X5R", "0805", 20.0});
    REQUIRE(choices.ok());
    REQUIRE(choices->size() == 3);
    CHECK(stock.parts[choices->front().part].id == "right");
    CHECK(choices->front().sound);
    for (const CapacitorChoice& choice : *choices)
        if (stock.parts[choice.part].id == "tight") {
            CHECK_FALSE(choice.rated);
            CHECK(choice.says.find("25.0 V") != std::string::npos);
        }
    CHECK_FALSE(choose_capacitors(stock, bands, {0.0, 25.0, "", "", 20.0}).ok());
    CHECK_FALSE(choose_capacitors(stock, bands, {1e-6, 25.0, "", "", 2000.0}).ok());
}

TEST_CASE("a regulator is compared by what it must stand and give", "[parts][regulator]") {
    Stock stock;
    StockPart part;
    part.kind = PartKind::regulator;
    part.count = 1;
    part.id = "same";
    part.name = "R-33";
    stock.parts.push_back(part);
    part.id = "good";
    part.name = "R-34";
    part.volts = 28.0;
    part.amps = 0.5;
    part.out_volts = 3.3;
    part.package = "5 pins";
    part.pinout = "in gnd en nc out";
    stock.parts.push_back(part);
    part.id = "weak";
    part.name = "R-35";
    part.volts = 22.0;
    stock.parts.push_back(part);
    const auto matches = match_regulators(stock, "R-33", {"5 pins", "in gnd en nc out", 20.0, 3.3, 0.2});
    REQUIRE(matches.size() == 3);
    CHECK(stock.parts[matches[0].part].id == "same");
    CHECK(matches[1].fits);
    CHECK_FALSE(matches[2].fits);
    CHECK(matches[2].against.front().find("22.0 V") != std::string::npos);
    const auto unknown = match_regulators(stock, "", {"", "", 20.0, 3.3, 0.2});
    CHECK(std::none_of(unknown.begin(), unknown.end(), [](const RegulatorMatch& m) { return m.fits; }));
}

TEST_CASE("donor chips: only what the shop has seen is proven", "[parts][donor]") {
    // Common practice: another model or the other side gave 5 V everywhere, 20 V on two ports of three, or
    // dead data; the same board and position is safe until proven otherwise.
    std::vector<DonorResult> results{donor("A", "U1", "B", "U1", 20.0), donor("A", "U2", "B", "U1", 5.0),
                                     donor("C", "U1", "B", "U1", 20.0, false)};
    CHECK(results[0].good());
    CHECK_FALSE(results[2].good());
    CHECK(advise_donor(results, "A", "U1", "B", "U1").standing == DonorStanding::proven);
    CHECK(advise_donor(results, " a ", "u1", "B", "U1").standing == DonorStanding::proven);
    CHECK(advise_donor(results, "A", "U2", "B", "U1").standing == DonorStanding::failed_before);
    CHECK(advise_donor(results, "C", "U1", "B", "U1").standing == DonorStanding::failed_before);
    CHECK(advise_donor(results, "B", "U1", "B", "U1").standing == DonorStanding::same_place);
    CHECK(advise_donor(results, "B", "U2", "B", "U1").standing == DonorStanding::unknown);
    CHECK(advise_donor(results, "B", "U1", "A", "U1").why.back().find("way back worked") !=
          std::string::npos);
    results.push_back(donor("A", "U1", "B", "U1", 5.0));
    CHECK(advise_donor(results, "A", "U1", "B", "U1").standing == DonorStanding::mixed);
    // Without results Jeffreys' prior is the arcsine distribution: its quantile is sin^2(pi p / 2) in closed
    // form.
    const auto nothing = advise_donor({}, "A", "U1", "B", "U1");
    CHECK(nothing.lowest_chance == Approx(std::pow(std::sin(0.025 * std::acos(-1.0)), 2)).epsilon(0.01));
    CHECK(nothing.highest_chance == Approx(std::pow(std::sin(0.475 * std::acos(-1.0)), 2)).epsilon(0.01));
    std::vector<DonorResult> ten(9, donor("A", "U1", "B", "U1", 20.0));
    ten.push_back(donor("A", "U1", "B", "U1", 5.0));
    const auto interval = advise_donor(ten, "A", "U1", "B", "U1");
    CHECK(interval.lowest_chance < 0.9);
    CHECK(interval.highest_chance > 0.9);
    const auto back = parse_donor_results(write_donor_results(results), "donors.json");
    REQUIRE(back.ok());
    CHECK(*back == results);
    const auto ports = parse_port_outcomes("Left 20 V; back right 5V no data;");
    REQUIRE(ports.ok());
    CHECK(ports->at("left") == DonorPortOutcome{20.0, true});
    CHECK(ports->at("back right") == DonorPortOutcome{5.0, false});
    for (const char* wrong : {"", "left", "left twenty", "20 V"})
        CHECK_FALSE(parse_port_outcomes(wrong).ok());
    DonorResult empty = results[0];
    empty.ports.clear();
    CHECK_FALSE(check_donor_result(empty).ok());
}

TEST_CASE("a harness is solved from continuity readings in any order", "[parts][harness]") {
    const HarnessFacts facts{{"1", "2", "3", "4", "5", "6", "7", "8"}, {"outer", "inner", "centre"}};
    Random random(5);
    for (int round = 0; round < 60; ++round) {
        // A harness as they are: some pins to each contact, some to none.
        std::map<std::string, std::string> truth;
        for (const std::string& pin : facts.pins) {
            const auto pick = static_cast<std::size_t>(4.0 * random.uniform());
            truth[pin] = pick < 3 ? facts.contacts[pick] : "";
        }
        std::vector<ContinuityReading> readings;
        for (const std::string& pin : facts.pins)
            for (const std::string& contact : facts.contacts)
                readings.push_back({pin, contact, truth[pin] == contact, PlugPush::rest});
        for (std::size_t i = readings.size(); i > 1; --i)
            std::swap(readings[i - 1],
                      readings[static_cast<std::size_t>(random.uniform() * static_cast<double>(i))]);
        const auto answer = map_harness(facts, readings);
        REQUIRE(answer.ok());
        CHECK(answer->contradictions.empty());
        CHECK(answer->next.empty());
        for (const auto& [pin, contact] : truth) {
            CHECK(answer->at_rest.at(pin).known);
            CHECK(answer->at_rest.at(pin).contact == contact);
        }
        // One reading turned round is caught whenever others speak of the same wires.
        ContinuityReading lie = readings.front();
        lie.connected = !lie.connected;
        readings.push_back(lie);
        const auto caught = map_harness(facts, readings);
        REQUIRE_FALSE(caught->contradictions.empty());
        const std::string& says = caught->contradictions.front().says;
        CHECK(says.find("contradicts") != std::string::npos);
    }
}

TEST_CASE("continuity through other pins counts, and contradictions are named", "[parts][harness]") {
    const HarnessFacts facts{{"1", "2", "3"}, {"outer", "centre"}};
    std::vector<ContinuityReading> readings;
    for (const char* line : {"1 outer ok", "1-2 ok", "3 outer open"}) {
        const auto reading = parse_continuity(line);
        REQUIRE(reading.ok());
        readings.push_back(*reading);
    }
    auto answer = map_harness(facts, readings);
    CHECK(answer->at_rest.at("2").contact == "outer");
    CHECK_FALSE(answer->at_rest.at("3").known);
    CHECK(answer->next == "pin 3 against centre");
    readings.push_back(*parse_continuity("2 outer open"));
    answer = map_harness(facts, readings);
    REQUIRE(answer->contradictions.size() == 1);
    CHECK(answer->contradictions[0].open_reading == 3);
    CHECK(answer->contradictions[0].connected_by == std::vector<std::size_t>{1, 0});
    CHECK(answer->contradictions[0].says.find("Reading 4") != std::string::npos);
    CHECK(answer->contradictions[0].says.find("reading 1") != std::string::npos);
    // Worn inner contacts pass at rest and open when pushed.
    readings = {*parse_continuity("1 outer ok"), *parse_continuity("1 outer open pushed"),
                *parse_continuity("1 centre open pushed")};
    answer = map_harness(facts, readings);
    REQUIRE(answer->changes.size() == 1);
    CHECK(answer->changes[0].find("when pushed") != std::string::npos);
    CHECK_FALSE(map_harness(facts, {{"9", "outer", true, PlugPush::rest}}).ok());
    CHECK_FALSE(map_harness(facts, {{"1", "1", true, PlugPush::rest}}).ok());
    CHECK_FALSE(parse_continuity("1 outer perhaps").ok());
    CHECK(map_harness(facts, {{"outer", "centre", true, PlugPush::rest}})->shorts.size() == 1);
}

TEST_CASE("wires of a replacement are moved until it serves", "[parts][harness]") {
    const std::map<std::string, std::string> old_order{
        {"1", "outer"}, {"2", "outer"}, {"3", ""}, {"4", "centre"}};
    CHECK(compare_harness(old_order, old_order).fits);
    const std::map<std::string, std::string> turned{
        {"1", "centre"}, {"2", "outer"}, {"3", ""}, {"4", "outer"}};
    const auto order = compare_harness(old_order, turned);
    CHECK_FALSE(order.fits);
    CHECK(order.possible);
    CHECK(order.moves.size() == 2);
    CHECK_FALSE(compare_harness(old_order, {{"1", "outer"}, {"2", "outer"}}).possible);
}
