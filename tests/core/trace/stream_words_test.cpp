// SPDX-License-Identifier: GPL-3.0-or-later
// Words of a stream against the samples that went into them, within the steps that the format promises.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <limits>

#include "core/base/random.h"
#include "core/trace/stream_words.h"

using namespace eh;

namespace {

std::vector<StreamWord> written(const std::vector<MeterSample>& samples) {
    StreamEncoder encoder;
    std::vector<StreamWord> words;
    for (const MeterSample& sample : samples)
        encoder.sample(sample, words);
    return words;
}

std::vector<MeterSample> read_back(const std::vector<StreamWord>& words) {
    StreamDecoder decoder;
    std::vector<MeterSample> samples;
    for (const StreamWord word : words) {
        const StreamEvent event = decoder.take(word);
        if (event.kind == StreamEvent::Kind::sample)
            samples.push_back(event.sample);
    }
    return samples;
}

}  // namespace

TEST_CASE("What a meter of five decimals says comes back bit by bit, in one word a sample") {
    Random random(4);
    std::vector<MeterSample> samples;
    std::int64_t t_10us = 170'000'000'000'000;
    for (int i = 0; i < 20'000; ++i) {
        t_10us += 1 + static_cast<std::int64_t>(262'000.0 * random.uniform());
        samples.push_back({static_cast<double>(t_10us) / 1e5,
                           std::round(1e5 * (80.0 * random.uniform() - 18.0)) / 1e5,
                           std::round(1e5 * (41.0 * random.uniform() - 20.5)) / 1e5});
    }
    const auto words = written(samples);
    CHECK(words.size() == samples.size() + 1);  // and the time it begins at
    CHECK(read_back(words) == samples);
}

TEST_CASE("Any sample that fits comes back within the steps of the format, in at most two words") {
    Random random(8);
    std::vector<MeterSample> samples;
    double t_s = -3e5;
    const auto anything = [&] {
        const double size = std::pow(10.0, 40.0 * random.uniform() - 5.0);
        const double value = random.uniform() < 0.5 ? 60.0 * random.uniform() : size * random.normal();
        return std::clamp(value, -3e38, 3e38);
    };
    for (int i = 0; i < 20'000; ++i) {
        t_s += 1.1e-6 + std::pow(10.0, 9.0 * random.uniform() - 6.0);
        samples.push_back({t_s, anything(), anything()});
    }
    REQUIRE(std::all_of(samples.begin(), samples.end(), fits_stream));
    const auto words = written(samples);
    CHECK(words.size() <= 2 * samples.size());
    const auto back = read_back(words);
    REQUIRE(back.size() == samples.size());
    // Half a step, or what a float of 22 significant bits leaves.
    const auto near = [](double kept, double given) {
        return std::abs(kept - given) <= std::max(5.01e-6, 3e-7 * std::abs(given));
    };
    for (std::size_t i = 0; i < samples.size(); ++i) {
        CAPTURE(i, samples[i].t_s, samples[i].volts, samples[i].amps);
        CHECK(back[i].t_s <= samples[i].t_s + 0.51e-6);
        CHECK(back[i].t_s > samples[i].t_s - 10.6e-6);
        CHECK((i == 0 || back[i].t_s > back[i - 1].t_s));
        CHECK(near(back[i].volts, samples[i].volts));
        CHECK(near(back[i].amps, samples[i].amps));
    }
}

TEST_CASE("At the edges of a word's ranges nothing wraps round") {
    const double most_v = (8'388'607.0 - 2'000'000.0) / 1e5;
    const double most_a = 2'097'151.0 / 1e5;
    std::vector<MeterSample> samples;
    double t_s = 1.0;
    for (const double volts : {-20.0, -20.00001, most_v, most_v + 1e-5, 0.0}) {
        for (const double amps : {-20.97152, -20.97153, most_a, most_a + 1e-5, 0.0})
            samples.push_back({t_s += 2.62143, volts, amps});
    }
    samples.push_back({t_s += 2.62144, 5.0, 1.0});  // one step more than a word holds
    const auto back = read_back(written(samples));
    REQUIRE(back.size() == samples.size());
    for (std::size_t i = 0; i < samples.size(); ++i) {
        CAPTURE(i);
        CHECK(back[i].t_s == Approx(samples[i].t_s).margin(1e-9));
        CHECK(back[i].volts == Approx(samples[i].volts).epsilon(3e-7).margin(1e-12));
        CHECK(back[i].amps == Approx(samples[i].amps).epsilon(3e-7).margin(1e-12));
    }
}

TEST_CASE(
    "Gaps leave the clock alone, a clock of its own makes torn words whole, unknown words move nothing") {
    StreamEncoder encoder;
    std::vector<StreamWord> words;
    encoder.sample({100.0, 5.0, 0.1}, words);
    encoder.gap(100.5, words);
    words.push_back(~StreamWord{0});  // the kind that is not used
    encoder.sample({101.0, 20.0, 1.5}, words);
    CHECK(read_back(words) == std::vector<MeterSample>{{100.0, 5.0, 0.1}, {101.0, 20.0, 1.5}});
    StreamDecoder decoder;
    (void)decoder.take(words[0]);
    (void)decoder.take(words[1]);
    const StreamEvent gap = decoder.take(words[2]);
    CHECK(gap.kind == StreamEvent::Kind::gap);
    CHECK(gap.sample.t_s == 100.5);

    std::vector<StreamWord> torn;
    StreamEncoder().clock(decoder.clock(), torn);
    torn.push_back(words.back());
    CHECK(read_back(torn) == std::vector<MeterSample>{{101.0, 20.0, 1.5}});
}

TEST_CASE("What no word can hold does not fit") {
    constexpr double inf = std::numeric_limits<double>::infinity();
    CHECK(fits_stream({-1e12, -3e38, 3e38}));
    CHECK_FALSE(fits_stream({1.1e12, 5.0, 0.1}));
    CHECK_FALSE(fits_stream({std::nan(""), 5.0, 0.1}));
    CHECK_FALSE(fits_stream({1.0, inf, 0.1}));
    CHECK_FALSE(fits_stream({1.0, 5.0, std::nan("")}));
    CHECK_FALSE(fits_stream({1.0, 1e39, 0.1}));
}
