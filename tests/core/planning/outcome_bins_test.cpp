// SPDX-License-Identifier: GPL-3.0-or-later
// Outcomes as shares of a whole, against the normal distribution.
#include "core/planning/outcome_bins.h"

#include <boost/math/distributions/normal.hpp>
#include <catch2/catch.hpp>
#include <numeric>

#include "core/base/random.h"
#include "core/prediction/expectation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

double weight_of(const OutcomeShares& shares) {
    return std::accumulate(shares.begin(), shares.end(), 0.0);
}

OutcomeShares none_of(ReadingKind kind) {
    return OutcomeShares(outcome_count(kind, shared_table(chained).plan()), 0.0);
}

std::size_t likeliest(const OutcomeShares& shares) {
    return static_cast<std::size_t>(std::max_element(shares.begin(), shares.end()) - shares.begin());
}

}  // namespace

TEST_CASE("whatever is expected, its outcomes take just its weight", "[next][outcomes]") {
    Random random(9);
    const OutcomeEdges edges = outcome_edges({}, shared_table(chained).plan());
    for (int round = 0; round < 300; ++round) {
        const double weight = random.uniform();
        const Foreseen volts{25.0 * random.uniform(), 0.01 + 3.0 * random.uniform()};
        const Foreseen amps{ln_amps(4.0 * random.uniform(), {}), 0.05 + random.uniform()};
        const Foreseen ohms{ln_ohms(std::pow(10.0, 8.0 * random.uniform() - 1.0), {}),
                            0.05 + 2.0 * random.uniform()};
        OutcomeShares shares = none_of(ReadingKind::net_volts);
        add_volts_outcomes(volts, weight, shares);
        CHECK(weight_of(shares) == Approx(weight).epsilon(0.01));
        shares = none_of(ReadingKind::net_ohms);
        add_ohms_outcomes(ohms, weight, edges, shares);
        CHECK(weight_of(shares) == Approx(weight).epsilon(0.01));
        shares = none_of(ReadingKind::pack);
        add_pack_outcomes(volts, weight, edges, shares);
        CHECK(weight_of(shares) == Approx(weight).epsilon(0.01));
        for (const auto pattern :
             {MeterPattern::dark, MeterPattern::steady, MeterPattern::cycling, MeterPattern::flash}) {
            shares = none_of(ReadingKind::meter);
            add_meter_outcomes(pattern, volts, amps, weight, edges, shares);
            CHECK(weight_of(shares) == Approx(weight).epsilon(0.02));
            for (const double share : shares)
                CHECK(share >= 0.0);
        }
    }
}

TEST_CASE("volts fall into the outcomes as a normal spread does", "[next][outcomes]") {
    const auto& edges = Traits<NetVoltsReading>::edges;
    for (const double mean : {0.1, 3.3, 5.0, 12.6, 19.8}) {
        for (const double width : {0.05, 0.4, 2.0}) {
            OutcomeShares shares = none_of(ReadingKind::net_volts);
            add_volts_outcomes({mean, width}, 1.0, shares);
            const boost::math::normal spread(mean, width);
            double below = 0.0;
            for (std::size_t e = 0; e < edges.size(); ++e) {
                below += shares[e];
                CAPTURE(mean, width, edges[e]);
                // What lies beyond three widths is not told apart.
                const double margin = std::abs(edges[e] - mean) < 3.0 * width ? 1e-6 : 0.002;
                CHECK(below == Approx(boost::math::cdf(spread, edges[e])).epsilon(0.0).margin(margin));
            }
        }
    }
}

TEST_CASE("what is expected sharply is named by the words that hold it", "[next][outcomes]") {
    const MachinePlan& plan = shared_table(chained).plan();
    const OutcomeEdges edges = outcome_edges({}, shared_table(chained).plan());
    OutcomeShares shares = none_of(ReadingKind::meter);
    add_meter_outcomes(MeterPattern::steady, {20.0, 0.01}, {ln_amps(1.2, {}), 0.01}, 1.0, edges, shares);
    CHECK(outcome_text(ReadingKind::meter, static_cast<int>(likeliest(shares)), plan) ==
          "18.5 V or more, 0.9 to 1.6 A");
    shares = none_of(ReadingKind::meter);
    add_meter_outcomes(MeterPattern::cycling, {5.0, 0.01}, {ln_amps(0.01, {}), 0.01}, 1.0, edges, shares);
    CHECK(outcome_text(ReadingKind::meter, static_cast<int>(likeliest(shares)), plan) ==
          "about 5 V, almost no current, coming and going");
    shares = none_of(ReadingKind::meter);
    add_meter_outcomes(MeterPattern::flash, {5.0, 0.01}, {ln_amps(0.01, {}), 0.01}, 1.0, edges, shares);
    CHECK(outcome_text(ReadingKind::meter, static_cast<int>(likeliest(shares)), plan) ==
          "lit for a moment, then dark");
    shares = none_of(ReadingKind::net_ohms);
    add_ohms_outcomes({ln_ohms(3.3, {}), 0.01}, 1.0, edges, shares);
    const std::string ohms = outcome_text(ReadingKind::net_ohms, static_cast<int>(likeliest(shares)), plan);
    CHECK_THAT(ohms, Catch::Contains("2.0 Ω") && Catch::Contains("5.0 Ω"));
    shares = none_of(ReadingKind::net_ohms);
    add_ohms_outcomes({ln_ohms(1e9, {}), 0.01}, 1.0, edges, shares);
    CHECK(outcome_text(ReadingKind::net_ohms, static_cast<int>(likeliest(shares)), plan) == "OL");
}

TEST_CASE("words of a view take its weight, the hottest parts but for what is hardly ever named",
          "[next][outcomes]") {
    PoweredView view;
    view.valid = true;
    view.firmware = FirmwareMessage::not_charging;
    view.talk = NegotiationEnd::unanswered;
    view.drop_probability = 0.3;
    const std::size_t blocks = shared_table(chained).plan().blocks.size();
    std::vector<float> rises(blocks, 1.0F);
    rises[2] = 60.0F;
    view.rise_kelvin = rises;
    OutcomeShares shares = none_of(ReadingKind::firmware);
    add_word_outcomes(ReadingKind::firmware, view, 0.5, {}, shares);
    CHECK(shares[static_cast<std::size_t>(FirmwareMessage::not_charging)] == Approx(0.5));
    CHECK(weight_of(shares) == Approx(0.5));
    shares = none_of(ReadingKind::talk);
    add_word_outcomes(ReadingKind::talk, view, 0.5, {}, shares);
    CHECK(shares[static_cast<std::size_t>(NegotiationEnd::unanswered)] == Approx(0.5));
    shares = none_of(ReadingKind::wiggle);
    add_word_outcomes(ReadingKind::wiggle, view, 1.0, {}, shares);
    CHECK(shares == OutcomeShares{0.7, 0.3});
    shares = none_of(ReadingKind::hot_part);
    add_word_outcomes(ReadingKind::hot_part, view, 1.0, {}, shares);
    CHECK(likeliest(shares) == 3);  // after "nothing warm" and two parts
    CHECK(weight_of(shares) > 0.6);
    CHECK(weight_of(shares) <= 1.0 + 1e-9);
}
