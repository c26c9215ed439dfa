// SPDX-License-Identifier: GPL-3.0-or-later
// Quotes: closed forms of one case, order and limits of many, and what a ranking gives.
#include "core/shop/quote.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/random.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("one way has the quantiles of its log-normal", "[shop][quote]") {
    QuoteTerms terms;
    terms.an_hour = 60.0;
    terms.part_factor = 2.0;
    terms.fixed_minutes = 30.0;
    const auto quote = make_quote({{"a jack", 1.0, 40.0, 9.0, true}}, terms);
    REQUIRE(quote.ok());
    CHECK(quote->minutes_median == Approx(70.0).epsilon(1e-4));
    // Normal quantile of 90 %: 1.28155 (tables); spread of the logarithm 0.35.
    CHECK(quote->minutes_90 == Approx(30.0 + 40.0 * std::exp(0.35 * 1.28155)).epsilon(1e-4));
    CHECK(quote->price_median == Approx(70.0 + 18.0).epsilon(1e-4));
    CHECK(quote->price_expected == Approx(30.0 + 18.0 + 40.0 * std::exp(0.5 * 0.35 * 0.35)).epsilon(1e-4));
}

TEST_CASE("bands hold their share of drawn outcomes", "[shop][quote]") {
    const std::vector<QuoteCase> cases{{"small", 0.6, 12.0, 1.0, true},
                                       {"middle", 0.25, 45.0, 10.0, true},
                                       {"large", 0.1, 120.0, 60.0, true},
                                       {"nothing", 0.05, 0.0, 0.0, false}};
    const QuoteTerms terms;
    const auto quote = make_quote(cases, terms);
    REQUIRE(quote.ok());
    Random random(31);
    int below_median = 0;
    int below_90 = 0;
    double sum = 0.0;
    constexpr int rounds = 20000;
    for (int i = 0; i < rounds; ++i) {
        double pick = random.uniform();
        const QuoteCase* drawn = &cases.back();
        for (const QuoteCase& each : cases) {
            if (pick < each.probability) {
                drawn = &each;
                break;
            }
            pick -= each.probability;
        }
        const double minutes = terms.fixed_minutes + drawn->minutes * std::exp(0.35 * random.normal());
        const double price = terms.an_hour / 60.0 * minutes + terms.part_factor * drawn->part_cost;
        below_median += price <= quote->price_median;
        below_90 += price <= quote->price_90;
        sum += price;
    }
    CHECK(below_median / double(rounds) == Approx(0.5).margin(0.012));
    CHECK(below_90 / double(rounds) == Approx(0.9).margin(0.008));
    CHECK(sum / rounds == Approx(quote->price_expected).epsilon(0.02));
    CHECK(quote->not_repairable == Approx(0.05));
}

TEST_CASE("a limit says with what chance it suffices and what it leaves out", "[shop][quote]") {
    const std::vector<QuoteCase> cases{{"small", 0.7, 12.0, 1.0, true}, {"large", 0.3, 200.0, 60.0, true}};
    QuoteTerms terms;
    terms.limit = 120.0;
    const auto quote = make_quote(cases, terms);
    REQUIRE(quote.ok());
    CHECK(*quote->within_limit == Approx(0.7).margin(0.01));
    REQUIRE(quote->left_out.size() == 1);
    CHECK(quote->left_out.front().find("large (30 %)") != std::string::npos);
    terms.limit = 1e6;
    CHECK(*make_quote(cases, terms)->within_limit == Approx(1.0).margin(1e-6));
    terms.limit = 10.0;
    CHECK(make_quote(cases, terms)->advice.find("limit") != std::string::npos);
    // A cheap machine is not worth the work (common practice).
    terms.limit.reset();
    terms.worth = 40.0;
    CHECK(make_quote(cases, terms)->advice.find("worth") != std::string::npos);
    CHECK_FALSE(make_quote({}, terms).ok());
    CHECK_FALSE(make_quote({{"half", 0.5, 1.0, 1.0, true}}, terms).ok());
    terms.an_hour = -1.0;
    CHECK_FALSE(make_quote(cases, terms).ok());
}

TEST_CASE("a ranking becomes cases whose probabilities sum to one", "[shop][quote]") {
    PredictionTable& table = shared_table(chained);
    const Ranking ranking = rank(table, priors_of(table.hypotheses()),
                                 {meter_reading("r1", plugged("p1"), MeterPattern::steady, 19.9, 1.6)});
    const auto cases = quote_cases(ranking, table, plugged("p1"), shipped_costs());
    double sum = 0.0;
    for (const QuoteCase& each : cases) {
        CHECK(each.minutes >= 0.0);
        CHECK_FALSE(each.what.empty());
        sum += each.probability;
    }
    CHECK(sum == Approx(1.0).epsilon(1e-9));
    CHECK(make_quote(cases, {}).ok());
}
