// SPDX-License-Identifier: GPL-3.0-or-later
// The millivolt search on copper that is as assumed, on copper that is not, and where it must say that it
// cannot tell.
#include "core/board/millivolt_search.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/random.h"
#include "evaluation/locate_evaluation.h"

using namespace eh;

namespace {

// Eight capacitors in two rows on a rail, fed at the left.
struct Rail {
    BoardMap map;
    int net;
    SearchSetup setup;

    Rail() : net(map.net_named("rail")) {
        for (int i = 0; i < 8; ++i) {
            Pad pad;
            pad.net = net;
            pad.part = map.part_named("C" + std::to_string(i + 1));
            pad.pin = "1";
            pad.place = Point{10.0 + 8.0 * (i % 4), i < 4 ? 5.0 : 20.0};
            map.add_pad(pad);
        }
        map.index();
        setup.fed_at = {4.0, 12.0};
        setup.outline = {{0, 0}, {40, 0}, {40, 25}, {0, 25}};
        setup.amps = 2.0;
    }
    // What a meter without noise reads when `part` is shorted.
    std::vector<SheetReading> readings(const std::string& part, const std::vector<int>& pads,
                                       double sheet_ohms, double short_ohms) const {
        const CopperSheet sheet(setup.outline, 1.0, setup.cell_mm);
        const int leaves = sheet.cell_at(*map.pad(map.part(map.find_part(part)).pads.front()).place);
        const Eigen::VectorXd volts = sheet.response(sheet.cell_at(setup.fed_at)) - sheet.response(leaves);
        std::vector<SheetReading> list;
        for (const int pad : pads)
            list.push_back(
                {pad, setup.amps * (sheet_ohms * (volts[sheet.cell_at(*map.pad(pad).place)] - volts[leaves]) +
                                    short_ohms)});
        return list;
    }
};

}  // namespace

TEST_CASE("on copper as assumed the part, the sheet and the short's ohms are found from any pads",
          "[board][search]") {
    const Rail rail;
    const MillivoltSearch search(rail.map, rail.net, rail.setup);
    CHECK(search.candidates() == 8);
    for (int part = 1; part <= 8; ++part) {
        const std::string name = "C" + std::to_string(part);
        CAPTURE(name);
        const auto answer = search.answer(rail.readings(name, {0, 1, 2, 3, 4, 5, 6, 7}, 0.8e-3, 0.05));
        REQUIRE(answer.ok());
        CHECK(rail.map.part(answer->candidates.front().part).name == name);
        CHECK(answer->candidates.front().probability > 0.8);
        // Within what copper that may not be as assumed leaves, and drawn towards usual copper.
        CHECK(answer->candidates.front().sheet_ohms == Approx(0.8e-3).epsilon(0.3));
        CHECK(answer->candidates.front().short_ohms == Approx(0.05).epsilon(0.02));
        CHECK(answer->can_tell);
        double sum = 0.0;
        for (const ShortCandidate& one : answer->candidates)
            sum += one.probability;
        CHECK(sum == Approx(1.0));
    }
}

TEST_CASE("the pad that is proposed next tells the likeliest two apart", "[board][search]") {
    const Rail rail;
    const MillivoltSearch search(rail.map, rail.net, rail.setup);
    const auto few = search.answer(rail.readings("C7", {0, 1, 4}, 0.6e-3, 0.1));
    REQUIRE(few.ok());
    REQUIRE(few->next_pad != no_index);
    const auto more = search.answer(rail.readings("C7", {0, 1, 4, few->next_pad}, 0.6e-3, 0.1));
    REQUIRE(more.ok());
    const auto of_c7 = [&](const SearchAnswer& answer) {
        for (const ShortCandidate& one : answer.candidates) {
            if (rail.map.part(one.part).name == "C7")
                return one.probability;
        }
        return 0.0;
    };
    CHECK(of_c7(*more) > of_c7(*few));
}

TEST_CASE("a meter that does not resolve the differences is said not to", "[board][search]") {
    Rail rail;
    rail.setup.amps = 0.02;
    rail.setup.meter_volts = 100e-6;
    const MillivoltSearch search(rail.map, rail.net, rail.setup);
    const auto answer = search.answer(rail.readings("C7", {0, 1, 2, 5}, 0.5e-3, 0.1));
    REQUIRE(answer.ok());
    CHECK_FALSE(answer->can_tell);
    CHECK_THAT(answer->says, Catch::Contains("more current"));
    for (const ShortCandidate& one : answer->candidates)
        CHECK(one.probability < 0.5);
}

TEST_CASE("what is missing is said, and what is not fitted is no candidate", "[board][search]") {
    Rail rail;
    rail.map.set_fitted(rail.map.find_part("C3"), false);
    const MillivoltSearch search(rail.map, rail.net, rail.setup);
    CHECK(search.candidates() == 7);
    CHECK_FALSE(search.answer({{0, 0.1}, {1, 0.1}}).ok());
    CHECK_FALSE(search.answer({{0, 0.1}, {1, 0.1}, {99, 0.1}}).ok());
    CHECK_FALSE(search.answer({{0, 0.1}, {1, std::nan("")}, {2, 0.1}}).ok());
}

TEST_CASE("on seeded boards whose copper is not as assumed the part is mostly right", "[board][search]") {
    LocateEvaluationOptions options;
    options.boards = 60;
    options.seed = 31;
    const LocateScore score = evaluate_locating(options);
    REQUIRE(score.boards == 60);
    CHECK(score.mean_candidates > 6.0);
    // The whole evaluation, on seeds of its own, is eager-hound-cli locate --evaluate; this guards against
    // decay.
    CHECK(score.right_first >= 45);
    CHECK(score.right_in_two >= 52);
}
