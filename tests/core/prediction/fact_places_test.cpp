// SPDX-License-Identifier: GPL-3.0-or-later
// Facts of the intake that are known of one place.
#include "core/job/job_json.h"
#include "core/planning/known_before.h"
#include "core/prediction/hypothesis.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

double prior_of(const Beforehand& beforehand, const std::string& fault, const std::string& block) {
    double prior = 0.0;
    for (const Hypothesis& hypothesis : make_hypotheses(shared_table(chained).plan(), beforehand)) {
        if (hypothesis.faults.size() == 1 && hypothesis.faults.front() == FaultInstance{fault, block})
            prior += hypothesis.prior;
    }
    REQUIRE(prior > 0.0);
    return prior;
}

// How much likelier the protector of port 1 is than that of port 2.
double lead_of_port_1(const Beforehand& beforehand) {
    return prior_of(beforehand, "protector_shorted", "sp1") /
           prior_of(beforehand, "protector_shorted", "sp2");
}

}  // namespace

TEST_CASE("liquid at one port speaks for the parts there, and less for those elsewhere", "[places]") {
    Beforehand liquid{{"liquid"}, {}};
    CHECK(lead_of_port_1(liquid) == Approx(1.0));
    liquid.fact_places = {{"liquid", {"p1"}}};
    CHECK(lead_of_port_1(liquid) > 1.15);
    liquid.fact_places = {{"liquid", {"p2", "board"}}};
    CHECK(lead_of_port_1(liquid) < 1.0 / 1.15);
    liquid.fact_places = {{"liquid", {"p1", "p2"}}};
    CHECK(lead_of_port_1(liquid) == Approx(1.0));
    // Elsewhere it still counts for something.
    const double dry =
        prior_of({{}, {}}, "protector_shorted", "sp2") / prior_of({{}, {}}, "charger_dead", "charger_usb-c");
    liquid.fact_places = {{"liquid", {"p1"}}};
    const double damp =
        prior_of(liquid, "protector_shorted", "sp2") / prior_of(liquid, "charger_dead", "charger_usb-c");
    CHECK(damp > dry);
}

TEST_CASE("places that the machine does not have, and places of facts that do not hold, count for nothing",
          "[places][hostile]") {
    Beforehand odd{{"liquid"}, {}};
    odd.fact_places = {{"liquid", {"p7", "under the moon"}}, {"fell", {"p1"}}};
    CHECK(lead_of_port_1(odd) == Approx(1.0));
}

TEST_CASE("a job keeps where its facts hold, and refuses places of facts that it does not state",
          "[places][job]") {
    Job job;
    job.id = JobId::made("places");
    job.ticket.topology = chained;
    answer_fact(job.ticket, "liquid", FactAnswer::so);
    job.ticket.fact_places = {{"liquid", {"p1", "board"}}};
    const auto read = parse_job(job_to_text(job), "places.json");
    REQUIRE(read.ok());
    CHECK(read->ticket.fact_places == job.ticket.fact_places);
    CHECK(known_before(*read).fact_places == job.ticket.fact_places);
    answer_fact(job.ticket, "liquid", FactAnswer::not_so);
    CHECK(job.ticket.fact_places.empty());
    job.ticket.fact_places = {{"liquid", {"p1"}}};
    const auto refusal = parse_job(job_to_text(job), "places.json");
    REQUIRE_FALSE(refusal.ok());
    CHECK_THAT(refusal.error().text(), Catch::Contains("liquid"));
}
