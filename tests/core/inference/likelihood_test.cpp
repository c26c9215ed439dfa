// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/likelihood.h"

#include <cmath>
#include <limits>

#include "core/base/random.h"
#include "core/inference/ranking.h"
#include "core/prediction/expectation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

PoweredView view_with(MeterPattern pattern, double volts, double amps, double rail_volts = 0.0) {
    PoweredView view;
    view.valid = true;
    view.meter.pattern = pattern;
    view.meter.volts = volts;
    view.meter.amps = amps;
    view.net_volts = {static_cast<float>(rail_volts), 1.0F};
    view.net_ohms = {0.1F, 0.1F};
    view.rise_kelvin = {40.0, 2.0};
    return view;
}

double log_mean(const std::vector<double>& logs) {
    double mean = 0.0;
    for (const double log : logs)
        mean += std::exp(log) / static_cast<double>(logs.size());
    return std::log(mean);
}

// What samples together say: their mean.
template <typename... Arguments>
double log_likelihood(const Reading& reading, const Arguments&... arguments) {
    return log_mean(log_likelihoods(reading, arguments...));
}

Reading volts_reading(double volts) {
    Reading reading;
    reading.value = NetVoltsReading{"x", volts};
    return reading;
}

}  // namespace

TEST_CASE("the density of a rail reading integrates to one over what a bench shows", "[likelihood]") {
    const std::vector<PoweredView> samples{view_with(MeterPattern::steady, 20, 1.5, 3.3),
                                           view_with(MeterPattern::steady, 20, 1.5, 3.25),
                                           view_with(MeterPattern::steady, 20, 1.5, 0.1)};
    double area = 0.0;
    constexpr double width = 0.002;
    for (double v = -11.0; v < 11.0; v += width)
        area += std::exp(log_likelihood(volts_reading(v), samples, 0, -1)) * width;
    CHECK(area == Approx(1.0).epsilon(0.01));
}

TEST_CASE("open and measured ohms together have probability one", "[likelihood]") {
    const AccuracyOptions options;
    for (const std::vector<double>& samples : std::vector<std::vector<double>>{
             {3.3, 2.0, 8.0}, {1e5, 3e5, 1e6}, {std::numeric_limits<double>::infinity()}}) {
        double total = std::exp(log_likelihood(open_reading("a", for_ohms(), "x"), samples));
        constexpr double step = 0.01;
        // Density over ln(ohms + lead), from milliohms to where a number is as good as OL.
        for (double u = std::log(options.lead_ohms) - 12.0; u < std::log(options.over_limit_ohms);
             u += step) {
            const double ohms = std::exp(u) - options.lead_ohms;
            if (ohms >= 0.0)
                total += std::exp(log_likelihood(ohms_reading("a", for_ohms(), "x", ohms), samples)) * step;
        }
        CAPTURE(samples.front());
        CHECK(total == Approx(1.0).epsilon(0.03));
    }
}

TEST_CASE("a reading near the prediction fits better than one far from it", "[likelihood]") {
    const std::vector<PoweredView> samples{view_with(MeterPattern::steady, 20.0, 1.5, 3.3)};
    double last = 1e9;
    for (const double away : {0.0, 0.1, 0.3, 1.0, 3.0}) {
        const double fit = log_likelihood(volts_reading(3.3 + away), samples, 0, -1);
        CHECK(fit < last);
        last = fit;
    }
    last = 1e9;
    for (const double factor : {1.0, 1.5, 3.0, 30.0}) {
        const double fit =
            log_likelihood(ohms_reading("a", for_ohms(), "x", 3.3 * factor), std::vector<double>{3.3});
        CHECK(fit < last);
        last = fit;
    }
}

TEST_CASE("no reading rules anything out for ever: the odd share bounds the loss", "[likelihood]") {
    const AccuracyOptions options;
    const std::vector<PoweredView> samples{view_with(MeterPattern::steady, 20.0, 1.5, 3.3)};
    for (const Reading& reading :
         {volts_reading(-900.0), meter_reading("a", plugged("p1"), MeterPattern::dark),
          meter_reading("b", plugged("p1"), MeterPattern::cycling, 1.0, 90.0)}) {
        const double fit = log_likelihood(reading, samples, 0, -1);
        CHECK(std::isfinite(fit));
        CHECK(fit >= log_broad(reading) + std::log(options.odd_reading) - 1e-9);
    }
}

TEST_CASE("a missed flash looks dark, a steady meter does not", "[likelihood]") {
    const std::vector<PoweredView> flash{view_with(MeterPattern::flash, 4.0, 3.0)};
    const std::vector<PoweredView> steady{view_with(MeterPattern::steady, 20.0, 1.5)};
    const Reading dark = meter_reading("a", plugged("p1"), MeterPattern::dark);
    CHECK(log_likelihood(dark, flash, -1, -1) > log_likelihood(dark, steady, -1, -1) + 1.5);
}

