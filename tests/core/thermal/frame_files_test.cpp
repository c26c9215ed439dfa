// SPDX-License-Identifier: GPL-3.0-or-later
// Thermal frames in and out of files, and what is no frame.
#include "core/thermal/frame_files.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/random.h"

using namespace eh;

namespace {

constexpr ThermalScale fine{0.002, -20.0};

ThermalFrame some_frame(std::uint64_t seed, int width = 7, int height = 5) {
    Random random(seed);
    ThermalFrame frame{width, height, {}, 0.25 * static_cast<double>(seed), seed % 2 == 0};
    for (int i = 0; i < width * height; ++i)
        frame.celsius.push_back(static_cast<float>(20.0 + 60.0 * random.uniform()));
    return frame;
}

void same(const ThermalFrame& read, const ThermalFrame& written, double within_celsius) {
    REQUIRE(read.same_size(written));
    REQUIRE(read.t_s);
    CHECK(*read.t_s == Approx(*written.t_s));
    CHECK(read.powered == written.powered);
    for (std::size_t i = 0; i < read.celsius.size(); ++i)
        CHECK(std::abs(read.celsius[i] - written.celsius[i]) <= within_celsius);
}

}  // namespace

TEST_CASE("frames come back from every kind of file as they went", "[thermal]") {
    const std::vector<ThermalFrame> frames{some_frame(1), some_frame(2), some_frame(3)};
    const double half_a_count = 0.5 * fine.celsius_per_count + 1e-5;
    std::string pgms;
    for (const ThermalFrame& frame : frames) {
        pgms += write_pgm(frame, fine);
        const auto png = read_frames(write_png(frame, fine), "frame.png");
        REQUIRE(png.ok());
        REQUIRE(png->frames.size() == 1);
        CHECK(png->remarks.empty());
        same(png->frames[0], frame, half_a_count);
    }
    const auto csv = read_frames(write_frame_csv(frames), "frames.csv");
    const auto pgm = read_frames(pgms, "frames.pgm");
    REQUIRE(csv.ok());
    REQUIRE(pgm.ok());
    REQUIRE(csv->frames.size() == 3);
    REQUIRE(pgm->frames.size() == 3);
    for (std::size_t i = 0; i < 3; ++i) {
        same(csv->frames[i], frames[i], 0.0006);
        same(pgm->frames[i], frames[i], half_a_count);
    }
    CHECK(csv->remarks.empty());
    CHECK(pgm->remarks.empty());
}

TEST_CASE("a PGM stream is the same in whatever pieces it arrives", "[thermal]") {
    const std::string bytes = write_pgm(some_frame(1), fine) + write_pgm(some_frame(2), fine);
    for (const std::size_t piece : {1UL, 2UL, 13UL, 64UL, bytes.size()}) {
        PgmStream stream;
        for (std::size_t at = 0; at < bytes.size(); at += piece)
            REQUIRE(stream.feed(bytes.data() + at, std::min(piece, bytes.size() - at)).ok());
        REQUIRE(stream.frames().size() == 2);
        CHECK_FALSE(stream.in_the_middle());
        same(stream.frames()[1], some_frame(2), 0.002);
    }
}

TEST_CASE("a plain matrix, and hundredths of a kelvin where a picture does not say", "[thermal]") {
    const auto csv = read_frames("21.5;22\n23;24.25\n", "camera.csv");
    REQUIRE(csv.ok());
    CHECK(csv->frames[0].at(1, 1) == 24.25F);
    CHECK_FALSE(csv->frames[0].t_s);
    // 29,815 hundredths of a kelvin are 25 degrees: 0x7477.
    const auto pgm = read_frames("P5 1 1 65535\n\x74\x77", "camera.pgm");
    REQUIRE(pgm.ok());
    CHECK(pgm->frames[0].at(0, 0) == Approx(25.0).margin(1e-3));
    REQUIRE(pgm->remarks.size() == 1);
    CHECK(pgm->remarks[0].find("hundredths") != std::string::npos);
}

