// SPDX-License-Identifier: GPL-3.0-or-later
// Packets over the line and back: round trips, damage, and a line that carries anything at all.
#include <catch2/catch.hpp>
#include <sstream>

#include "core/base/random.h"
#include "core/usbc/cc_capture.h"
#include "core/usbc/pd_text.h"
#include "core/usbc/talk_writer.h"

using namespace eh;
using namespace eh::pd;

namespace {

std::vector<Frame> frames_in(const std::vector<double>& edges) {
    std::vector<Frame> frames;
    FrameReader reader([&](Frame frame) { frames.push_back(std::move(frame)); });
    for (const double edge : edges)
        reader.edge(edge);
    reader.finish();
    return frames;
}

std::uint32_t word(Random& random) {
    return static_cast<std::uint32_t>(random.uniform() * 4294967296.0);
}

Message any_message(Random& random) {
    Header header = unpack_header(static_cast<std::uint16_t>(word(random)));
    header.extended = false;
    std::vector<std::uint32_t> objects(header.objects);
    for (auto& object : objects)
        object = word(random);
    return with_objects(static_cast<Address>(word(random) % 5), header, objects);
}

std::vector<double> edges_of(const Message& message, double bit_s = nominal_bit_s, double start_s = 0.001) {
    std::vector<double> edges;
    append_edges(line_bits(message), start_s, edges, bit_s);
    return edges;
}

}  // namespace

TEST_CASE("any message to anybody comes back from the line whole, at any bit rate allowed", "[usbc]") {
    Random random(11);
    for (int i = 0; i < 400; ++i) {
        const Message message = any_message(random);
        const double rate = 270e3 + 60e3 * random.uniform();  // the specification's range (from memory)
        const auto frames = frames_in(edges_of(message, 1.0 / rate));
        REQUIRE(frames.size() == 1);
        CHECK(frames[0].good());
        CHECK(frames[0].message == message);
        CHECK(frames[0].start_s == Approx(0.001));
    }
}

TEST_CASE("edges that a sampling instrument rounds to its clock still read", "[usbc]") {
    Random random(12);
    for (const double sample_s : {1e-8, 1e-7, 2.5e-7, 4e-7}) {
        for (int i = 0; i < 50; ++i) {
            const Message message = any_message(random);
            std::vector<double> edges = edges_of(message);
            for (double& edge : edges)
                edge = std::round(edge / sample_s) * sample_s;
            const auto frames = frames_in(edges);
            REQUIRE(frames.size() == 1);
            CHECK(frames[0].message == message);
        }
    }
}

TEST_CASE("extended messages read by their own length, chunked or not", "[usbc]") {
    for (const bool chunked : {false, true}) {
        Message message;
        message.header.extended = true;
        message.header.type = static_cast<std::uint8_t>(ExtendedType::manufacturer_info);
        const std::string text = "made of nothing";
        const std::uint16_t own = pack(ExtendedHeader{static_cast<int>(text.size()), false, 0, chunked});
        message.payload = {static_cast<std::uint8_t>(own), static_cast<std::uint8_t>(own >> 8)};
        message.payload.insert(message.payload.end(), text.begin(), text.end());
        if (chunked) {
            while (message.payload.size() % 4 != 0)
                message.payload.push_back(0);
            message.header.objects = static_cast<std::uint8_t>(message.payload.size() / 4);
        }
        const auto frames = frames_in(edges_of(message));
        REQUIRE(frames.size() == 1);
        CHECK(frames[0].good());
        const auto data = extended_data_of(frames[0].message);
        CHECK(std::string(data.begin(), data.end()) == text);
    }
}

TEST_CASE("resets are told apart", "[usbc]") {
    for (const FrameKind kind : {FrameKind::hard_reset, FrameKind::cable_reset}) {
        std::vector<double> edges;
        append_edges(reset_bits(kind), 0.0, edges);
        const auto frames = frames_in(edges);
        REQUIRE(frames.size() == 1);
        CHECK(frames[0].kind == kind);
        CHECK(frames[0].good());
    }
}

TEST_CASE("one flipped bit anywhere behind the start is noticed, and the next message reads", "[usbc]") {
    Random random(13);
    const Message message = any_message(random);
    const Message next = any_message(random);
    const std::vector<bool> bits = line_bits(message);
    constexpr std::size_t first_after_start = 64 + 20;
    for (std::size_t flipped = first_after_start; flipped < bits.size(); ++flipped) {
        std::vector<bool> damaged = bits;
        damaged[flipped] = !damaged[flipped];
        std::vector<double> edges;
        const double over_s = append_edges(damaged, 0.0, edges);
        append_edges(line_bits(next), over_s + 1e-4, edges);
        const auto frames = frames_in(edges);
        CAPTURE(flipped);
        REQUIRE(frames.size() == 2);
        CHECK_FALSE(frames[0].good());
        CHECK(frames[1].good());
        CHECK(frames[1].message == next);
    }
}

TEST_CASE("one wrong symbol of the four that start a packet is forgiven, as the specification has it",
          "[usbc]") {
    Random random(14);
    const Message message = any_message(random);
    for (std::size_t symbol = 0; symbol < 4; ++symbol) {
        std::vector<bool> bits = line_bits(message);
        for (std::size_t b = 0; b < 5; ++b)
            bits[64 + 5 * symbol + b] = false;  // five zeros stand for nothing
        std::vector<double> edges;
        append_edges(bits, 0.0, edges);
        const auto frames = frames_in(edges);
        REQUIRE(frames.size() == 1);
        CHECK(frames[0].damage.start_repaired);
        CHECK(frames[0].good());
        CHECK(frames[0].message.payload == message.payload);
    }
}

