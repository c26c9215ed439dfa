// SPDX-License-Identifier: GPL-3.0-or-later
// Preferred numbers, markings and what the drawer can make of them, against the standards' tables.
#include <catch2/catch.hpp>
#include <cmath>
#include <set>

#include "core/base/random.h"
#include "core/parts/preferred_values.h"
#include "core/parts/resistor_choice.h"
#include "core/parts/resistor_marking.h"
#include "core/parts/stock_search.h"

using namespace eh;

namespace {

StockPart resistor(const std::string& id, double ohms, int count = 5, double tolerance = 0.01) {
    StockPart part;
    part.id = id;
    part.kind = PartKind::resistor;
    part.name = "R " + id;
    part.value = ohms;
    part.tolerance = tolerance;
    part.count = count;
    part.package = "0402";
    part.place = "drawer " + id;
    return part;
}

double usual_ohms(const char* marking) {
    const auto read = read_marking(marking);
    INFO(marking);
    REQUIRE(read.ok());
    return read->front().ohms;
}

}  // namespace

TEST_CASE("preferred numbers are those of IEC 60063", "[parts][values]") {
    // IEC 60063, from memory: E6 and E12 in full, the beginning and the odd places of E48, E96 and E192.
    CHECK(decade(Series::e6) == std::vector<double>{1.0, 1.5, 2.2, 3.3, 4.7, 6.8});
    CHECK(decade(Series::e12) ==
          std::vector<double>{1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2});
    CHECK(decade(Series::e3) == std::vector<double>{1.0, 2.2, 4.7});
    const std::vector<double> e96_begins{1.00, 1.02, 1.05, 1.07, 1.10, 1.13, 1.15, 1.18, 1.21, 1.24,
                                         1.27, 1.30, 1.33, 1.37, 1.40, 1.43, 1.47, 1.50, 1.54, 1.58};
    for (std::size_t i = 0; i < e96_begins.size(); ++i)
        CHECK(decade(Series::e96)[i] == Approx(e96_begins[i]).margin(1e-9));
    CHECK(decade(Series::e96).back() == Approx(9.76));
    CHECK(decade(Series::e48)[1] == Approx(1.05));
    // 10^(185/192) rounds to 9.19; the standard has 9.20.
    CHECK(decade(Series::e192)[185] == Approx(9.20));
    CHECK(decade(Series::e192).size() == 192);
}

TEST_CASE("no preferred value is nearer than the one that is chosen", "[parts][values]") {
    Random random(12);
    for (int i = 0; i < 300; ++i) {
        const double value = std::pow(10.0, -3.0 + 10.0 * random.uniform());
        for (const Series series : {Series::e6, Series::e24, Series::e96}) {
            const double chosen = nearest_preferred(value, series);
            CAPTURE(value, chosen);
            CHECK(is_preferred(chosen, series));
            for (const double mantissa : decade(series))
                for (int power = -5; power <= 8; ++power)
                    CHECK(std::abs(std::log(chosen / value)) <=
                          std::abs(std::log(mantissa * std::pow(10.0, power) / value)) + 1e-9);
        }
    }
}

TEST_CASE("markings are read as the standards print them", "[parts][marking]") {
    // IEC 60062 letter code.
    CHECK(usual_ohms("4k7") == Approx(4700.0));
    CHECK(usual_ohms("0R22") == Approx(0.22));
    CHECK(usual_ohms("R047") == Approx(0.047));
    CHECK(usual_ohms("10R") == Approx(10.0));
    CHECK(usual_ohms("1M5") == Approx(1.5e6));
    CHECK(usual_ohms("2L0") == Approx(0.002));
    // Three and four digits.
    CHECK(usual_ohms("472") == Approx(4700.0));
    CHECK(usual_ohms("100") == Approx(10.0));
    CHECK(usual_ohms("4701") == Approx(4700.0));
    CHECK(usual_ohms("1002") == Approx(10e3));
    CHECK(usual_ohms("000") == 0.0);
    // EIA-96: 01A is 100 ohm, 68X 49.9, 30C 20k, 96F 97.6M (from memory of the table).
    CHECK(usual_ohms("01A") == Approx(100.0));
    CHECK(usual_ohms("68X") == Approx(49.9));
    CHECK(usual_ohms("30C") == Approx(20e3));
    CHECK(usual_ohms("01C") == Approx(10e3));
    CHECK(usual_ohms("96F") == Approx(97.6e6));
    for (const char* wrong : {"", "97A", "00A", "4k7k", "abc", "12Z", "47 000 000"})
        CHECK_FALSE(read_marking(wrong).ok());
}