TEST_CASE("0.13 A against 0.45 A is a difference that counts, 0.13 against 0.14 is not", "[likelihood]") {
    // Common practice: small differences matter and are repeatable.
    const std::vector<PoweredView> low{view_with(MeterPattern::steady, 5.0, 0.13)};
    const double same =
        log_likelihood(meter_reading("a", plugged("p1"), MeterPattern::steady, 5.0, 0.14), low, -1, -1);
    const double exact =
        log_likelihood(meter_reading("a", plugged("p1"), MeterPattern::steady, 5.0, 0.13), low, -1, -1);
    const double other =
        log_likelihood(meter_reading("a", plugged("p1"), MeterPattern::steady, 5.0, 0.45), low, -1, -1);
    CHECK(exact - same < 0.3);
    CHECK(exact - other > 2.0);
}

TEST_CASE("samples that could not be solved say nothing", "[likelihood]") {
    PoweredView failed = view_with(MeterPattern::steady, 20.0, 1.5, 3.3);
    failed.valid = false;
    const Reading reading = volts_reading(3.3);
    const PoweredView good = view_with(MeterPattern::steady, 20.0, 1.5, 3.3);
    const auto views = log_likelihoods(reading, std::vector<PoweredView>{failed, good}, 0, -1);
    CHECK(views[0] == Approx(log_broad(reading)));
    CHECK(views[1] == Approx(log_likelihood(reading, std::vector<PoweredView>{good}, 0, -1)));
    const double nan = std::numeric_limits<double>::quiet_NaN();
    const Reading ohms = ohms_reading("a", for_ohms(), "x", 3.3);
    const auto logs = log_likelihoods(ohms, std::vector<double>{nan, 3.3});
    CHECK(logs[0] == Approx(log_broad(ohms)));
    CHECK(logs[1] == Approx(log_likelihood(ohms, std::vector<double>{3.3})));
}

TEST_CASE("the hottest part speaks for itself, a cool one against it", "[likelihood]") {
    const std::vector<PoweredView> samples{view_with(MeterPattern::steady, 20.0, 1.5)};
    Reading hot;
    hot.value = HotPartReading{"x", 38.0, 1.0};
    CHECK(log_likelihood(hot, samples, -1, 0) > log_likelihood(hot, samples, -1, 1) + 2.0);
    // Nothing warm where 40 K were expected speaks against it as well.
    Reading cool;
    cool.value = HotPartReading{};
    CHECK(log_likelihood(cool, samples, -1, -1) < log_broad(cool) - 1.0);
}

TEST_CASE("a part that was found with less certainty says less, without its rise no more than its name",
          "[likelihood]") {
    const std::vector<PoweredView> samples{view_with(MeterPattern::steady, 20.0, 1.5)};
    // How much more the reading speaks for the part that the sample makes warm than for the other one.
    const auto says = [&](double certainty, bool rise_known) {
        Reading hot;
        hot.value = HotPartReading{"x", rise_known ? std::optional(38.0) : std::nullopt, certainty};
        return log_likelihood(hot, samples, -1, 0) - log_likelihood(hot, samples, -1, 1);
    };
    CHECK(says(1.0, false) < says(1.0, true));
    double before = says(1.0, false);
    for (const double certainty : {0.9, 0.7, 0.4, 0.1}) {
        CHECK(says(certainty, false) < before);
        before = says(certainty, false);
    }
    CHECK(says(0.001, false) == Approx(0.0).margin(0.02));
    CHECK(says(0.4, false) > 0.3);
}

TEST_CASE("nets of one stage share what a machine is off by, lines off the charge path do not",
          "[likelihood]") {
    const auto channel = [](const std::string& net) {
        return reading_terms(ohms_reading("a", for_ohms(), net, 100.0), topology(chained)).channels[0];
    };
    CHECK(channel("pdin") == channel("pd3v3"));
    CHECK(channel("vbus1") != channel("vbus2"));
    CHECK(channel("cc1_p1") != channel("cc2_p1"));
    CHECK(channel("vcc1") != channel("cc1_p1"));
    CHECK(channel("peer") != channel("main"));
}

