// SPDX-License-Identifier: GPL-3.0-or-later
// Lists of messages as JSON, and captures of any kind from disk.
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>

#include "core/usbc/message_list.h"
#include "tests/support/own_path.h"
#include "tests/support/talk.h"

using namespace eh;
using namespace eh::pd;

namespace {

std::vector<SeenFrame> a_talk() {
    const auto offers = test::sixty_watts();
    TalkWriter talk;
    talk.wait_until(0.15);
    talk.ask_cable(nullptr);
    talk.offer(offers);
    talk.request(test::asking(4), offers[3]);
    talk.hard_reset();
    return test::seen(talk.frames());
}

std::string refusal(const std::string& text) {
    const auto frames = parse_messages(text, "talk.json");
    return frames ? std::string() : frames.error().text();
}

}  // namespace

TEST_CASE("a list of messages comes back as it was written", "[usbc]") {
    std::vector<SeenFrame> talk = a_talk();
    talk[2].frame.damage.bad_checksum = true;
    talk[3].line = 2;
    const auto back = parse_messages(write_messages(talk), "talk.json");
    REQUIRE(back);
    REQUIRE(back->size() == talk.size());
    for (std::size_t i = 0; i < talk.size(); ++i) {
        CHECK((*back)[i].frame.kind == talk[i].frame.kind);
        CHECK((*back)[i].frame.message == talk[i].frame.message);
        CHECK((*back)[i].frame.good() == talk[i].frame.good());
        CHECK((*back)[i].frame.start_s == talk[i].frame.start_s);
        CHECK((*back)[i].line == talk[i].line);
    }
}

TEST_CASE("lists that cannot be are refused with file, field and a sentence", "[usbc]") {
    const auto one = [](const std::string& message) {
        return R"({"format": "eager-hound.messages/1", "messages": [)" + message + "]}";
    };
    CHECK(refusal(one(R"({"t_s": 0.1, "hex": "4101"})")).empty());
    CHECK(refusal("{").find("talk.json") != std::string::npos);
    CHECK(refusal("[]").find("talk.json") != std::string::npos);
    CHECK(refusal(one(R"({"t_s": 0.1, "hex": "41"})")).find("messages[0]: hex") != std::string::npos);
    CHECK(refusal(one(R"({"t_s": 0.1, "hex": "41xy"})")).find("hex digits") != std::string::npos);
    CHECK(refusal(one(R"({"t_s": 0.1})")).find("hex") != std::string::npos);
    CHECK(refusal(one(R"({"t_s": -1, "hex": "4101"})")).find("t_s") != std::string::npos);
    CHECK(refusal(one(R"({"t_s": 0.1, "to": "the dog", "hex": "4101"})")).find("SOP") != std::string::npos);
    CHECK(refusal(one(R"({"t_s": 0.1, "reset": "soft"})")).find("hard or cable") != std::string::npos);
    CHECK(refusal(one(R"({"t_s": 0.2, "hex": "4101"}, {"t_s": 0.1, "hex": "4101"})")).find("order of time") !=
          std::string::npos);
    CHECK(refusal(R"({"format": "eager-hound.messages/9", "messages": []})").find("newer") !=
          std::string::npos);
}

TEST_CASE("a capture file is read by what it holds, whatever its name", "[usbc]") {
    const auto folder = test::own_path("captures");
    std::filesystem::create_directories(folder);
    const std::vector<SeenFrame> talk = a_talk();
    std::vector<Frame> frames;
    for (const SeenFrame& seen : talk)
        frames.push_back(seen.frame);
    const auto edges = edges_of(frames);
    std::ofstream(folder / "a.txt") << write_messages(talk);
    {
        std::ofstream vcd(folder / "b.txt");
        write_vcd(vcd, edges, edges.back() + 0.01);
    }
    {
        std::ofstream csv(folder / "c.txt");
        csv.precision(9);
        csv << "t_s,cc1_volts\n";
        bool high = false;
        for (const double edge : edges) {
            csv << edge - 1e-9 << ',' << (high ? 1.1 : 0.0) << '\n';
            high = !high;
            csv << edge << ',' << (high ? 1.1 : 0.0) << '\n';
        }
    }
    for (const char* name : {"a.txt", "b.txt", "c.txt"}) {
        CAPTURE(name);
        const auto capture = read_capture(folder / name);
        REQUIRE(capture);
        REQUIRE(capture->frames.size() == talk.size());
        for (std::size_t i = 0; i < talk.size(); ++i)
            CHECK(capture->frames[i].frame.message == talk[i].frame.message);
    }
    CHECK_FALSE(read_capture(folder / "none.vcd").ok());
    std::filesystem::remove_all(folder);
}
