// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/ranking.h"
#include "core/machine/simulation/known_ohms.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/random.h"
#include "core/inference/intake_facts.h"
#include "core/inference/reasoner.h"
#include "core/job/job_json.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

double probability_of(const Ranking& ranking, const PartSuspicion& wanted) {
    for (const PartSuspicion& part : ranking.parts) {
        if (part.block == wanted.block && part.work == wanted.work && part.kind == wanted.kind)
            return part.probability;
    }
    return 0.0;
}

Ranking ranked(const std::string& topology_id, const std::vector<Reading>& readings) {
    PredictionTable& table = shared_table(topology_id);
    return rank(table, priors_of(table.hypotheses()), readings);
}

void check_sums(const Ranking& ranking, const PredictionTable& table) {
    double hypotheses = 0.0;
    double parts_wanted = 0.0;
    for (const Suspicion& suspicion : ranking.suspicions) {
        CHECK(std::isfinite(suspicion.probability));
        CHECK(suspicion.probability >= 0.0);
        hypotheses += suspicion.probability;
        const auto faults = table.hypotheses()[suspicion.hypothesis].faults.size();
        parts_wanted += suspicion.probability * static_cast<double>(std::max<std::size_t>(1, faults));
    }
    double parts = 0.0;
    for (const PartSuspicion& part : ranking.parts) {
        CHECK(part.probability <= 1.0 + 1e-12);
        parts += part.probability;
    }
    CHECK(hypotheses == Approx(1.0).epsilon(1e-12));
    CHECK(parts == Approx(parts_wanted).epsilon(1e-12));
}

}  // namespace

TEST_CASE("without readings the ranking is the prior, and the priors sum to one", "[diagnosis]") {
    PredictionTable& table = shared_table(chained);
    const Ranking ranking = ranked(chained, {});
    check_sums(ranking, table);
    for (const Suspicion& suspicion : ranking.suspicions)
        CHECK(suspicion.probability == Approx(table.hypotheses()[suspicion.hypothesis].prior));
}

TEST_CASE("nothing wrong and none of these are among the hypotheses of every topology", "[diagnosis]") {
    for (const Topology& machine : shipped_knowledge().topologies) {
        const FittedPlan plan(shipped_knowledge(), machine);
        const auto hypotheses = make_hypotheses(plan, {});
        const auto count = [&](HypothesisKind kind) {
            return std::count_if(hypotheses.begin(), hypotheses.end(),
                                 [&](const Hypothesis& h) { return h.kind == kind; });
        };
        CHECK(count(HypothesisKind::nothing_wrong) == 1);
        CHECK(count(HypothesisKind::none_of_these) == 1);
        CHECK(count(HypothesisKind::fault) >= 18);
    }
}

TEST_CASE("what the intake says multiplies rates and leaves the rest in proportion", "[diagnosis]") {
    const FittedPlan plan(shipped_knowledge(), topology(barrel));
    const auto plain = make_hypotheses(plan, {});
    const auto told = make_hypotheses(plan, {{"wiggle_helps", "no such fact"}, {}});
    const auto prior = [](const std::vector<Hypothesis>& list, const char* fault) {
        for (const Hypothesis& h : list) {
            if (!h.faults.empty() && h.faults.front().fault == fault)
                return h.prior;
        }
        return 0.0;
    };
    const double factor = shipped_knowledge().catalogue.find("jack_worn")->multipliers.at("wiggle_helps");
    CHECK(prior(told, "jack_worn") / prior(told, "jack_shorted") ==
          Approx(factor * prior(plain, "jack_worn") / prior(plain, "jack_shorted")));
}

