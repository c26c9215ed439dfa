// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/source_clock.h"

#include <algorithm>
#include <vector>

#include "core/base/random.h"

using namespace eh;

namespace {

// A meter at 50 lines a second whose clock runs at `rate` and reads `start` when this computer's reads 0.
std::vector<MeterSample> lines(double from_s, double to_s, double start = 100.0, double rate = 1.0) {
    std::vector<MeterSample> samples;
    for (int i = 0; from_s + 0.02 * i < to_s; ++i)
        samples.push_back({start + rate * (from_s + 0.02 * i), 5.0, 0.1});
    return samples;
}

// Reads the lines as a program does: at its own moments, each time all that has come by then. A line comes
// when it is due; `until_next(now)` is how long the program is away after a read.
template <typename Away>
std::vector<MeterSample> placed(SourceClock& clock, const std::vector<MeterSample>& sent, double start,
                                Away until_next) {
    std::vector<MeterSample> out;
    double now_s = 0.0;
    for (std::size_t first = 0; first < sent.size(); now_s += until_next(now_s)) {
        std::size_t last = first;
        while (last < sent.size() && sent[last].t_s - start <= now_s)
            ++last;
        std::vector<MeterSample> burst(sent.begin() + static_cast<std::ptrdiff_t>(first),
                                       sent.begin() + static_cast<std::ptrdiff_t>(last));
        first = last;
        clock.place(burst, now_s);
        for (const MeterSample& sample : burst) {
            CHECK(sample.t_s <= now_s + 1e-4);
            CHECK((out.empty() || sample.t_s > out.back().t_s));
            out.push_back(sample);
        }
    }
    return out;
}

}  // namespace

TEST_CASE("lines that come when they are due keep the meter's spacing", "[trace]") {
    SourceClock clock;
    const auto out = placed(clock, lines(0.0, 20.0), 100.0, [](double) { return 0.001; });
    REQUIRE(out.size() == 1000);
    for (std::size_t i = 1; i < out.size(); ++i)
        CHECK(out[i].t_s - out[i - 1].t_s == Approx(0.02).margin(0.0011));
    CHECK(out.front().t_s == Approx(0.0).margin(0.0011));
}

TEST_CASE("a busy computer puts no gap into the stream", "[trace]") {
    // Lines that were due between 5 s and 6.2 s are all read at 6.2 s: what the meter saw has not changed.
    SourceClock clock;
    const auto out = placed(clock, lines(0.0, 12.0), 100.0,
                            [](double now) { return now > 5.0 && now < 5.005 ? 1.2 : 0.005; });
    REQUIRE(out.size() == 600);
    for (std::size_t i = 1; i < out.size(); ++i)
        CHECK(out[i].t_s - out[i - 1].t_s < 0.026);
}

TEST_CASE("random delays never make time go back nor move a line into the future", "[trace]") {
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
        Random random(seed);
        SourceClock clock;
        const auto out = placed(clock, lines(0.0, 30.0), 100.0, [&](double) {
            return random.uniform() < 0.02 ? random.uniform() : 0.004 * random.uniform();
        });
        REQUIRE(out.size() == 1500);
        // Once a punctual line has been seen, a line is where the meter put it.
        for (std::size_t i = 200; i < out.size() - 50; ++i)  // the stream ends in the middle of an absence
            CHECK(out[i].t_s == Approx(0.02 * static_cast<double>(i)).margin(0.005));
    }
}

TEST_CASE("a meter whose crystal is slow or fast by 100 ppm is followed for an hour", "[trace]") {
    for (const double rate : {0.9999, 1.0001}) {
        SourceClock clock;
        double worst_s = 0.0;
        for (int i = 0; i < 180'000; ++i) {
            const double now_s = 0.02 * i;
            std::vector<MeterSample> one{{100.0 + rate * now_s, 5.0, 0.1}};
            clock.place(one, now_s);
            worst_s = std::max(worst_s, std::abs(one[0].t_s - now_s));
        }
        // Two windows of 10 s and a line, at 100 ppm.
        CHECK(worst_s <= 2 * 10.02 * 1e-4 + 1e-6);
    }
}

TEST_CASE("a meter that starts its clock again, or slept while dark, is tied anew", "[trace]") {
    SourceClock clock;
    auto before = lines(0.0, 4.0);
    for (std::size_t i = 0; i < before.size(); ++i)
        clock.place(std::span(before).subspan(i, 1), 0.02 * static_cast<double>(i));
    SECTION("started again at 0") {
        std::vector<MeterSample> after{{0.0, 5.0, 0.1}, {0.02, 5.0, 0.1}};
        clock.place(after, 9.02);
        CHECK(after[0].t_s == Approx(9.0).margin(1e-3));
        CHECK(after[1].t_s == Approx(9.02).margin(1e-3));
    }
    SECTION("stood still for five seconds") {
        std::vector<MeterSample> after{{104.02, 5.0, 0.1}};
        clock.place(after, 9.0);
        CHECK(after[0].t_s == Approx(9.0).margin(1e-3));
    }
    SECTION("restart in the middle of a burst") {
        std::vector<MeterSample> burst{{104.0, 5.0, 0.1}, {0.0, 5.0, 0.1}, {0.02, 5.0, 0.1}};
        clock.place(burst, 4.04);
        CHECK(std::is_sorted(burst.begin(), burst.end(),
                             [](const MeterSample& a, const MeterSample& b) { return a.t_s < b.t_s; }));
        CHECK(burst[2].t_s == Approx(4.04).margin(1e-3));
    }
}

TEST_CASE("nothing is placed before the connection it came by", "[trace]") {
    SourceClock clock;
    std::vector<MeterSample> first{{1.0, 5.0, 0.1}, {1.1, 5.0, 0.1}};
    clock.place(first, 100.0);
    // A gap is marked at 101 s; the meter had kept half a second of samples.
    clock.reset(101.0);
    std::vector<MeterSample> kept;
    for (int i = 0; i < 50; ++i)
        kept.push_back({2.0 + 0.01 * i, 5.0, 0.1});
    clock.place(kept, 101.2);
    double before_s = 101.0;
    for (const MeterSample& sample : kept) {
        CHECK(sample.t_s > before_s);
        before_s = sample.t_s;
    }
    CHECK(before_s == Approx(101.2).margin(0.01));
}
