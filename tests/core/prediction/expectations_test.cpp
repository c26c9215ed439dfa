// SPDX-License-Identifier: GPL-3.0-or-later
// What is worked out on demand is what would have been worked out at once, no more often than needed.
#include "core/prediction/expectations.h"

#include <array>
#include <catch2/catch.hpp>
#include <cmath>
#include <thread>

#include "core/base/quantile.h"
#include "core/prediction/sample_spread.h"

using namespace eh;

namespace {

using OfNumbers = Expectations<std::vector<double>>;
using Numbers = std::vector<double>;

OfNumbers::Things things_of(const std::vector<Numbers>& lists) {
    OfNumbers::Things things;
    for (const Numbers& list : lists)
        things.push_back(std::make_shared<const Numbers>(list));
    return things;
}

// Says the value itself, wider by the number of samples that count, and notes what it was asked.
struct CountingWork {
    std::shared_ptr<std::vector<const Numbers*>> asked = std::make_shared<std::vector<const Numbers*>>();
    std::vector<Expected> operator()(const Numbers& numbers, SampleMask counted) const {
        asked->push_back(&numbers);
        std::vector<Expected> list;
        for (const double number : numbers)
            list.push_back({number, static_cast<double>(counted & 0xFFU), 1.0});
        return list;
    }
};

}  // namespace

TEST_CASE("only what is asked about is worked out, and once", "[expectation]") {
    const auto things = things_of({{1.0, 2.0}, {3.0, 4.0}, {5.0, 6.0}});
    const CountingWork work;
    const OfNumbers expectations(things, {all_samples, 1, 2}, work, nullptr);
    CHECK(work.asked->empty());
    CHECK(expectations[1][1].value == 4.0);
    CHECK(expectations[1][0].common_width == 1.0);
    CHECK(*work.asked == std::vector<const Numbers*>{things[1].get()});
    const auto* first = &expectations[2];
    CHECK(&expectations[2] == first);
    CHECK(work.asked->size() == 2);
}

TEST_CASE("hypotheses that show the same share what they make one expect, unless other samples count",
          "[expectation]") {
    auto things = things_of({{1.0, 2.0}, {3.0, 4.0}});
    things.push_back(things[0]);
    things.push_back(things[0]);
    const CountingWork work;
    const OfNumbers expectations(things, {all_samples, all_samples, all_samples, 1}, work, nullptr);
    CHECK(&expectations[0] == &expectations[2]);
    CHECK(&expectations[0] != &expectations[3]);
    CHECK(expectations[3][0].common_width == 1.0);
    CHECK(work.asked->size() == 2);
}

TEST_CASE("a wider list takes over what the narrower one knows", "[expectation]") {
    const auto few = things_of({{1.0}, {2.0}});
    auto many = few;
    many.push_back(std::make_shared<const Numbers>(Numbers{3.0}));
    many.push_back(few[1]);
    const CountingWork work;
    const std::vector<SampleMask> masks(4, all_samples);
    const auto narrower =
        std::make_shared<const OfNumbers>(few, std::vector<SampleMask>(2, all_samples), work, nullptr);
    const OfNumbers wider(many, masks, work, narrower);
    CHECK(&wider[0] == &(*narrower)[0]);
    // What the narrower list has worked out is not worked out again, wherever it stands.
    const auto* second = &wider[1];
    CHECK(&wider[3] == second);
    CHECK(wider[2][0].value == 3.0);
    // The first and the second by the narrower list, the third here.
    CHECK(work.asked->size() == 3);
}

TEST_CASE("several threads that ask at once get the same", "[expectation]") {
    constexpr std::size_t count = 200;
    OfNumbers::Things things;
    for (std::size_t i = 0; i < count; ++i)
        things.push_back(std::make_shared<const Numbers>(Numbers{static_cast<double>(i)}));
    const OfNumbers expectations(
        things, std::vector<SampleMask>(count, all_samples),
        [](const Numbers& numbers, SampleMask) {
            return std::vector<Expected>{{numbers[0], 0.0, 1.0}};
        },
        nullptr);
    std::array<std::vector<const std::vector<Expected>*>, 2> seen;
    std::vector<std::thread> threads;
    threads.reserve(seen.size());
    for (auto& own : seen)
        threads.emplace_back([&] {
            for (std::size_t i = 0; i < count; ++i)
                own.push_back(&expectations[i]);
        });
    for (std::thread& thread : threads)
        thread.join();
    CHECK(seen[0] == seen[1]);
    for (std::size_t i = 0; i < count; ++i)
        CHECK((*seen[0][i])[0].value == static_cast<double>(i));
}

TEST_CASE("bumps of many samples are hardly narrower than those of few, and leave clusters apart",
          "[prediction]") {
    // Silverman 1986, section 4.3: widths go with the number of samples to the power -1 / (4 + d); for six
    // things that differ sixteen times the samples have 16 ^ -0.1 = 0.76 of the width.
    const AccuracyOptions accuracy;
    const auto over_decades = [](std::size_t count, double first, double decades) {
        Numbers ohms;
        for (std::size_t s = 0; s < count; ++s)
            ohms.push_back(first * std::pow(10.0, decades * evenly(s)));
        return ohms;
    };
    const auto width = [](const Expected& one) { return std::hypot(one.common_width, one.own_width); };
    const auto typical_width = [&](const Numbers& ohms) {
        Numbers widths;
        for (const Expected& one : expected_ohms(ohms, accuracy))
            widths.push_back(width(one));
        return median(std::move(widths));
    };
    // Over so many decades that hardly anything but the gaps between samples counts.
    const double few = typical_width(over_decades(48, 1e3, 80.0));
    const double many = typical_width(over_decades(768, 1e3, 80.0));
    CHECK(few > 1.0);
    CHECK(many / few == Approx(0.76).margin(0.15));
    const double alone = typical_width(Numbers(48, 3e3));
    Numbers clusters = over_decades(384, 3e3, 0.001);
    const Numbers others = over_decades(384, 7e5, 0.001);
    clusters.insert(clusters.end(), others.begin(), others.end());
    CHECK(typical_width(clusters) < 1.5 * alone);
    // Three samples by themselves are a cluster, too.
    Numbers outliers = over_decades(765, 3e3, 0.001);
    outliers.insert(outliers.end(), {7e5, 7.001e5, 7.003e5});
    CHECK(width(expected_ohms(outliers, accuracy).back()) < 1.5 * alone);
}

TEST_CASE("volts that only a leak brings are as uncertain as the leak, others are not", "[prediction]") {
    // Common practice: what is off leaks from kilohms to tens of megohms.
    const AccuracyOptions accuracy;
    const auto width = [&](float volts, float net_ohms) {
        PoweredView view;
        view.valid = true;
        view.net_volts.own() = {volts};
        view.net_ohms.own() = {net_ohms};
        const Expected one = expected_net_volts({view, view}, 0, accuracy).front();
        return std::hypot(one.common_width, one.own_width);
    };
    CHECK(width(0.8F, 3e5F) > 0.75);   // 3 uA through what holds the net down
    CHECK(width(0.8F, 1e3F) < 0.1);    // 0.8 mA: something drives it
    CHECK(width(3.3F, 1e6F) < 0.6);    // a pull-up's volts are no leak's
    CHECK(width(0.001F, 3e5F) < 0.1);  // nothing leaks: what strays anyway
}
