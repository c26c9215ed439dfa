// SPDX-License-Identifier: GPL-3.0-or-later
// Small texts.
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include <clocale>

#include "core/base/json_text.h"
#include "core/base/text.h"
#include "core/electrics/engineering.h"

using namespace eh;

TEST_CASE("Numbers in texts are as printf writes them, and cut rather than written beyond their room") {
    CHECK(number_text("%.3g V", 19.53) == "19.5 V");
    CHECK(whole_text(216.7) == "217");
    CHECK(percent_text(0.368) == "37 %");
    CHECK(number_text("%.0f", 1e200).size() == 63);
}

TEST_CASE("Small letters leave everything but A to Z alone") {
    CHECK(lower_case("VBUS_C1 Ünit Ω") == "vbus_c1 Ünit Ω");
    CHECK(lower_case("").empty());
}

TEST_CASE("Numbers for people take the mark that was set, numbers for programs a point", "[base][locale]") {
    set_shown_decimal_mark(',');
    CHECK(number_text("%.3g V", 19.53) == "19,5 V");
    CHECK(number_text("No. 3. %.1f A", 0.25) == "No. 3. 0,2 A");
    CHECK(format_quantity(4700.0, Unit::ohms) == "4,70 kΩ");
    CHECK(machine_number("%.2f", 1.5) == "1.50");
    // What is shown is understood when it is typed again.
    CHECK(parse_quantity(format_quantity(4700.0, Unit::ohms))->value == Approx(4700.0));
    set_shown_decimal_mark('.');
    CHECK(number_text("%.3g V", 19.53) == "19.5 V");
}

TEST_CASE("UTF-8 is told from other bytes by the rules of RFC 3629", "[base][utf8]") {
    for (const char* good : {"", "abc", "Ω", "€", "\xF0\x9F\x90\x95", "\xF4\x8F\xBF\xBF", "\xED\x9F\xBF"})
        CHECK(is_utf8(good));
    // Cut, overlong, surrogate, above U+10FFFF, a byte that stands alone.
    for (const char* bad : {"\xCE", "a\xE2\x82", "\xC0\xAF", "\xE0\x80\xAF", "\xED\xA0\x80",
                            "\xF4\x90\x80\x80", "\x80", "\xFF", "\xF0\x80\x80\x80"}) {
        CAPTURE(bad);
        CHECK_FALSE(is_utf8(bad));
        CHECK(is_utf8(as_utf8(bad)));
    }
    CHECK(as_utf8("M\xFCller") == "Müller");
    CHECK(as_utf8("Müller") == "Müller");
    for (int byte = 0; byte < 256; ++byte)
        CHECK(is_utf8(as_utf8(std::string(1, static_cast<char>(byte)))));
}

TEST_CASE("Texts are cut between characters, and stand in sentences without control characters",
          "[base][utf8]") {
    const std::string text = "aΩ€\xF0\x9F\x90\x95z";
    for (std::size_t most = 0; most <= text.size(); ++most)
        CHECK(is_utf8(shortened(text, most)));
    CHECK(shortened(text, text.size()) == text);
    CHECK(shortened("aΩΩ", 2) == "a…");
    CHECK(in_quotes("a\x1B[31m\nb") == "“a [31m b”");
    CHECK(in_quotes(std::string(1000, 'x')).size() < 100);
    CHECK(is_utf8(in_quotes(std::string(59, 'x') + "ΩΩ")));
}

TEST_CASE("JSON with bytes that are no UTF-8 is written, not thrown", "[base][utf8]") {
    CHECK(nlohmann::json::parse(json_text({{"a", "\xCE"}}))["a"] == "\xEF\xBF\xBD");
    CHECK(json_text({{"v", 19.5}}) == R"({"v":19.5})");
}

TEST_CASE("The C library writes commas here", "[.][comma]") {
    CHECK(std::string(std::localeconv()->decimal_point) == ",");
    CHECK(machine_number("%.1f", 1.5) == "1.5");
}
