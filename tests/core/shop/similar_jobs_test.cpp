// SPDX-License-Identifier: GPL-3.0-or-later
// Likeness of jobs, held against what Gower's coefficient must do: its worked definition and its limits.
#include "core/shop/similar_jobs.h"

#include "core/base/random.h"
#include "core/shop/search_text.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Job job_with(const std::vector<Reading>& readings) {
    Job job;
    job.ticket.topology = chained;
    job.readings = readings;
    return job;
}

JobSignature ohms_of(double main, double vbus) {
    return signature_of(job_with(
        {ohms_reading("r1", for_ohms(), "main", main), ohms_reading("r2", for_ohms(), "vbus1", vbus)}));
}

}  // namespace

TEST_CASE("a signature holds what was read as the machine came in", "[similar]") {
    Job job =
        job_with({ohms_reading("r1", for_ohms(), "main", 0.4), ohms_reading("r2", for_ohms(), "main", 4000.0),
                  ohms_reading("r3", for_ohms(), "vbus1", 5.0)});
    const JobSignature all = signature_of(job);
    CHECK(all.size() == 2);
    CHECK(std::is_sorted(all.begin(), all.end()));
    // The first of two readings of the same net counts.
    CHECK(all == ohms_of(0.4, 5.0));
    job.readings[2].set_aside = true;
    CHECK(signature_of(job).size() == 1);
    // What is read after the work shows the repaired machine.
    job.acts.push_back({"a1", Work::replace, "sp2", "", 1.0, 0.0, "", 100, "", ""});
    job.readings.push_back(ohms_reading("r4", for_ohms(), "vin", 9.0));
    job.readings.back().taken_ms = 200;
    CHECK(signature_of(job).size() == 1);
    job.readings.back().taken_ms = 50;
    CHECK(signature_of(job).size() == 2);
    job.ticket.facts = {"liquid"};
    CHECK(signature_of(job).size() == 3);
    CHECK(signature_of(Job{}).empty());
}

TEST_CASE("small differences are alike, clear ones are not, wherever one stands on the scale", "[similar]") {
    const auto share = [](const JobSignature& a, const JobSignature& b) {
        const auto found = most_alike(a, std::vector<JobSignature>{b}, 1);
        return found.empty() ? 0.0 : found.front().share;
    };
    for (const double ohms : {0.3, 40.0, 5000.0, 2e6}) {
        CAPTURE(ohms);
        const double same = share(ohms_of(ohms, 7.0), ohms_of(ohms, 7.0));
        const double near = share(ohms_of(ohms, 7.0), ohms_of(1.1 * ohms, 7.0));
        const double far = share(ohms_of(ohms, 7.0), ohms_of(3.0 * ohms, 7.0));
        CHECK(same > near);
        CHECK(near > far);
        // Of three things, the assumed one among them, two agree; then one.
        CHECK(same == Approx(2.0 / 3.0).epsilon(0.01));
    }
    // Nothing in common is no likeness at all.
    CHECK(most_alike(ohms_of(1.0, 2.0), std::vector<JobSignature>{signature_of(job_with({}))}, 5).empty());
}

TEST_CASE("what all jobs share says little beside what few do", "[similar]") {
    // All have 5 ohms on vbus1; half a volt apart on main only one of a hundred has the short.
    std::vector<JobSignature> jobs(99, ohms_of(4000.0, 5.0));
    jobs.push_back(ohms_of(0.4, 900.0));
    const auto found = most_alike(ohms_of(0.4, 5.0), jobs, 3);
    REQUIRE(found.size() == 3);
    CHECK(found.front().index == 99);
    CHECK(found.front().alike == 1);
    CHECK(found.front().compared == 2);
}

TEST_CASE("likeness over random jobs: within 0 and 1, a copy is never beaten, order is by share",
          "[similar]") {
    Random random(7);
    const auto draw = [&] {
        std::vector<Reading> readings;
        for (const char* net : {"main", "vin", "vbus1", "vbus2", "ldo3v3"}) {
            if (random.uniform() < 0.7)
                readings.push_back(
                    ohms_reading(net, for_ohms(), net, std::pow(10.0, 7.0 * random.uniform() - 1.0)));
        }
        return signature_of(job_with(readings));
    };
    for (int round = 0; round < 50; ++round) {
        std::vector<JobSignature> jobs;
        for (int i = 0; i < 40; ++i)
            jobs.push_back(draw());
        const JobSignature asked = draw();
        if (asked.empty())
            continue;
        jobs.push_back(asked);
        const auto found = most_alike(asked, jobs, jobs.size());
        REQUIRE_FALSE(found.empty());
        double copy = 0.0;
        for (const Likeness& likeness : found) {
            CHECK(likeness.share > 0.0);
            CHECK(likeness.share < 1.0);
            CHECK(likeness.alike <= likeness.compared);
            if (likeness.index == jobs.size() - 1)
                copy = likeness.share;
        }
        CHECK(found.front().share == Approx(copy));
        CHECK(std::is_sorted(found.begin(), found.end(),
                             [](const Likeness& a, const Likeness& b) { return a.share > b.share; }));
    }
}

TEST_CASE("the text of a search holds every word that somebody may remember", "[similar]") {
    Job job;
    job.ticket.number = "N-1";
    job.ticket.claim = "fell";
    job.technician = "A.";
    job.waiting.note = "asks her brother";
    job.findings.push_back({"f1", "corroded", 0});
    job.acts.push_back({"a1", Work::replace, "sp2", "donor", 1.0, 0.0, "torn", 0, "", ""});
    Reading reading = ohms_reading("r1", for_ohms(), "main", 1.0);
    reading.note = "drifts";
    job.readings = {reading};
    const std::string text = search_text(job);
    for (const char* word :
         {"N-1", "fell", "A.", "brother", "corroded", "sp2", "donor", "torn", "main", "drifts"})
        CHECK_THAT(text, Catch::Contains(word));
}