TEST_CASE("a packet cut short anywhere is no good message", "[usbc]") {
    Random random(15);
    const auto edges = edges_of(any_message(random));
    for (std::size_t kept = 0; kept + 4 < edges.size(); ++kept) {
        const auto frames = frames_in({edges.begin(), edges.begin() + static_cast<std::ptrdiff_t>(kept)});
        for (const Frame& frame : frames)
            CHECK_FALSE(frame.good());
    }
}

TEST_CASE("a line that carries anything at all is read to its end", "[usbc]") {
    Random random(16);
    for (int run = 0; run < 200; ++run) {
        std::vector<double> edges;
        double t_s = 0.0;
        for (int i = 0; i < 3000; ++i) {
            const double kind = random.uniform();
            t_s += kind < 0.45 ? nominal_bit_s : kind < 0.9 ? nominal_bit_s / 2 : 20e-6 * random.uniform();
            edges.push_back(t_s);
        }
        Interpreter interpreter;
        for (const Frame& frame : frames_in(edges)) {
            CHECK_FALSE(interpreter.sentence(frame).empty());
            CHECK(frame.message.payload.size() < 600);
        }
    }
}

TEST_CASE("what is written as a value-change dump reads as what was said", "[usbc]") {
    TalkWriter talk;
    const std::vector<Offer> offers{FixedSupply{5.0, 3.0}, FixedSupply{20.0, 3.25}};
    talk.wait_until(0.15);
    talk.offer(offers);
    talk.request({2, false, false, false, false, false, 2.0, 3.25}, offers[1]);
    talk.say(Side::charger, ControlType::accept);
    talk.hard_reset();
    std::stringstream file;
    write_vcd(file, edges_of(talk.frames()), talk.now_s());
    const auto capture = read_capture(file, "talk.vcd");
    REQUIRE(capture);
    const std::vector<SeenFrame>& seen = capture->frames;
    REQUIRE(seen.size() == talk.frames().size());
    for (std::size_t i = 0; i < seen.size(); ++i) {
        CHECK(seen[i].frame.kind == talk.frames()[i].kind);
        CHECK(seen[i].frame.message == talk.frames()[i].message);
        CHECK(seen[i].frame.start_s == Approx(talk.frames()[i].start_s).margin(2e-8));
    }
}

TEST_CASE("sampled volts of both lines read the same, noise and idle level included", "[usbc]") {
    TalkWriter talk;
    talk.wait_until(0.0005);
    const std::vector<Offer> offers{FixedSupply{5.0, 3.0}, FixedSupply{9.0, 3.0}};
    talk.offer(offers);
    const auto edges = edges_of(talk.frames());
    std::stringstream file;
    file << "t_s,cc1_volts,cc2_volts\n";
    Random random(17);
    std::size_t next = 0;
    bool high = false;
    constexpr double sample_s = 2e-7;
    for (int i = 0; i * sample_s < talk.now_s() + 1e-4; ++i) {
        const double t_s = i * sample_s;
        while (next < edges.size() && edges[next] <= t_s) {
            high = !high;
            ++next;
        }
        file << t_s << ',' << 0.05 * random.normal() << ',' << (high ? 1.1 : 0.05) + 0.03 * random.normal()
             << '\n';
    }
    const auto capture = read_capture(file, "cc.csv");
    REQUIRE(capture);
    const std::vector<SeenFrame>& seen = capture->frames;
    REQUIRE(seen.size() == 2);
    CHECK(seen[0].line == 2);
    CHECK(seen[0].frame.message == talk.frames()[0].message);
    CHECK(seen[1].frame.message == talk.frames()[1].message);
}

TEST_CASE("captures that cannot be read are refused with the place and a sentence", "[usbc]") {
    const auto refusal = [](const std::string& text, const CaptureOptions& options = {}) {
        std::stringstream file(text);
        const auto capture = read_capture(file, "x.vcd", options);
        return capture ? std::string() : capture.error().text();
    };
    const std::string head = "$timescale 1 ns $end\n$var wire 1 ! cc1 $end\n$enddefinitions $end\n";
    CHECK(refusal(head + "#0\n0!\n#5\n1!").empty());  // ends in the middle: read up to there
    CHECK(refusal("").find("no samples") != std::string::npos);
    CHECK(refusal("$date today $end\n").find("no value-change dump") != std::string::npos);
    CHECK(refusal("t_s,volts,amps\n0,5,0.1\n").find("open them as a trace") != std::string::npos);
    CHECK(refusal("$timescale 1 fortnight $end\n").find("x.vcd, line 1: the time scale") !=
          std::string::npos);
    CHECK(refusal("$timescale -3 ns $end\n").find("time scale") != std::string::npos);
    CHECK(refusal(head + "#9\n1!\n#4\n0!\n").find("x.vcd, line 6: time goes back") != std::string::npos);
    CHECK(
        refusal("$timescale 1 ns $end\n$var wire 8 # bus $end\n$enddefinitions $end\n#0\n").find("no wire") !=
        std::string::npos);
    CaptureOptions other;
    other.cc1 = "cc9";
    CHECK(refusal(head, other).find("cc9") != std::string::npos);
    CaptureOptions stopped;
    stopped.stop = [] { return true; };
    CHECK(refusal(head + std::string(3 << 20, '\n'), stopped).find("stopped") != std::string::npos);
    std::stringstream empty("t_s,cc1_volts\nnothing\n");
    CHECK_FALSE(read_capture(empty, "y.csv").ok());
}
