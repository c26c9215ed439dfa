// SPDX-License-Identifier: GPL-3.0-or-later
// What to ask the customer, and what the answers weigh.
#include "core/planning/customer_question.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numeric>

#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Parties parties_after(const std::vector<Reading>& readings) {
    PredictionTable& table = shared_table(barrel);
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    return make_parties(ranking, table, plugged("p1"), shipped_costs());
}

std::optional<CustomerQuestion> question_after(const std::vector<Reading>& readings,
                                               const std::vector<std::string>& asked) {
    return best_question(parties_after(readings), shared_table(barrel), asked, shipped_costs());
}

std::vector<double> priors_with(const std::vector<std::string>& facts,
                                const std::vector<std::string>& denied) {
    return priors_of(make_hypotheses(shared_table(barrel).plan(), {facts, {}, {}, {}, denied}));
}

}  // namespace

TEST_CASE("both answers to a question together leave what was believed before", "[question]") {
    // Law of total probability: P(h) = P(h|yes) P(yes) + P(h|no) P(no).
    const FaultCatalogue& catalogue = shipped_knowledge().catalogue;
    const auto hypotheses = make_hypotheses(shared_table(barrel).plan(), {});
    const auto before = priors_of(hypotheses);
    for (const IntakeFact& fact : catalogue.facts) {
        CAPTURE(fact.id);
        double yes = 0.0;
        bool capped = false;
        for (std::size_t h = 0; h < hypotheses.size(); ++h) {
            // Of a pair, the fault that brought about the other is what the customer saw.
            const auto& faults = hypotheses[h].faults;
            const std::vector<FaultInstance> seen(faults.begin(), faults.begin() + (faults.empty() ? 0 : 1));
            const double so = fact_probability(fact, seen, catalogue);
            CHECK(so >= 0.0);
            CHECK(so < 1.0);
            capped = capped || so == Approx(0.9);
            yes += before[h] * so;
        }
        REQUIRE_FALSE(capped);
        const auto if_yes = priors_with({fact.id}, {});
        const auto if_no = priors_with({}, {fact.id});
        for (std::size_t h = 0; h < before.size(); ++h) {
            CAPTURE(hypothesis_title(hypotheses[h], shared_table(barrel).plan()));
            // "None of these" keeps its share of all jobs whatever is said.
            if (hypotheses[h].kind != HypothesisKind::none_of_these)
                CHECK(yes * if_yes[h] + (1.0 - yes) * if_no[h] ==
                      Approx(before[h]).epsilon(0.03).margin(1e-9));
        }
    }
}

TEST_CASE("the question that is asked tells something, costs its minutes, and is asked once", "[question]") {
    std::vector<std::string> asked;
    double last_bits = 100.0;
    while (const auto question = question_after({}, asked)) {
        CHECK(std::count(asked.begin(), asked.end(), question->fact) == 0);
        CHECK_FALSE(question->words.empty());
        CHECK(question->words.back() == '?');
        CHECK(question->bits <= last_bits + 1e-9);
        CHECK(question->bits <= 1.0);  // yes or no
        CHECK(question->yes > 0.0);
        CHECK(question->yes < 1.0);
        CHECK(question->minutes == shipped_costs().ask_minutes);
        last_bits = question->bits;
        asked.push_back(question->fact);
    }
    CHECK_FALSE(asked.empty());
    CHECK(asked.size() < shipped_knowledge().catalogue.facts.size());  // some tell nothing of this machine
}

TEST_CASE("a dark meter makes one ask about another charger", "[question]") {
    // Common practice: first of all whether it charges with another charger.
    const std::vector<Reading> dark{meter_reading(
        "a",
        [] {
            BenchConfiguration own = plugged("p1");
            own.charger = Owner::customer;
            own.lead = Owner::customer;
            return own;
        }(),
        MeterPattern::dark)};
    const auto question = question_after(dark, {});
    REQUIRE(question);
    CHECK(question->fact == "other_charger_works");
}
