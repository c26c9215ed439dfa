// SPDX-License-Identifier: GPL-3.0-or-later
// The board looked over: what is found speaks for the part, nothing found against what would have shown.
#include "core/inference/board_look.h"

#include <catch2/catch.hpp>

#include <numeric>

#include "core/planning/next_act.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

const MachinePlan& plan() {
    return shared_table("usbc-dual").plan();
}

BenchConfiguration opened() {
    BenchConfiguration bench = plugged("p1");
    bench.case_open = true;
    return bench;
}

Reading board(const std::vector<SeenPart>& found) {
    Reading reading;
    reading.id = "b";
    reading.configuration = opened();
    reading.value = BoardLookReading{found};
    return reading;
}

}  // namespace

TEST_CASE("what a look over the board finds adds up to one, whatever is broken", "[board-look]") {
    for (const Hypothesis& hypothesis : shared_table("usbc-dual").hypotheses()) {
        const auto shares = board_look_shares(plan(), hypothesis.faults, opened());
        REQUIRE(shares.size() == Traits<BoardLookReading>::outcome_count(plan()));
        CHECK(std::accumulate(shares.begin(), shares.end(), 0.0) == Approx(1.0));
        CHECK(board_look_probability(plan(), hypothesis.faults, {}, opened()) == Approx(shares.front()));
        for (const FaultInstance& fault : hypothesis.faults) {
            const auto block = static_cast<std::size_t>(plan().find_block(fault.block));
            if (!is_on_board(plan().blocks[block]))
                CHECK(shares[1 + block] == 0.0);
        }
    }
    CHECK(board_look_probability(plan(), {}, {}, opened()) == 1.0);
}

TEST_CASE("a part found burnt on the board is the suspect, and nothing found speaks against what burns",
          "[board-look]") {
    const double before = part_probability("usbc-dual", "chg", {});
    CHECK(part_probability("usbc-dual", "chg", {board({{"chg", Look::burnt}})}) > 3.0 * before);
    CHECK(part_probability("usbc-dual", "chg", {board({})}) < before);
    // A close look says more than one over the whole board.
    Reading close;
    close.id = "c";
    close.configuration = opened();
    close.value = LookReading{"chg", Look::sound};
    CHECK(part_probability("usbc-dual", "chg", {close}) < part_probability("usbc-dual", "chg", {board({})}));
    // The same eye again is no news.
    const double once = part_probability("usbc-dual", "chg", {board({})});
    Reading again = board({});
    again.id = "b2";
    CHECK(part_probability("usbc-dual", "chg", {board({}), again}) == Approx(once).epsilon(0.02));
}

TEST_CASE("a flaw that a known fault explains is not odd, and the board is not looked over again for it",
          "[board-look]") {
    PredictionTable& table = shared_table("usbc-dual");
    const std::vector<Reading> cracked{meter_reading("a", plugged("p1"), MeterPattern::dark),
                                       board({{"cin", Look::broken, Flaw::cracked}})};
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), cracked);
    CHECK(std::none_of(ranking.odd.begin(), ranking.odd.end(),
                       [](const OddReading& odd) { return odd.reading_id == "b"; }));
}

TEST_CASE("who has the case open is told to look the board over, once", "[board-look][next]") {
    PredictionTable& table = shared_table("usbc-dual");
    const auto looks_over = [&](const std::vector<Reading>& readings, const BenchConfiguration& now,
                                const NextOptions& options) {
        const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
        prepare_candidates(table, ranking, readings, now);
        const NextStep step = next_acts(table, ranking, readings, now, shipped_costs(), options);
        return std::any_of(step.acts.begin(), step.acts.end(),
                           [](const NextAct& act) { return act.reading == ReadingKind::board_look; });
    };
    NextOptions options;
    options.most = 100;
    const std::vector<Reading> five_volts{meter_reading("a", plugged("p1"), MeterPattern::steady, 5.1, 0.1)};
    CHECK(looks_over(five_volts, opened(), options));
    std::vector<Reading> seen = five_volts;
    seen.push_back(board({}));
    CHECK_FALSE(looks_over(seen, opened(), options));
    options.case_may_be_opened = false;
    CHECK_FALSE(looks_over(five_volts, plugged("p1"), options));
    options.case_may_be_opened = true;
    options.instruments = {ReadingKind::meter, ReadingKind::net_ohms};  // no magnifier
    CHECK_FALSE(looks_over(five_volts, opened(), options));
}
