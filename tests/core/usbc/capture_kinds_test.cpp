// SPDX-License-Identifier: GPL-3.0-or-later
// Captures as other programs export them. The files in tests/data/captures are made up: the same conversation
// of 8 packets, written the ways that once ended in "Nothing was said".
#include <catch2/catch.hpp>
#include <cmath>
#include <fstream>
#include <sstream>

#include "core/base/random.h"
#include "core/usbc/cc_capture.h"
#include "core/usbc/negotiation.h"
#include "core/usbc/pd_text.h"
#include "tests/support/talk.h"

using namespace eh;
using namespace eh::pd;

namespace {

std::string data_file(const std::string& name) {
    return std::string(EH_SOURCE_DIR "/tests/data/captures/") + name;
}

int good_packets(const Capture& capture) {
    int good = 0;
    for (const SeenFrame& seen : capture.frames)
        good += seen.frame.good() ? 1 : 0;
    return good;
}

Capture read(const std::string& text, const CaptureOptions& options = {}) {
    std::istringstream file(text);
    auto capture = read_capture(file, "talk", options);
    INFO((capture ? std::string() : capture.error().text()));
    REQUIRE(capture);
    return std::move(capture).value();
}

TalkWriter whole_talk() {
    const auto offers = test::sixty_watts();
    TalkWriter talk;
    talk.wait_until(0.0006);
    talk.offer(offers);
    talk.request(test::asking(4), offers[3]);
    talk.say(Side::charger, ControlType::accept);
    talk.say(Side::charger, ControlType::ps_rdy);
    return talk;
}

// The levels of a line at equal steps, seen a part of a step late.
std::vector<int> sampled(const std::vector<double>& edges, double step_s, double late_s = 0.0) {
    std::vector<int> levels;
    std::size_t next = 0;
    int level = 0;
    for (double t_s = late_s; t_s < edges.back() + 20.0 * step_s; t_s += step_s) {
        for (; next < edges.size() && edges[next] <= t_s; ++next)
            level = 1 - level;
        levels.push_back(level);
    }
    return levels;
}

std::string as_utf16(const std::string& ascii, bool little, bool mark) {
    std::string bytes = !mark ? "" : little ? "\xFF\xFE" : "\xFE\xFF";
    for (const char letter : ascii) {
        bytes += little ? letter : '\0';
        bytes += little ? '\0' : letter;
    }
    return bytes;
}

}  // namespace

TEST_CASE("the ways that other programs write a capture read as the same conversation", "[usbc][captures]") {
    const auto packets_of = [](const std::string& name) {
        const auto capture = read_capture(std::filesystem::path(data_file(name)));
        INFO((capture ? std::string() : capture.error().text()));
        REQUIRE(capture);
        CHECK_FALSE(capture->report.question);
        return good_packets(*capture);
    };
    const int all = 8;
    CHECK(packets_of("pd-foreign-first-line.vcd") == all);
    CHECK(packets_of("pd-two-wires-d0-d1.vcd") == all);
    CHECK(packets_of("pd-spike-before-preamble.vcd") == all);
    CHECK(packets_of("pd-edge-bounce-60ns.vcd") == all);
    CHECK(packets_of("pd-bom.messages.json") == 3);
    // Its table ends in the middle of the first packet.
    const auto cut = read_capture(std::filesystem::path(data_file("pd-time-in-us.csv")));
    REQUIRE(cut);
    REQUIRE(cut->frames.size() == 1);
    CHECK(cut->frames.front().frame.start_s == Approx(600e-6));
    CHECK(is(cut->frames.front().frame.message, DataType::source_capabilities));
    CHECK_FALSE(cut->frames.front().frame.good());
}

TEST_CASE("a wire whose name says nothing is found by its packets, and that is told", "[usbc][captures]") {
    const auto capture = read_capture(std::filesystem::path(data_file("pd-two-wires-d0-d1.vcd")));
    REQUIRE(capture);
    REQUIRE(capture->report.remarks.size() == 1);
    CHECK(capture->report.remarks.front().find("D1") != std::string::npos);
    CHECK(capture->report.wires.size() == 2);
    CaptureOptions asked;
    asked.cc1 = "D0";
    const auto other = read_capture(std::filesystem::path(data_file("pd-two-wires-d0-d1.vcd")), asked);
    REQUIRE(other);
    CHECK(good_packets(*other) == 0);
    asked.cc1 = "D7";
    const auto none = read_capture(std::filesystem::path(data_file("pd-two-wires-d0-d1.vcd")), asked);
    REQUIRE_FALSE(none);
    CHECK(none.error().text().find("D0, D1") != std::string::npos);
}