TEST_CASE("the posterior is prior times likelihood, normalised: recomputed by hand", "[diagnosis]") {
    // Bayes' rule on the same likelihoods, without logarithms.
    PredictionTable& table = shared_table(barrel);
    const std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::steady, 19.4, 0.72),
                                        ohms_reading("b", for_ohms(), "main", 21000.0)};
    const auto meter_column = table.powered(readings[0].configuration);
    const auto& nets = table.plan().topology().nets;
    const auto main_net =
        std::find_if(nets.begin(), nets.end(), [](const Net& net) { return net.id == "main"; });
    const auto ohms_column = table.ohms(readings[1].configuration, static_cast<int>(main_net - nets.begin()));
    const auto sound_ohms =
        table.known_sound_ohms(readings[1].configuration, static_cast<int>(main_net - nets.begin()));
    // A machine with an unknown effect is like one of the others, but shows anything in a share of its
    // readings.
    const double odd = AccuracyOptions{}.odd_reading;
    const auto shares = AccuracyOptions{}.unknown_shows;
    const auto strange = [&](double usual, const Reading& reading, double shows) {
        const double broad = std::exp(log_broad(reading));
        return (1.0 - shows) * (usual - odd * broad) / (1.0 - odd) + shows * broad;
    };
    std::vector<double> weights;
    double of_strange = 0.0;
    double known_prior = 0.0;
    std::size_t none = 0;
    for (std::size_t h = 0; h < table.hypotheses().size(); ++h) {
        weights.push_back(0.0);
        if (table.hypotheses()[h].kind == HypothesisKind::none_of_these) {
            none = h;
            continue;
        }
        // A sample is one machine: both readings are of it.
        const double prior = table.hypotheses()[h].prior;
        known_prior += prior;
        KnownExpectations by_maker;
        by_maker.counted = table.counted(h);
        by_maker.amps_ln = table.plan().knowledge().variety.amps_ln;
        const auto a = log_likelihoods(readings[0], (*meter_column)[h], -1, -1, {}, by_maker);
        by_maker.variety = table.plan().net_variety[static_cast<std::size_t>(main_net - nets.begin())];
        by_maker.sound_ohms = sound_ohms.get();
        const auto b = log_likelihoods(readings[1], (*ohms_column)[h], {}, by_maker);
        for (std::size_t s = 0; s < a.size(); ++s) {
            const double weight = prior * table.sample_weights(h)[s];
            weights[h] += weight * std::exp(a[s]) * std::exp(b[s]);
            for (const double shows : shares)
                of_strange += weight / static_cast<double>(shares.size()) *
                              strange(std::exp(a[s]), readings[0], shows) *
                              strange(std::exp(b[s]), readings[1], shows);
        }
    }
    weights[none] = table.hypotheses()[none].prior * of_strange / known_prior;
    const double total = std::accumulate(weights.begin(), weights.end(), 0.0);
    for (const Suspicion& suspicion : ranked(barrel, readings).suspicions)
        CHECK(suspicion.probability ==
              Approx(weights[suspicion.hypothesis] / total).epsilon(1e-9).margin(1e-300));
}

TEST_CASE("the same reading once more adds less than the first time", "[diagnosis]") {
    // A machine's parts do not change between two readings: what the second would say of them is known
    // already.
    const auto taken = [&](int times) {
        std::vector<Reading> readings;
        for (int i = 0; i < times; ++i)
            readings.push_back(
                meter_reading("r" + std::to_string(i), plugged("p1"), MeterPattern::steady, 19.4, 0.72));
        return ranked(barrel, readings);
    };
    const auto odds = [](const Ranking& ranking) {
        return std::log(ranking.suspicions.front().probability /
                        (1.0 - ranking.suspicions.front().probability));
    };
    const Ranking none = taken(0);
    const Ranking once = taken(1);
    const Ranking twice = taken(2);
    const std::size_t leader = once.suspicions.front().hypothesis;
    const auto before = std::find_if(none.suspicions.begin(), none.suspicions.end(),
                                     [&](const Suspicion& s) { return s.hypothesis == leader; });
    const double first = odds(once) - std::log(before->probability / (1.0 - before->probability));
    CHECK(first > 0.0);
    CHECK(odds(twice) - odds(once) < 0.5 * first);
}

TEST_CASE("sample weights are shares, even before any reading", "[diagnosis]") {
    for (const auto& readings :
         {std::vector<Reading>{}, std::vector<Reading>{ohms_reading("a", for_ohms(), "vdc", 2.0)}}) {
        const Ranking ranking = ranked(barrel, readings);
        REQUIRE(ranking.sample_weights.size() == shared_table(barrel).hypotheses().size());
        for (const auto& weights : ranking.sample_weights) {
            if (!weights.empty())
                CHECK(std::accumulate(weights.begin(), weights.end(), 0.0) == Approx(1.0));
        }
    }
}

TEST_CASE("the order of the readings does not matter", "[diagnosis]") {
    std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::steady, 19.9, 1.6),
                                  meter_reading("b", plugged("p2"), MeterPattern::dark),
                                  ohms_reading("c", for_ohms(), "vbus2", 3.3)};
    const Ranking forward = ranked(chained, readings);
    std::reverse(readings.begin(), readings.end());
    const Ranking backward = ranked(chained, readings);
    for (const PartSuspicion& part : forward.parts) {
        CHECK(probability_of(backward, part) == Approx(part.probability).epsilon(1e-9).margin(1e-15));
    }
}