TEST_CASE("every preferred value survives being printed and read", "[parts][marking]") {
    for (const Series series : {Series::e24, Series::e96})
        for (const double mantissa : decade(series))
            for (int power = 0; power <= 6; ++power) {
                const double ohms = mantissa * std::pow(10.0, power);
                for (const MarkingScheme scheme : {MarkingScheme::three_digits, MarkingScheme::four_digits,
                                                   MarkingScheme::letter, MarkingScheme::eia96}) {
                    const auto text = write_marking(ohms, scheme);
                    if (!text)
                        continue;
                    CAPTURE(ohms, *text);
                    const auto read = read_marking(*text);
                    REQUIRE(read.ok());
                    bool found = false;
                    for (const MarkingMeaning& meaning : *read)
                        found =
                            found || (meaning.scheme == scheme && std::abs(meaning.ohms / ohms - 1.0) < 1e-3);
                    CHECK(found);
                }
                // Letters write everything; EIA-96 all of E96.
                CHECK(write_marking(ohms, MarkingScheme::letter));
                if (series == Series::e96)
                    CHECK(write_marking(ohms, MarkingScheme::eia96));
            }
    CHECK(write_marking(4700.0, MarkingScheme::letter) == "4k7");
    CHECK(write_marking(10e3, MarkingScheme::three_digits) == "103");
    CHECK_FALSE(write_marking(4.99e3, MarkingScheme::three_digits));
    CHECK_FALSE(write_marking(4.7, MarkingScheme::four_digits));
}

TEST_CASE("the best pair from the drawer is the best of all pairs", "[parts][values]") {
    Random random(7);
    for (int round = 0; round < 30; ++round) {
        Stock stock;
        for (int i = 0; i < 14; ++i)
            stock.parts.push_back(
                resistor(std::to_string(i),
                         nearest_preferred(std::pow(10.0, 2.0 + 2.0 * random.uniform()), Series::e24),
                         1 + static_cast<int>(2.0 * random.uniform())));
        const double wanted = std::pow(10.0, 2.3 + 1.5 * random.uniform());
        double best = 1e9;
        for (std::size_t a = 0; a < stock.parts.size(); ++a)
            for (std::size_t b = a; b < stock.parts.size(); ++b) {
                if (a == b && stock.parts[a].count < 2)
                    continue;
                const double x = *stock.parts[a].value;
                const double y = *stock.parts[b].value;
                for (const double ohms : {x + y, x * y / (x + y)})
                    best = std::min(best, std::abs(ohms / wanted - 1.0));
            }
        const auto choices = choose_resistors(stock, wanted, ResistorRole::current_sense, 500);
        REQUIRE(choices.ok());
        double found = 1e9;
        for (const ResistorChoice& choice : *choices)
            if (choice.parts.size() == 2)
                found = std::min(found, std::abs(choice.deviation));
        CAPTURE(round, wanted, best, found);
        if (best < 0.3)
            CHECK(found == Approx(best).margin(1e-9));
    }
}