TEST_CASE("a reading that two suspects expect alike leaves the odds between them", "[likelihood]") {
    PredictionTable& table = shared_table(chained);
    const auto log_odds = [&](const std::vector<Reading>& readings) {
        const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
        double pin = 0.0;
        double capacitor = 0.0;
        for (const Suspicion& one : ranking.suspicions) {
            const Hypothesis& hypothesis = table.hypotheses()[one.hypothesis];
            if (hypothesis.faults == std::vector<FaultInstance>{{"controller_supply_short", "pc2"}})
                pin = one.probability;
            if (hypothesis.faults == std::vector<FaultInstance>{{"capacitor_shorted", "cc2cap"}})
                capacitor = one.probability;
        }
        return std::log(pin / capacitor);
    };
    // Ohms between two of the samples, so that the suspects differ in how far they are off there.
    std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::steady, 5.0, 0.26),
                                  ohms_reading("b", for_ohms(), "vcc2", 1.4)};
    const double before = log_odds(readings);
    REQUIRE(std::isfinite(before));
    readings.push_back(ohms_reading("c", for_ohms(), "cc1_p1", 4560.0));
    CHECK(log_odds(readings) == Approx(before).margin(0.3));
    readings.push_back(ohms_reading("d", for_ohms(), "cc1_p2", 6230.0));
    CHECK(log_odds(readings) == Approx(before).margin(0.3));
}

TEST_CASE("random samples and readings never give a NaN", "[likelihood]") {
    Random random(77);
    for (int i = 0; i < 2000; ++i) {
        std::vector<PoweredView> samples;
        std::vector<double> ohms;
        for (int s = random.below(5); s >= 0; --s) {
            samples.push_back(view_with(static_cast<MeterPattern>(random.below(4)),
                                        random.uniform() * 50.0 - 5.0, random.uniform() * 10.0 - 1.0,
                                        random.uniform() * 30.0));
            ohms.push_back(std::pow(10.0, random.uniform() * 16.0 - 5.0));
        }
        Reading reading = meter_reading("a", plugged("p1"), static_cast<MeterPattern>(random.below(4)),
                                        random.uniform() * 50.0, random.uniform() * 10.0);
        CHECK(std::isfinite(log_likelihood(reading, samples, 0, 0)));
        reading.value = blank_value(static_cast<ReadingKind>(random.below(reading_kind_count)), "x");
        CHECK(std::isfinite(log_likelihood(reading, samples, 0, 0)));
        reading.value = NetVoltsReading{"x", random.uniform() * 100.0};
        CHECK(std::isfinite(log_likelihood(reading, samples, 0, 0)));
        CHECK(
            std::isfinite(log_likelihood(ohms_reading("a", for_ohms(), "x", random.uniform() * 1e6), ohms)));
    }
}

TEST_CASE("samples that stand for no machine close no gap between those that do", "[likelihood]") {
    const std::vector<double> ohms{1.0, 2.0, 4.0, 8.0, 16.0};
    const auto widths = [&](SampleMask counted) {
        std::vector<double> list;
        for (const Expected& one : expected_ohms(ohms, {}, counted))
            list.push_back(one.common_width);
        return list;
    };
    const auto all = widths(all_samples);
    CHECK(all == widths(counted_samples({0.1, 0.2, 0.3, 0.2, 0.2})));
    // Every other one does not count: the others stand twice as far from their neighbours.
    const SampleMask every_other = counted_samples({0.4, 0.0, 0.3, 0.0, 0.3});
    CHECK(every_other == (all_samples & ~SampleMask{0b01010}));
    const auto wider = widths(every_other);
    for (const std::size_t s : {0u, 2u, 4u})
        CHECK(wider[s] > 1.3 * all[s]);
    // More samples than a mask has bits: all count.
    CHECK(counted_samples(std::vector<double>(65, 0.0)) == all_samples);
}

TEST_CASE("the part that gets warm on the supply counts even where its ohms fit nothing", "[likelihood]") {
    // A short that punches through is no resistor: 30 ohm for the ohmmeter, 5 ohm at 3.3 V.
    PoweredView of_first = view_with(MeterPattern::steady, 3.3, 2.0);
    of_first.rise_kelvin = {120.0F, 2.0F};
    PoweredView of_second = of_first;
    of_second.rise_kelvin = {2.0F, 120.0F};
    Reading reading;
    reading.configuration = for_ohms();
    reading.configuration.injection = Injection{"x", 3.3, 3.0};
    InjectionReading came;
    came.supply.volts = 3.3;
    came.hottest = {"first", 130.0, 1.0};
    const auto with = [&](double amps) {
        came.supply.amps = amps;
        reading.value = came;
    };
    const auto advantage = [&](double amps) {
        with(amps);
        return log_likelihood(reading, std::vector{of_first}, 0, 0) -
               log_likelihood(reading, std::vector{of_second}, 0, 0);
    };
    CHECK(advantage(2.0) > std::log(30.0));
    CHECK(advantage(0.3) > std::log(30.0));
    // And the ohms count where they fit.
    with(2.0);
    const double fits = log_likelihood(reading, std::vector{of_first}, 0, 0);
    with(0.3);
    CHECK(fits > log_likelihood(reading, std::vector{of_first}, 0, 0) + std::log(10.0));
}
