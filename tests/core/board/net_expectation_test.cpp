// SPDX-License-Identifier: GPL-3.0-or-later
// Verdicts on nets: the cases of the trade, invariants, and rails drawn by lot.
#include "core/board/net_expectation.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <limits>

#include "core/base/random.h"
#include "evaluation/rail_evaluation.h"

using namespace eh;

namespace {

constexpr auto ohms = NetQuantity::ohms;
constexpr auto drop = NetQuantity::drop;
constexpr double open = std::numeric_limits<double>::infinity();

NetValue reading(double value) {
    NetValue made;
    made.value = value;
    return made;
}

NetValue over_limit() {
    NetValue made;
    made.open = true;
    return made;
}

NetVerdict against_twin(double value, const NetValue& twin) {
    return judge_net(ohms, reading(value), {twin_evidence(ohms, twin, "twin")}).verdict;
}

}  // namespace

TEST_CASE("readings of the trade are called what the trade calls them", "[board][expected]") {
    // Common practice: 8 ohm on one port against open on the other is a short on that port; 0.3 or 2.2 ohm on
    // a charger's rail is one; 100 k and more is sound.
    CHECK(against_twin(8.0, over_limit()) == NetVerdict::short_);
    CHECK(against_twin(0.3, reading(120e3)) == NetVerdict::short_);
    CHECK(against_twin(2.2, reading(120e3)) == NetVerdict::short_);
    CHECK(against_twin(150e3, reading(120e3)) == NetVerdict::normal);
    CHECK(judge_net(ohms, over_limit(), {twin_evidence(ohms, over_limit(), "twin")}).verdict ==
          NetVerdict::normal);
    // Common practice: a processor's rail reads fractions of an ohm to a few ohms and is sound.
    CHECK(against_twin(0.8, reading(0.85)) == NetVerdict::normal);
    CHECK(against_twin(0.8, reading(0.7)) == NetVerdict::normal);
    CHECK(against_twin(0.05, reading(1.6)) == NetVerdict::short_);
    // A leak is low and no short.
    CHECK(against_twin(4e3, reading(120e3)) == NetVerdict::low);
    CHECK(against_twin(5e6, reading(2e3)) == NetVerdict::high);
}

TEST_CASE("nothing known is said to be nothing known", "[board][expected]") {
    const auto unknown = judge_net(ohms, reading(0.8), {});
    CHECK(unknown.verdict == NetVerdict::not_enough_known);
    CHECK(unknown.says.find("twin") != std::string::npos);
    CHECK_FALSE(own_evidence(ohms, {}));
    CHECK_FALSE(model_evidence(ohms, {std::nan(""), std::nan("")}));
    // A model that allows for everything allows for this.
    std::vector<double> anything;
    for (int i = 0; i < 24; ++i)
        anything.push_back(std::pow(10.0, -1.0 + 0.25 * i));
    const auto wide = judge_net(ohms, reading(30.0), {*model_evidence(ohms, anything)});
    CHECK(wide.verdict == NetVerdict::not_enough_known);
}

TEST_CASE("leads that were not nulled make no short of a low rail", "[board][expected]") {
    NetValue with_leads = reading(0.35);
    with_leads.lead_ohms = 0.15;
    NetValue sound = reading(0.22);
    CHECK(judge_net(ohms, with_leads, {twin_evidence(ohms, sound, "twin")}).verdict == NetVerdict::normal);
    // Below the leads' own resistance: a dead short, whatever is left after taking them off.
    NetValue dead = reading(0.14);
    dead.lead_ohms = 0.15;
    CHECK(judge_net(ohms, dead, {twin_evidence(ohms, reading(2.0), "twin")}).verdict == NetVerdict::short_);
}