TEST_CASE("the weights of evidence add up to the change from prior to posterior odds", "[diagnosis]") {
    const std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::steady, 5.02, 0.12),
                                        meter_reading("b", plugged("p2"), MeterPattern::steady, 5.0, 0.13)};
    const Ranking ranking = ranked(chained, readings);
    const Suspicion& first = ranking.suspicions[0];
    const Suspicion& second = ranking.suspicions[1];
    double change = 0.0;
    for (std::size_t r = 0; r < readings.size(); ++r)
        change += first.evidence[r].weight - second.evidence[r].weight;
    CHECK(std::log(first.probability / second.probability) ==
          Approx(std::log(first.prior / second.prior) + change).epsilon(1e-9));
}

TEST_CASE("a few ohms on one port and open on the other point at the parts of that line", "[diagnosis]") {
    const std::vector<Reading> readings{ohms_reading("a", for_ohms(), "vbus2", 3.3),
                                        open_reading("b", for_ohms(), "vbus1")};
    const Ranking ranking = ranked(chained, readings);
    double line = 0.0;
    for (const char* block : {"sp2", "cv2", "rec2", "sw2", "pc2"})
        line += suspicion_of(ranking, block);
    CHECK(line > 0.93);
}

TEST_CASE("removing the protector opens the line: suspicion settles on it", "[diagnosis]") {
    BenchConfiguration without = for_ohms();
    without.board_out = true;
    without.removed = {"sp2"};
    const std::vector<Reading> readings{meter_reading("m1", plugged("p1"), MeterPattern::steady, 19.9, 1.6),
                                        meter_reading("m2", plugged("p2"), MeterPattern::cycling, 4.05, 3.3),
                                        ohms_reading("a", for_ohms(), "vbus2", 3.3),
                                        open_reading("b", for_ohms(), "vbus1"),
                                        open_reading("c", without, "vbus2")};
    CHECK(suspicion_of(ranked(chained, readings), "sp2") > 0.9);
}

TEST_CASE("alike readings on all ports of a chain end on the shared things, not on a receptacle",
          "[diagnosis]") {
    // Common practice: all ports alike and wrong is something shared, or any one controller of the chain.
    const std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::steady, 5.0, 0.18),
                                        meter_reading("b", plugged("p2"), MeterPattern::steady, 5.0, 0.18)};
    const Ranking ranking = ranked(chained, readings);
    double chain = 0.0;
    for (const char* block : {"mem", "pup", "enr", "pds", "fb1", "fb2", "pc1", "pc2", "cc1cap", "cc2cap",
                              "oc1", "oc2", "sd1", "sd2", "bpu", "bl1", "bl2"})
        chain += suspicion_of(ranking, block);
    CHECK(chain > 0.9);
    CHECK(suspicion_of(ranking, "rec1") + suspicion_of(ranking, "rec2") < 0.02);
}

TEST_CASE("a processor rail at 0.8 ohm is not taken for a short", "[diagnosis]") {
    const Ranking before = ranked(chained, {});
    const Ranking after = ranked(chained, {ohms_reading("a", for_ohms(), "core", 0.8)});
    CHECK(suspicion_of(after, "mb") == Approx(suspicion_of(before, "mb")).epsilon(0.1));
}

TEST_CASE("a reading that nothing explains is named", "[diagnosis]") {
    const std::vector<Reading> readings{
        meter_reading("good1", plugged("p1"), MeterPattern::steady, 19.9, 1.6),
        meter_reading("good2", plugged("p2"), MeterPattern::steady, 19.9, 1.6),
        meter_reading("odd", plugged("p1", PlugSide::b), MeterPattern::steady, 13.1, 0.6)};
    const Ranking ranking = ranked(chained, readings);
    REQUIRE(ranking.odd.size() == 1);
    CHECK(ranking.odd.front().reading_id == "odd");
}

TEST_CASE("readings that are set aside or cannot be do not count", "[diagnosis]") {
    Reading aside = ohms_reading("a", for_ohms(), "vbus2", 3.3);
    aside.set_aside = true;
    Reading nowhere = ohms_reading("b", for_ohms(), "no such net", 3.3);
    Reading negative = ohms_reading("c", for_ohms(), "vbus2", -3.0);
    CHECK_FALSE(check_reading(nowhere, shared_table(chained).plan()).ok());
    CHECK_FALSE(check_reading(negative, shared_table(chained).plan()).ok());
    const Ranking with = ranked(chained, {aside, nowhere, negative});
    const Ranking without = ranked(chained, {});
    CHECK(suspicion_of(with, "sp2") == Approx(suspicion_of(without, "sp2")));
}