TEST_CASE("what is wrong is named with its line and the rest is kept", "[thermal]") {
    const std::string good = "# t_s 1\n20,21\n22,23\n\n";
    const auto other_size = read_frames(good + "1,2,3\n4,5,6\n\n" + good, "a.csv");
    REQUIRE(other_size.ok());
    CHECK(other_size->frames.size() == 2);
    REQUIRE(other_size->remarks.size() == 1);
    CHECK(other_size->remarks[0].find("a.csv, line 5") == 0);
    const auto ragged = read_frames(good + "1,2\n3\n\n" + good, "b.csv");
    REQUIRE(ragged.ok());
    CHECK(ragged->frames.size() == 2);
    CHECK(ragged->remarks.at(0).find("b.csv, line 6") == 0);
    const auto word = read_frames(good + "1,2\n3,hot\n\n" + good, "c.csv");
    REQUIRE(word.ok());
    CHECK(word->frames.size() == 2);
    CHECK(word->remarks.at(0).find("c.csv, line 6") == 0);
    const auto unlike =
        read_frames(write_pgm(some_frame(1), fine) + write_pgm(some_frame(2, 3, 3), fine), "d.pgm");
    REQUIRE(unlike.ok());
    CHECK(unlike->frames.size() == 1);
    CHECK(unlike->remarks.at(0).find("frame 2") != std::string::npos);
}

TEST_CASE("pictures that are no thermal frame are refused in words", "[thermal]") {
    CHECK_FALSE(read_frames("", "empty").ok());
    CHECK_FALSE(read_frames("hello\n", "words.csv").ok());
    CHECK_FALSE(read_frames("P5\n2 2\n255\nabcd", "eight-bit.pgm").ok());
    CHECK_FALSE(read_frames("P5\n0 2\n65535\n", "none.pgm").ok());
    CHECK_FALSE(read_frames("P5\n99999 99999\n65535\n", "huge.pgm").ok());
    CHECK_FALSE(read_frames("P5\nx 2\n65535\n" + std::string(5000, 'x'), "odd.pgm").ok());
    const std::string png = write_png(some_frame(1), fine);
    const auto cut = read_frames(png.substr(0, png.size() / 2), "cut.png");
    REQUIRE_FALSE(cut.ok());
    CHECK(cut.error().text().find("cut.png") == 0);
    std::string damaged = png;
    char& in_the_pixels = damaged[png.size() - 24];  // before the last chunk of 12 bytes and a checksum
    in_the_pixels = static_cast<char>(in_the_pixels ^ 0x55);
    CHECK_FALSE(read_frames(damaged, "damaged.png").ok());
    // A cut sequence keeps what was whole.
    const std::string two = write_pgm(some_frame(1), fine) + write_pgm(some_frame(2), fine);
    const auto begun = read_frames(two.substr(0, two.size() - 3), "cut.pgm");
    REQUIRE(begun.ok());
    CHECK(begun->frames.size() == 1);
    CHECK(begun->remarks.size() == 1);
}

TEST_CASE("a recording of half a million pictures is read in time that grows as it does", "[thermal][long]") {
    // Read with all that is left moved up at each picture, this would take the night.
    constexpr int count = 500'000;
    std::string bytes;
    for (int i = 0; i < count; ++i)
        bytes += "P5 1 1 65535\n\x73\x20";
    const auto read = read_frames(bytes, "tiny.pgm");
    REQUIRE(read);
    CHECK(read->frames.size() == count);
    CHECK(read->frames.back().celsius.front() == Approx(0.01 * 0x7320 - 273.15));
}

TEST_CASE("frames are kept by their bytes: the latest, and that others went is said", "[thermal]") {
    std::string bytes;
    for (int i = 0; i < 50; ++i)
        bytes += write_pgm(some_frame(i), fine);
    FrameReading how;
    how.most_bytes = 10 * bytes_of(some_frame(0));
    for (const char* name : {"frames.pgm", "frames.csv"}) {
        std::vector<ThermalFrame> all = read_frames(bytes, "all.pgm")->frames;
        const bool csv = std::string(name) == "frames.csv";
        const auto read = read_frames(csv ? write_frame_csv(all) : bytes, name, how);
        REQUIRE(read);
        REQUIRE(read->frames.size() == 10);
        CHECK(read->frames.back().t_s == all.back().t_s);
        REQUIRE(read->remarks.size() == 1);
        CHECK(read->remarks.front().find("40 before them") != std::string::npos);
        CHECK(keep_latest(all, how.most_bytes) == 40);
        CHECK(keep_latest(all, 1) == 9);
    }
    how.progress = [](std::uint64_t) { return false; };
    CHECK(read_frames(bytes, "stopped.pgm", how).error().kind == ErrorKind::unavailable);
}

TEST_CASE("notes beyond any camera do not make pixels that are no number", "[thermal]") {
    const std::string head =
        "P5\n# celsius_per_count 1e300\n# celsius_at_zero -1e308\n# t_s 1e300\n1 1\n65535\n";
    const auto read = read_frames(head + "\x73\x20", "odd.pgm");
    REQUIRE(read);
    CHECK(std::isfinite(read->frames.front().celsius.front()));
    CHECK_FALSE(read->frames.front().t_s);
    CHECK_FALSE(read->remarks.empty());
}