TEST_CASE("a few changes of the line are a plug that goes in, many are a question", "[usbc][captures]") {
    const auto few = read_capture(std::filesystem::path(data_file("pd-decimal-comma.csv")));
    REQUIRE(few);
    CHECK(few->report.edges == 4);
    const Negotiation silent = read_negotiation(*few);
    CHECK(silent.end == NegotiationEnd::silent);
    CHECK(silent.conclusive);
    const std::string sentence = verdict_sentence(silent);
    CHECK(sentence.find("Nothing was said") == std::string::npos);
    CHECK(sentence.find("4 times") != std::string::npos);

    // A clock of 1 kHz: a line that changes, but no CC line.
    std::string clock = "Time [s],CLK\n";
    for (int i = 0; i < 100; ++i)
        clock += std::to_string(i) + "e-3," + std::to_string(i % 2) + "\n";
    const Capture busy = read(clock);
    REQUIRE(busy.report.question);
    const Negotiation unclear = read_negotiation(busy);
    CHECK_FALSE(unclear.conclusive);
    CHECK(verdict_sentence(unclear).find("Nothing was said") == std::string::npos);
    CHECK(points_at(unclear).front().find("how the capture is read") != std::string::npos);
    CHECK(read_negotiation(read("t_s,cc1_volts\n0,0\n1,0\n2,0\n")).line_changes == 0);
}

TEST_CASE("a unit of time that is not said is found, one that is said wrongly is asked about",
          "[usbc][captures]") {
    const TalkWriter talk = whole_talk();
    const auto edges = edges_of(talk.frames());
    const auto table = [&](const std::string& header, double unit_s) {
        std::ostringstream text;
        text.precision(12);
        text << header << "\n0;0\n";
        int level = 0;
        for (const double edge : edges)
            text << edge / unit_s << ';' << (level = 1 - level) << '\n';
        return text.str();
    };
    const int all = static_cast<int>(talk.frames().size());
    for (const double unit_s : {1.0, 1e-3, 1e-6, 1e-7, 1e-9}) {
        CAPTURE(unit_s);
        const Capture capture = read(table("Time;CC1", unit_s));
        CHECK(good_packets(capture) == all);
        CHECK(capture.frames.front().frame.start_s == Approx(0.0006).epsilon(1e-6));
        CHECK(capture.report.remarks.empty() == (unit_s == 1.0));
    }
    CHECK(good_packets(read(table("Zeit (\xC2\xB5s);CC1", 1e-6))) == all);
    const Capture wrong = read(table("t_ms;CC1", 1e-6));
    REQUIRE(wrong.report.question);
    CHECK(wrong.report.question->time_unit);
    CHECK(wrong.report.question->suggested_s == 1e-6);
    CaptureOptions told;
    told.time_unit_s = 1e-6;
    CHECK(good_packets(read(table("t_ms;CC1", 1e-6), told)) == all);
    std::ostringstream dump;
    write_vcd(dump, edges, 0.1);
    std::string slow = dump.str();
    slow.replace(slow.find("10 ns"), 5, "10 us");
    const Capture asks = read(slow);
    REQUIRE(asks.report.question);
    CHECK(asks.report.question->suggested_s.value() == Approx(1e-8));
}

TEST_CASE("samples without a time are read at the rate that is said, else it is asked for",
          "[usbc][captures]") {
    const TalkWriter talk = whole_talk();
    const int all = static_cast<int>(talk.frames().size());
    constexpr double rate_hz = 2.5e6;
    std::string table;
    std::string bytes;
    for (const int level : sampled(edges_of(talk.frames()), 1.0 / rate_hz)) {
        table += level != 0 ? "1\n" : "0\n";
        bytes += level != 0 ? '\x06' : '\x02';  // the CC line on D2, D1 always high
    }
    CHECK(good_packets(read("; Samplerate: 2.5 MHz\nlogic\n" + table)) == all);
    const Capture asks = read("logic\n" + table);
    REQUIRE(asks.report.question);
    CHECK(asks.report.question->sample_rate);
    CHECK(1.0 / asks.report.question->suggested_s.value() == Approx(rate_hz));
    const Capture raw = read(bytes);
    REQUIRE(raw.report.question);
    CHECK(1.0 / raw.report.question->suggested_s.value() == Approx(rate_hz));
    CaptureOptions told;
    told.samples_a_second = rate_hz;
    CHECK(good_packets(read(bytes, told)) == all);
    CHECK(good_packets(read("logic\n" + table, told)) == all);
}

TEST_CASE("text in UTF-16 and with marks reads as plain text does", "[usbc][captures]") {
    const TalkWriter talk = whole_talk();
    std::ostringstream dump;
    write_vcd(dump, edges_of(talk.frames()), 0.1);
    const int all = static_cast<int>(talk.frames().size());
    for (const bool little : {true, false}) {
        for (const bool mark : {true, false})
            CHECK(good_packets(read(as_utf16(dump.str(), little, mark))) == all);
    }
    CHECK(good_packets(read("\xEF\xBB\xBF" + dump.str())) == all);
}

