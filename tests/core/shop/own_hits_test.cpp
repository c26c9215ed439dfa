// SPDX-License-Identifier: GPL-3.0-or-later
// The program's own record, held against R's score interval and against simulated worlds of known
// calibration.
#include "core/shop/own_hits.h"

#include <array>
#include <cstdio>
#include <memory>
#include <sstream>

#include "core/base/random.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Job judged_job(double said, bool right) {
    Job job;
    job.ticket.topology = chained;
    job.acts.push_back({"a1", Work::replace, "sp2", "", 1.0, 0.0, "", 0, "", ""});
    job.proof.emplace_back();
    job.proof.back().state = ProofState::passed;
    job.said = {
        1, {{right ? "sp2" : "memory", Work::replace, said}, {right ? "memory" : "sp2", Work::replace, 0.1}}};
    return job;
}

// Jobs whose parts come true with probability pow(said, pull): 1 is calibrated, above 1 is too sure.
OwnHits world(std::uint64_t seed, int jobs, double pull) {
    Random random(seed);
    std::vector<Job> all;
    for (int i = 0; i < jobs; ++i) {
        const double said = 0.3 + 0.69 * random.uniform();
        all.push_back(judged_job(said, random.uniform() < std::pow(said, pull)));
    }
    return own_hits(all);
}

}  // namespace

TEST_CASE("only jobs in which something was said and something is proven are judged", "[hits]") {
    CHECK(judge_job(judged_job(0.7, true))->first);
    CHECK_FALSE(judge_job(judged_job(0.7, false))->first);
    CHECK(judge_job(judged_job(0.7, false))->among_two);
    Job silent = judged_job(0.7, true);
    silent.said = {};
    CHECK_FALSE(judge_job(silent).has_value());
    Job unproven = judged_job(0.7, true);
    unproven.proof.front().state = ProofState::open;
    CHECK_FALSE(judge_job(unproven).has_value());
    CHECK(own_hits({silent, unproven}).judged == 0);
    CHECK_THAT(describe(own_hits({})), Catch::Contains("No job yet"));
}

TEST_CASE("waiting said and a new part cured is no hit, one kind of soldering for another is", "[hits]") {
    const auto hit = [](Work said, Work cured) {
        Job job = judged_job(0.7, true);
        job.said.repairs.front().work = said;
        job.acts.front().kind = cured;
        return judge_job(job)->first;
    };
    CHECK(hit(Work::replace, Work::replace));
    CHECK(hit(Work::replace, Work::reflow));
    CHECK(hit(Work::change_setting, Work::change_setting));
    CHECK(hit(Work::wait, Work::other));
    CHECK_FALSE(hit(Work::wait, Work::replace));
    CHECK_FALSE(hit(Work::replace, Work::change_setting));
}

TEST_CASE("the interval of a share equals R's score interval", "[hits][r]") {
    // prop.test(x, n, correct = FALSE) gives Wilson's interval (R, package stats).
    const std::unique_ptr<FILE, int (*)(FILE*)> r(
        popen(
            "Rscript -e 'for (n in c(1, 5, 20, 137)) for (x in unique(c(0, 1, n %/% 2, n))) "
            "cat(x, n, format(prop.test(x, n, correct = FALSE)$conf.int, digits = 12), \"\\n\")' 2>/dev/null",
            "r"),
        pclose);
    REQUIRE(r);
    std::array<char, 200> line{};
    int compared = 0;
    while (std::fgets(line.data(), static_cast<int>(line.size()), r.get()) != nullptr) {
        int x = 0;
        int n = 0;
        double low = 0.0;
        double high = 0.0;
        std::istringstream words(line.data());  // a stream keeps the point, whatever the locale
        REQUIRE(words >> x >> n >> low >> high);
        const ShareBand band = share_band(x, n);
        CAPTURE(x, n);
        CHECK(band.low == Approx(low).margin(1e-9));
        CHECK(band.high == Approx(high).margin(1e-9));
        ++compared;
    }
    CHECK(compared >= 12);
}

TEST_CASE("too sure and not sure enough are told from percentages that hold", "[hits]") {
    int alarms = 0;
    for (std::uint64_t seed = 1; seed <= 200; ++seed)
        alarms += std::abs(world(seed, 150, 1.0).z) > 1.96 ? 1 : 0;
    // Of 200 calibrated worlds about 5 % look otherwise by chance; 20 is three standard deviations above.
    CHECK(alarms <= 20);
    CHECK(alarms >= 1);
    CHECK_THAT(describe(world(1, 400, 4.0)), Catch::Contains("too sure"));
    CHECK_THAT(describe(world(2, 400, 0.15)), Catch::Contains("could be surer"));
    CHECK_THAT(describe(world(3, 10, 1.0)), Catch::Contains("Too few"));
}

TEST_CASE("bins hold every job once and the error lies within 0 and 1", "[hits]") {
    const OwnHits hits = world(5, 300, 1.0);
    int jobs = 0;
    for (const SaidBin& bin : hits.bins) {
        jobs += bin.jobs;
        if (bin.jobs > 0)
            CHECK(bin.right <= 1.0);
    }
    CHECK(jobs == hits.judged);
    CHECK(hits.calibration_error < 0.2);
    CHECK(static_cast<int>(hits.wrong.size()) ==
          static_cast<int>(std::lround(300 * (1.0 - hits.first.share))));
    // Certain and right: nothing to hold against it.
    const OwnHits certain = own_hits(std::vector<Job>(30, judged_job(1.0, true)));
    CHECK(certain.z == 0.0);
    CHECK(certain.calibration_error == Approx(0.0));
}