TEST_CASE("contradicting and absurd readings never yield a NaN", "[diagnosis]") {
    Random random(17);
    const auto& nets = topology(barrel).nets;
    for (int round = 0; round < 40; ++round) {
        std::vector<Reading> readings;
        for (int i = random.below(7); i >= 0; --i) {
            const std::string id = std::to_string(i);
            switch (random.below(4)) {
                case 0:
                    readings.push_back(meter_reading(id, plugged("p1"),
                                                     static_cast<MeterPattern>(random.below(4)),
                                                     random.uniform() * 1000.0, random.uniform() * 100.0));
                    break;
                case 1:
                    readings.push_back(ohms_reading(id, for_ohms(),
                                                    nets[static_cast<std::size_t>(random.below(4))].id,
                                                    std::pow(10.0, random.uniform() * 14.0 - 5.0)));
                    break;
                case 2:
                    readings.push_back(open_reading(id, for_ohms(), "main"));
                    break;
                default:
                    readings.push_back(ohms_reading(id, for_ohms(), "main", 0.0));
            }
        }
        check_sums(ranked(barrel, readings), shared_table(barrel));
    }
}

TEST_CASE("a column that is stopped is not kept", "[diagnosis]") {
    const FittedPlan plan(shipped_knowledge(), topology(barrel));
    PredictionTable table(plan, make_hypotheses(plan, {}));
    CHECK(table.powered(plugged("p1"), [] { return true; }) == nullptr);
    CHECK(table.known_powered(plugged("p1")) == nullptr);
    CHECK(table.powered(plugged("p1")) != nullptr);
    CHECK(table.known_powered(plugged("p1")) != nullptr);
}

TEST_CASE("a ranking that is stopped ends at the next reading or hypothesis", "[diagnosis][stop]") {
    PredictionTable& table = shared_table(chained);
    std::vector<Reading> readings;
    for (int i = 0; i < 40; ++i)
        readings.push_back(volts_reading(std::to_string(i), plugged("p1"), "core", 0.9));
    const auto priors = priors_of(table.hypotheses());
    for (const int stops_at : {1, 10, 45}) {
        int asked = 0;
        const auto stop = [&] { return ++asked >= stops_at; };
        CHECK(rank(table, priors, readings, {}, stop).suspicions.empty());
        CHECK(asked == stops_at);
        asked = 0;
        const auto rows = likelihood_table(table, readings, {}, stop);
        CHECK(rows.size() == std::min(readings.size(), static_cast<std::size_t>(stops_at - 1)));
    }
    CHECK_FALSE(rank(table, priors, readings, {}, [] { return false; }).suspicions.empty());
    const Reasoner reasoner(table.store());
    int asked = 0;
    CHECK_FALSE(reasoner.weigh({}, readings, [&] { return ++asked > 60; }).has_value());
}

TEST_CASE("a job of more readings than any repair has is refused", "[job][hostile]") {
    Job job;
    job.id = JobId::made("huge");
    job.ticket.topology = chained;
    for (int i = 0; i < 5001; ++i)
        job.readings.push_back(volts_reading(std::to_string(i), plugged("p1"), "core", 0.9));
    const auto read = parse_job(job_to_text(job), "huge.json");
    REQUIRE_FALSE(read);
    CHECK(read.error().text().find("5000 readings") != std::string::npos);
    job.readings.pop_back();
    CHECK(parse_job(job_to_text(job), "long.json").ok());
}

TEST_CASE("intake facts that the catalogue does not hold are told, not dropped", "[job][hostile]") {
    const FaultCatalogue& catalogue = shipped_knowledge().catalogue;
    REQUIRE_FALSE(catalogue.facts.empty());
    const std::string known = catalogue.facts.front().id;
    CHECK(unknown_facts_remark(catalogue, {known}).empty());
    const std::string remark = unknown_facts_remark(catalogue, {known, "struck by lightning"});
    CHECK(remark.find("struck by lightning") != std::string::npos);
    CHECK(remark.find(known) == std::string::npos);
    Job job;
    job.id = JobId::made("odd");
    job.ticket.topology = chained;
    job.ticket.facts = {"struck by lightning"};
    const auto read = parse_job(job_to_text(job), "odd.json");
    REQUIRE(read);
    CHECK(read->ticket.facts == job.ticket.facts);
}
