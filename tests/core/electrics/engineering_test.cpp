// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrics/engineering.h"

#include <cmath>

#include "core/base/random.h"

using namespace eh;

TEST_CASE("numbers are read as a technician writes them", "[engineering]") {
    struct Row {
        const char* text;
        double value;
        Unit unit;
    };
    // Letter codes: IEC 60062. The rest: common practice.
    const auto row = GENERATE(values<Row>({{"3r3", 3.3, Unit::ohms},
                                           {"0R22", 0.22, Unit::ohms},
                                           {"4k7", 4700, Unit::ohms},
                                           {"1M2", 1.2e6, Unit::ohms},
                                           {"140 mA", 0.14, Unit::amps},
                                           {"12.6v", 12.6, Unit::volts},
                                           {"5,1", 5.1, Unit::none},
                                           {"3v3", 3.3, Unit::volts},
                                           {"2.2 ohm", 2.2, Unit::ohms},
                                           {"100 k", 1e5, Unit::ohms},
                                           {"470µF", 470e-6, Unit::farads},
                                           {"+30", 30, Unit::none},
                                           {"-12 mV", -0.012, Unit::volts},
                                           {"1e-3", 1e-3, Unit::none}}));
    CAPTURE(row.text);
    const auto quantity = parse_quantity(row.text);
    REQUIRE(quantity.ok());
    CHECK(quantity->value == Approx(row.value).epsilon(1e-12));
    CHECK(quantity->unit == row.unit);
    CHECK_FALSE(quantity->over_limit);
}

TEST_CASE("OL is an ohmmeter's reading of its own", "[engineering]") {
    CHECK(parse_quantity("OL")->over_limit);
    CHECK(parse_quantity_as("ol", Unit::ohms)->over_limit);
    CHECK_FALSE(parse_quantity_as("OL", Unit::volts).ok());
}

TEST_CASE("what is not a number is refused with a sentence that quotes it", "[engineering]") {
    for (const char* text : {"abc", "", "5 bananas", "--3", "4k7k", "1.2.3", "nan", "inf"}) {
        CAPTURE(text);
        const auto quantity = parse_quantity(text);
        REQUIRE_FALSE(quantity.ok());
        CHECK(quantity.error().message.size() > 20);
    }
    CHECK_THAT(parse_quantity("abc").error().message, Catch::Contains("abc"));
}

TEST_CASE("values no bench can hold and units that do not fit are refused", "[engineering]") {
    CHECK_FALSE(parse_quantity_as("-3 ohm", Unit::ohms).ok());
    CHECK_FALSE(parse_quantity_as("1e9 V", Unit::volts).ok());
    CHECK_FALSE(parse_quantity_as("5 V", Unit::ohms).ok());
    CHECK_FALSE(parse_quantity_as("3r3", Unit::volts).ok());
    CHECK(parse_quantity_as("5,1", Unit::volts)->value == Approx(5.1));
}

TEST_CASE("formatting and parsing are inverse within the digits shown", "[engineering]") {
    Random random(7);
    for (int i = 0; i < 2000; ++i) {
        const Unit unit = std::array{Unit::volts, Unit::amps, Unit::ohms, Unit::watts}[random.below(4)];
        const double value = std::pow(10.0, random.uniform() * 8.0 - 5.0);
        const std::string text = format_quantity(value, unit, 4);
        CAPTURE(value, text);
        const auto back = parse_quantity(text);
        REQUIRE(back.ok());
        // Volts from 0.1 V up are shown in volts whatever their size, hence the absolute part.
        CHECK(back->value == Approx(value).epsilon(6e-4).margin(unit == Unit::volts ? 5e-4 : 0.0));
        CHECK(back->unit == unit);
    }
}

TEST_CASE("prefixes are chosen after rounding", "[engineering]") {
    CHECK(format_quantity(0.9996, Unit::amps) == "1.00 A");
    CHECK(format_quantity(0.1234, Unit::amps) == "123 mA");
    CHECK(format_quantity(3300.0, Unit::ohms) == "3.30 kΩ");
    CHECK(format_quantity(std::nan(""), Unit::volts) == "–");
}

TEST_CASE("random bytes never crash the parser", "[engineering]") {
    Random random(11);
    const std::string alphabet = "0123456789.,-+eEkKmMrRvVaAµΩolOL \t";
    for (int i = 0; i < 20000; ++i) {
        std::string text;
        for (int k = random.below(12); k > 0; --k)
            text += alphabet[static_cast<std::size_t>(random.below(static_cast<int>(alphabet.size())))];
        const auto quantity = parse_quantity(text);
        if (quantity)
            CHECK(std::isfinite(quantity->value));
        else
            CHECK_FALSE(quantity.error().message.empty());
    }
}
