// SPDX-License-Identifier: GPL-3.0-or-later
// Our dumps read by another decoder (Debian package sigrok-cli, decoder usb_power_delivery), packet for
// packet: start, header, data objects, checksum and whether it agrees.
//
// Its texts are not compared. Where they are wrong: battery requests are shown in amps and variable ones in
// watts; types 16 to 21 never appear, since a mask of four bits cuts them; a two-bit field is read as two
// flags; a sink's list of needs overwrites the source's offers.
#include <catch2/catch.hpp>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <memory>
#include <regex>

#include "core/usbc/cc_capture.h"
#include "core/usbc/pd_text.h"
#include "core/usbc/talk_writer.h"
#include "tests/support/own_path.h"
#include "tests/support/talk.h"

using namespace eh;
using namespace eh::pd;
using test::asking;

namespace {

std::string hex(std::uint32_t value, int digits) {
    std::array<char, 16> text{};
    std::snprintf(text.data(), text.size(), "%0*x", digits, value);
    return text.data();
}

// What the other decoder prints of a capture, reduced to what is compared.
std::vector<std::string> read_by_sigrok(const std::filesystem::path& vcd) {
    const std::string command = std::string(EH_SIGROK) + " -i " + vcd.string() +
                                " -I vcd -P usb_power_delivery:cc1=cc1"
                                " -A usb_power_delivery=sop:header:data:crc:warnings:text 2>/dev/null";
    const std::unique_ptr<FILE, int (*)(FILE*)> pipe(popen(command.c_str(), "r"), pclose);
    REQUIRE(pipe);
    std::vector<std::string> lines;
    std::array<char, 512> buffer{};
    while (std::fgets(buffer.data(), buffer.size(), pipe.get()) != nullptr) {
        std::string line = buffer.data();
        line = line.substr(line.find(": ") + 2);
        line.erase(line.find_last_not_of("\r\n") + 1);
        if (line.front() == '#') {
            if (line.find("HRST") != std::string::npos)
                lines.emplace_back("hard reset");
            if (line.find("CRST") != std::string::npos)
                lines.emplace_back("cable reset");
        } else {
            lines.push_back(line);
        }
    }
    return lines;
}

std::vector<std::string> read_here(const std::filesystem::path& vcd) {
    std::ifstream file(vcd);
    std::vector<std::string> lines;
    const auto capture = read_capture(file, vcd.string());
    REQUIRE(capture);
    for (const SeenFrame& seen : capture->frames) {
        const Frame& frame = seen.frame;
        if (frame.kind == FrameKind::hard_reset || frame.kind == FrameKind::cable_reset) {
            lines.emplace_back(frame.kind == FrameKind::hard_reset ? "hard reset" : "cable reset");
            continue;
        }
        REQUIRE(frame.kind == FrameKind::message);
        std::string start = name_of(frame.message.address);
        start = std::regex_replace(start, std::regex("''"), "\"");
        lines.push_back(std::regex_replace(start, std::regex("_"), " "));
        lines.push_back("H:" + hex(pack(frame.message.header), 4));
        const auto objects = objects_of(frame.message);
        for (std::size_t i = 0; i < objects.size(); ++i)
            lines.push_back("[" + std::to_string(i) + "]" + hex(objects[i], 8));
        if (frame.damage.bad_checksum)
            lines.push_back("Bad CRC " + hex(frame.checksum_sent, 8) + " != " + hex(frame.checksum_due, 8));
        lines.push_back("CRC:" + hex(frame.checksum_sent, 8));
    }
    return lines;
}

void check_agreement(const std::string& name, const std::vector<double>& edges) {
    const auto vcd = test::own_path(name + ".vcd");
    {
        std::ofstream file(vcd);
        write_vcd(file, edges, edges.back() + 0.01);
    }
    const auto theirs = read_by_sigrok(vcd);
    const auto ours = read_here(vcd);
    std::filesystem::remove(vcd);
    CAPTURE(name);
    CHECK_FALSE(theirs.empty());
    CHECK(ours == theirs);
}

}  // namespace