TEST_CASE("what a resistor does decides what is good enough", "[parts][values]") {
    Stock stock;
    stock.parts = {resistor("a", 9100.0, 5, 0.05), resistor("b", 5100.0, 2, 0.01),
                   resistor("c", 4990.0, 2, 0.01)};
    // Common practice: 10 k from the ID line to ground tells the adapter; a pull-up stands a third.
    const auto id = choose_resistors(stock, 10e3, ResistorRole::identification);
    REQUIRE(id.ok());
    REQUIRE_FALSE(id->empty());
    CHECK(id->front().joined == Joined::in_series);
    CHECK(id->front().good_enough);
    const auto pull_up = choose_resistors(stock, 10e3, ResistorRole::pull_up);
    CHECK(pull_up->front().joined == Joined::alone);
    CHECK(pull_up->front().good_enough);
    CHECK_FALSE(choose_resistors(Stock{}, 10e3, ResistorRole::divider).ok());
    CHECK_FALSE(choose_resistors(stock, -3.0, ResistorRole::divider).ok());
    for (int i = 0; i < resistor_role_count; ++i)
        CHECK_FALSE(demand_of(static_cast<ResistorRole>(i)).why.empty());
}

TEST_CASE("the stock is found by value, rating, size and drawer", "[parts][stock]") {
    Stock stock;
    stock.parts = {resistor("r1", 4700.0), resistor("r2", 10e3, 0), resistor("r3", 10e3, 3, 0.05)};
    StockPart capacitor;
    capacitor.id = "c1";
    capacitor.kind = PartKind::capacitor;
    capacitor.name = "C 100n";
    capacitor.value = 100e-9;
    capacitor.volts = 25.0;
    capacitor.package = "0402";
    capacitor.dielectric = "X7R";
    capacitor.count = 40;
    stock.parts.push_back(capacitor);
    const StockSearch search(stock);
    const auto ids = [&](const char* question) {
        std::vector<std::string> list;
        for (const std::size_t i : search.find(question))
            list.push_back(stock.parts[i].id);
        return list;
    };
    CHECK(ids("4k7") == std::vector<std::string>{"r1"});
    CHECK(ids("4.7k 0402") == std::vector<std::string>{"r1"});
    // At hand before what has run out.
    CHECK(ids("10k") == std::vector<std::string>{"r3", "r2"});
    CHECK(ids("10k 1%") == std::vector<std::string>{"r2"});
    CHECK(ids("100n 16V") == std::vector<std::string>{"c1"});
    CHECK(ids("100n 50V").empty());
    CHECK(ids("0.1uF x7r") == std::vector<std::string>{"c1"});
    CHECK(ids("DRAWER R3") == std::vector<std::string>{"r3"});
    CHECK(ids("").size() == 4);
    CHECK(ids("nothing-like-it").empty());
}

TEST_CASE("the stock goes to a file and comes back", "[parts][stock]") {
    Stock stock;
    stock.parts = {resistor("r1", 4700.0), resistor("r2", 10e3, 0)};
    stock.parts[0].from_board = "board A";
    stock.donors.push_back({"d1", "board A", "shelf 2", {"U4"}});
    stock.orders.push_back({"o1", "r2", 10, "a dealer", 1000, 10.0, "D-7", false});
    stock.orders.push_back({"o2", "a jack", 1, "", 2000, 30.0, "D-7", false});
    stock.orders.push_back({"o3", "a cable", 1, "", 0, 2.0, "D-8", true});
    const auto back = parse_stock(write_stock(stock), "stock.json");
    REQUIRE(back.ok());
    CHECK(*back == stock);
    // A job waits for its last part; what has arrived holds nothing up.
    const auto parked = parked_jobs(stock, 40LL * 86400000);
    REQUIRE(parked.size() == 1);
    CHECK(parked[0].job == "D-7");
    CHECK(parked[0].what == "a jack");
    CHECK(parked[0].late);
    CHECK_FALSE(parked_jobs(stock, 0)[0].late);
    CHECK(fresh_stock_id(stock, "r") == "r3");
    std::string twice = write_stock(stock);
    twice.replace(twice.rfind("\"r2\""), 4, "\"r1\"");
    CHECK_FALSE(parse_stock(twice, "stock.json").ok());
    const auto negative = parse_stock(
        R"({"format":"eager-hound.stock/1","parts":[{"id":"x","kind":"resistor","name":"R","count":-1}]})",
        "s.json");
    REQUIRE_FALSE(negative.ok());
    CHECK(negative.error().text().find("count") != std::string::npos);
}