TEST_CASE("slow samples and a threshold beside the levels are asked about, never called silence",
          "[usbc][captures]") {
    std::string slow = "t_s,cc1_volts\n";
    for (int i = 0; i < 400; ++i)
        slow += std::to_string(i) + "e-3,0.0\n";
    const Capture meter = read(slow);
    REQUIRE(meter.report.question);
    CHECK(meter.report.question->sentence.find("1.2 million") != std::string::npos);
    CHECK_FALSE(read_negotiation(meter).conclusive);

    const TalkWriter talk = whole_talk();
    std::string low = "t_us,cc1_volts\n";
    int i = 0;
    for (const int level : sampled(edges_of(talk.frames()), 4e-7))
        low += std::to_string(4 * i++) + "e-1," + (level != 0 ? "0.45" : "0.02") + "\n";
    const Capture asks = read(low);
    REQUIRE(asks.report.question);
    CHECK(asks.report.question->volts);
    CaptureOptions told;
    told.threshold_volts = 0.25;
    CHECK(good_packets(read(low, told)) == static_cast<int>(talk.frames().size()));
}

TEST_CASE("a line sampled 1.2 million times a second is read whole, at any rate and delay",
          "[usbc][captures]") {
    // 270 to 330 kbit/s is what the specification allows a sender (from memory).
    Random random(41);
    const TalkWriter talk = whole_talk();
    for (const double bit_rate : {270e3, 285e3, 300e3, 315e3, 330e3}) {
        for (int draw = 0; draw < 20; ++draw) {
            std::vector<double> edges;
            for (const Frame& frame : talk.frames())
                append_edges(line_bits(frame.message), frame.start_s * 300e3 / bit_rate, edges,
                             1.0 / bit_rate);
            const double step_s = 1.0 / 1.2e6;
            const auto levels = sampled(edges, step_s, random.uniform() * step_s);
            std::string text = "t_ns,cc1\n";
            for (std::size_t i = 0; i < levels.size(); ++i)
                text += std::to_string(std::llround(static_cast<double>(i) * step_s * 1e9)) + "," +
                        std::to_string(levels[i]) + "\n";
            CAPTURE(bit_rate, draw);
            CHECK(good_packets(read(text)) == static_cast<int>(talk.frames().size()));
        }
    }
}

TEST_CASE("spikes and contacts that chatter cost no packet", "[usbc][captures]") {
    const TalkWriter talk = whole_talk();
    const auto edges = edges_of(talk.frames());
    Random random(43);
    for (int draw = 0; draw < 50; ++draw) {
        std::vector<double> bad;
        for (const double edge : edges) {
            if (random.uniform() < 0.02) {
                // Rises, falls back and rises again within 60 ns each.
                bad.push_back(edge);
                bad.push_back(edge + 60e-9);
                bad.push_back(edge + 120e-9);
            } else {
                bad.push_back(edge);
            }
        }
        bad.insert(bad.begin(), {edges.front() - 4e-6, edges.front() - 4e-6 + 200e-9});
        std::ostringstream dump;
        write_vcd(dump, bad, 0.1);
        CAPTURE(draw);
        CHECK(good_packets(read(dump.str())) == static_cast<int>(talk.frames().size()));
    }
}

TEST_CASE("flags that offers and requests carry are told in words", "[usbc][flags]") {
    FixedSupply mains{5.0, 3.0};
    mains.unconstrained = true;
    mains.extended_range = true;
    const std::vector<Offer> offers{mains, FixedSupply{20.0, 3.0}};
    Request request = test::asking(2);
    request.mismatch = true;
    request.no_suspend = true;
    TalkWriter talk;
    talk.offer(offers);
    talk.request(request, offers[1]);
    Interpreter interpreter;
    std::string said;
    for (const Frame& frame : talk.frames())
        said += interpreter.sentence(frame) + "\n";
    for (const char* word : {"mains", "extended range", "needs more than is offered", "USB suspend"}) {
        CAPTURE(word, said);
        CHECK(said.find(word) != std::string::npos);
    }
    TalkWriter plain;
    plain.offer(test::sixty_watts());
    CHECK(Interpreter().sentence(plain.frames().front()).find("says of itself") == std::string::npos);
}

TEST_CASE("a dump with vectors, real numbers, unknown levels and many values on a line reads the same",
          "[usbc][captures]") {
    const TalkWriter talk = whole_talk();
    std::string dump =
        "$timescale 10 ns $end $var wire 1 ! cc1 $end $var wire 8 \" bus $end\n$var real 64 r volts $end "
        "$enddefinitions $end #0 0! bxxxx \"\n";
    bool high = false;
    int number = 0;
    for (const double edge : edges_of(talk.frames())) {
        high = !high;
        dump += "#" + std::to_string(std::llround(edge / 1e-8)) + (number % 2 == 0 ? " " : "\r\n") +
                (high ? "1!" : "0!") + (number % 5 == 0 ? "\nb1010 \"\nr1.25 r\nx% z%\n" : "\n");
        ++number;
    }
    const Capture capture = read(dump);
    CHECK(good_packets(capture) == static_cast<int>(talk.frames().size()));
    CHECK(capture.report.odd_lines == 0);
    CHECK(read(dump + "#nonsense\n??\n").report.odd_lines == 2);
}