TEST_CASE("another decoder reads our conversations as we do", "[usbc][sigrok]") {
    const std::vector<Offer> sixty_watts = test::sixty_watts();
    TalkWriter talk;
    talk.wait_until(0.15);
    SECTION("a contract of 20 V") {
        talk.offer(sixty_watts);
        talk.request(asking(4), sixty_watts[3]);
        talk.say(Side::charger, ControlType::accept);
        talk.wait_until(0.4);
        talk.say(Side::charger, ControlType::ps_rdy);
        check_agreement("contract", edges_of(talk.frames()));
    }
    SECTION("offers that nobody acknowledges") {
        for (int i = 0; i < 4; ++i) {
            talk.wait_until(0.15 + 0.15 * i);
            talk.offer(sixty_watts, false);
        }
        check_agreement("unanswered", edges_of(talk.frames()));
    }
    SECTION("a refusal, then 5 V") {
        talk.offer(sixty_watts);
        talk.request(asking(4), sixty_watts[3]);
        talk.say(Side::charger, ControlType::reject);
        talk.request(asking(1), sixty_watts[0]);
        talk.say(Side::charger, ControlType::accept);
        talk.say(Side::charger, ControlType::ps_rdy);
        check_agreement("refusal", edges_of(talk.frames()));
    }
    SECTION("a loop of hard resets") {
        for (int i = 0; i < 3; ++i) {
            talk.wait_until(1.3 * i);
            talk.offer(sixty_watts);
            talk.hard_reset();
        }
        check_agreement("loop", edges_of(talk.frames()));
    }
    SECTION("a marked cable") {
        const CableIdentity marker{5.0, 50.0, true};
        talk.ask_cable(&marker);
        talk.offer(sixty_watts);
        check_agreement("cable", edges_of(talk.frames()));
    }
    SECTION("every kind of offer") {
        talk.offer(std::vector<Offer>{FixedSupply{5.0, 3.0}, BatterySupply{10.0, 12.6, 40.0},
                                      VariableSupply{8.0, 12.0, 2.5},
                                      ProgrammableSupply{3.3, 21.0, 5.0, true},
                                      ExtendedRangeSupply{15.0, 48.0, 240.0}, AdjustableSupply{3.0, 2.25}});
        check_agreement("offers", edges_of(talk.frames()));
    }
    SECTION("control messages of every number, the ones above 15 too") {
        for (int type = 1; type <= 24; ++type)
            talk.say(type % 2 == 0 ? Side::charger : Side::machine, static_cast<ControlType>(type));
        check_agreement("controls", edges_of(talk.frames()));
    }
    SECTION("all five addresses and both resets") {
        std::vector<double> edges;
        double now_s = 0.001;
        for (int address = 0; address < 5; ++address) {
            Message message;
            message.address = static_cast<Address>(address);
            message.header.type = static_cast<std::uint8_t>(ControlType::soft_reset);
            now_s = append_edges(line_bits(message), now_s, edges) + 3e-4;
        }
        for (const FrameKind kind : {FrameKind::hard_reset, FrameKind::cable_reset})
            now_s = append_edges(reset_bits(kind), now_s, edges) + 3e-4;
        check_agreement("addresses", edges);
    }
    SECTION("a flipped data bit is a bad checksum to both") {
        talk.offer(sixty_watts);
        talk.request(asking(4), sixty_watts[3]);
        std::vector<double> edges;
        for (const Frame& frame : talk.frames()) {
            Message sent = frame.message;
            std::vector<bool> bits = line_bits(sent);
            if (is(sent, DataType::request)) {
                // The symbol of the request's first nibble, which is 12, becomes that of 13.
                const std::size_t first_object = 64 + 20 + 20;
                bits[first_object] = !bits[first_object];
            }
            append_edges(bits, frame.start_s, edges);
        }
        check_agreement("damaged", edges);
    }
}