TEST_CASE("more boards make the expectation narrower, contradictions wider", "[board][expected]") {
    Random random(6);
    std::vector<NetValue> boards;
    double before = 1e9;
    for (int n = 1; n <= 32; n *= 2) {
        while (static_cast<int>(boards.size()) < n)
            boards.push_back(reading(100.0 * std::exp(0.1 * random.normal())));
        const auto evidence = own_evidence(ohms, boards);
        REQUIRE(evidence);
        CHECK(evidence->spread < before);
        before = evidence->spread;
    }
    CHECK(before == Approx(0.1).margin(0.06));
    const auto twin = [](double value) { return twin_evidence(ohms, reading(value), "twin"); };
    const auto agreed = judge_net(ohms, reading(10.0), {twin(10.0), twin(10.5)});
    const auto apart = judge_net(ohms, reading(10.0), {twin(3.0), twin(40.0)});
    CHECK(agreed.high / agreed.low < apart.high / apart.low);
    CHECK(apart.verdict != NetVerdict::short_);
}

TEST_CASE("a lower reading is never judged sounder", "[board][expected]") {
    const std::vector<NetEvidence> evidence{twin_evidence(ohms, reading(47.0), "twin")};
    double before = 1e9;
    for (double value = 500.0; value > 0.01; value *= 0.8) {
        const auto judged = judge_net(ohms, reading(value), evidence);
        CHECK(judged.widths <= before + 1e-6);
        before = judged.widths;
        CHECK(judged.low < 47.0);
        CHECK(judged.high > 47.0);
    }
}

TEST_CASE("drops in diode mode are compared in volts", "[board][expected]") {
    // Common practice: the number of a net is compared with its twin's; a few tens of millivolts are nothing.
    const std::vector<NetEvidence> twin{twin_evidence(drop, reading(0.420), "twin")};
    CHECK(judge_net(drop, reading(0.431), twin).verdict == NetVerdict::normal);
    CHECK(judge_net(drop, reading(0.310), twin).verdict == NetVerdict::low);
    CHECK(judge_net(drop, reading(0.002), twin).verdict == NetVerdict::short_);
    CHECK(judge_net(drop, over_limit(), twin).verdict == NetVerdict::high);
    const auto model = model_evidence(drop, {0.41, 0.43, 0.44, 0.42});
    REQUIRE(model);
    CHECK(judge_net(drop, reading(0.5), {*model}).verdict == NetVerdict::normal);
}

TEST_CASE("taking a part off says whether it was the short", "[board][expected]") {
    const std::vector<NetEvidence> evidence{twin_evidence(ohms, reading(90e3), "twin")};
    const auto forecast = removal_forecast(reading(0.4), evidence, "C7");
    REQUIRE(forecast);
    CHECK(forecast->if_it_was == Approx(90e3).epsilon(0.01));
    CHECK(forecast->if_not == Approx(0.4));
    CHECK_FALSE(removal_forecast(reading(0.4), {}, "C7"));
    const auto verdict = [&](double after, const std::vector<NetEvidence>& known) {
        return judge_removal(reading(0.4), reading(after), known, "C7").verdict;
    };
    CHECK(verdict(85e3, evidence) == RemovalVerdict::it_was);
    CHECK(verdict(0.42, evidence) == RemovalVerdict::it_was_not);
    CHECK(verdict(6.0, evidence) == RemovalVerdict::one_of_several);
    CHECK(verdict(6.0, {}) == RemovalVerdict::cannot_tell);
    CHECK(verdict(0.41, {}) == RemovalVerdict::it_was_not);
    // On a rail of few ohms, sound again.
    const std::vector<NetEvidence> processor{twin_evidence(ohms, reading(1.1), "twin")};
    CHECK(judge_removal(reading(0.06), reading(1.0), processor, "C7").verdict == RemovalVerdict::it_was);
}

TEST_CASE("no sound rail of few ohms is called a short, shorts are", "[board][expected]") {
    for (const std::uint64_t seed : {1U, 2U, 3U}) {
        const RailScore score = evaluate_rails(500, seed);
        CHECK(score.sound == 500);
        CHECK(score.sound_called_short == 0);
        CHECK(score.sound_called_low <= 50);  // one in twenty by chance, with what is known of few boards
        CHECK(score.shorted_called_normal <= 75);
        CHECK(score.shorted_called_short + score.shorted_called_low >= 380);
    }
}
