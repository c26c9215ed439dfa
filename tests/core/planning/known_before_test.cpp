// SPDX-License-Identifier: GPL-3.0-or-later
// What a job says before its readings; where a fitted part came from and what that makes likely. That a chip
// of another model comes up wrong or not at all far more often than one of the same board and place is common
// practice; by how much is an estimate of data/faults.json, so that only the order is checked.
#include "core/planning/known_before.h"

#include <catch2/catch.hpp>

#include "core/base/text.h"
#include "core/inference/reasoner.h"
#include "tests/support/kept_predictions.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Act fitted(const std::string& block, const std::string& origin) {
    Act act;
    act.kind = Work::replace;
    act.block = block;
    act.origin = origin;
    return act;
}

// A chained machine whose second controller was changed, and which gives every port 5 V since.
Job changed_controller(const std::string& origin) {
    Job job;
    job.ticket.topology = chained;
    job.bench = plugged("p1");
    note_work(job.bench, "pc2", Work::replace);
    job.acts.push_back(fitted("pc2", origin));
    int number = 0;
    for (const Port& port : topology(chained).ports) {
        BenchConfiguration bench = plugged(port.id);
        bench.replaced = job.bench.replaced;
        job.readings.push_back(
            meter_reading("r" + integer_text(++number), bench, MeterPattern::steady, 5.05, 0.03));
    }
    return job;
}

Suspects suspects_of(const Job& job) {
    const Reasoner reasoner(shared_table(chained).store());
    auto suspects = reasoner.weigh(known_before(job), job.readings);
    REQUIRE(suspects);
    return std::move(*suspects);
}

}  // namespace

TEST_CASE("what is known before is what the ticket and the work say", "[origin]") {
    Job job;
    job.ticket.facts = {"liquid"};
    job.ticket.facts_denied = {"earlier_repair"};
    note_work(job.bench, "pc1", Work::replace);
    job.acts = {fitted("pc1", "other_model"), fitted("pc1", "programmed"), fitted("rec1", "")};
    job.acts.push_back(fitted("pc2", "new"));
    job.acts.back().kind = Work::reflow;
    const Beforehand known = known_before(job);
    CHECK(known.facts == job.ticket.facts);
    CHECK(known.denied == job.ticket.facts_denied);
    CHECK(known.replaced == std::vector<std::string>{"pc1"});
    CHECK(known.origins == std::map<std::string, std::string>{{"pc1", "programmed"}, {"rec1", ""}});
}

TEST_CASE("work goes wrong as often as the origin of the part says, and never always", "[origin]") {
    const FaultCatalogue& catalogue = shipped_knowledge().catalogue;
    REQUIRE_FALSE(catalogue.origins.empty());
    for (const FaultSpec& fault : catalogue.faults) {
        if (!fault.refit)
            continue;
        CAPTURE(fault.id);
        const FaultInstance here{fault.id, "part"};
        CHECK(refit_rate(here, catalogue, {}) == fault.rate);
        Beforehand unknown;
        unknown.origins = {{"part", "the moon"}};
        CHECK(refit_rate(here, catalogue, unknown) == fault.rate);
        for (const PartOrigin& origin : catalogue.origins) {
            Beforehand known;
            known.origins = {{"part", origin.id}};
            CHECK(refit_rate(here, catalogue, known) > 0.0);
            CHECK(refit_rate(here, catalogue, known) <= 0.9);
            known.origins = {{"another", origin.id}};
            CHECK(refit_rate(here, catalogue, known) == fault.rate);
        }
    }
    // Of one part, not everything can be sure to have gone wrong.
    for (const BlockKind& kind : shipped_knowledge().kinds) {
        for (const PartOrigin& origin : catalogue.origins) {
            Beforehand known;
            known.origins = {{"part", origin.id}};
            double sum = 0.0;
            for (const FaultSpec& fault : catalogue.faults) {
                if (fault.refit && fault.kind == kind.id)
                    sum += refit_rate({fault.id, "part"}, catalogue, known);
            }
            CAPTURE(kind.id, origin.id);
            CHECK(sum < 1.0);
        }
    }
}

TEST_CASE("a chip of another model leads when all ports stay at 5 V after the work", "[origin]") {
    const Suspects suspects = suspects_of(changed_controller("other_model"));
    const PartSuspicion& leads = suspects.ranking.parts.front();
    CHECK(leads.block == "pc2");
    // What is said of it is what is wrong now, and not what the old chip had.
    const Suspicion& way = suspects.ranking.suspicions[leads.leading_hypothesis];
    const std::string title =
        hypothesis_title(suspects.table->hypotheses()[way.hypothesis], shared_table(chained).plan());
    CHECK_THAT(title, Catch::Contains("Port controller 2: donor part") && !Catch::Contains(", and "));

    const double other_model = suspicion_of(suspects.ranking, "pc2");
    const double not_said = suspicion_of(suspects_of(changed_controller("")).ranking, "pc2");
    const double same_board = suspicion_of(suspects_of(changed_controller("same_board")).ranking, "pc2");
    CAPTURE(other_model, not_said, same_board);
    CHECK(other_model > not_said);
    CHECK(not_said > same_board);
}
