// SPDX-License-Identifier: GPL-3.0-or-later
// Two states of one job that meet.
#include <catch2/catch.hpp>

#include "core/job/job_merge.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Job base_job() {
    Job job;
    job.id = "j1";
    job.created_ms = 1000;
    job.ticket.topology = chained;
    job.readings = {open_reading("r1", for_ohms(), "vbus1")};
    return job;
}

}  // namespace

TEST_CASE("The same job has no differences, and each kind of difference is said", "[job][merge]") {
    const Job ours = base_job();
    CHECK(differences(ours, ours).empty());
    Job theirs = ours;
    theirs.handover.found = "crust";
    REQUIRE(differences(ours, theirs).size() == 1);
    theirs = ours;
    theirs.ticket.customer = "B";
    CHECK(differences(ours, theirs) == std::vector<std::string>{"The ticket differs."});
    theirs = ours;
    theirs.readings.clear();
    CHECK(differences(ours, theirs) == std::vector<std::string>{"1 reading is only in the shop."});
    theirs = ours;
    theirs.readings[0].taken_ms = 5000;
    CHECK_THAT(differences(ours, theirs).front(), Catch::Contains("newer"));
    CHECK_THAT(differences(theirs, ours).front(), Catch::Contains("older"));
}

TEST_CASE("Whichever state is kept, no reading of either is lost, and none is doubled", "[job][merge]") {
    const Job ours = base_job();
    Job theirs = base_job();
    theirs.readings[0] = ohms_reading("r1", for_ohms(), "main", 0.5);  // the same id, another reading
    theirs.readings.push_back(ohms_reading("r2", for_ohms(), "vin", 7.0));
    const Job met = with_readings_of(ours, theirs);
    REQUIRE(met.readings.size() == 3);
    CHECK(met.readings[0] == ours.readings[0]);
    for (std::size_t i = 0; i < met.readings.size(); ++i) {
        for (std::size_t k = 0; k < i; ++k)
            CHECK(met.readings[i].id != met.readings[k].id);
    }
    CHECK(with_readings_of(met, ours) == met);
    CHECK(with_readings_of(ours, ours) == ours);
}
