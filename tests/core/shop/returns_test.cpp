// SPDX-License-Identifier: GPL-3.0-or-later
// What comes back: linking jobs, groups, and how two of them compare.
#include "core/shop/returns.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/random.h"
#include "core/job/job_json.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

constexpr std::int64_t day_ms = 86400000;

Job handed_job(const std::string& number, std::int64_t handed_day, const std::string& solder) {
    Job job;
    job.id = JobId::made(number);
    job.ticket.number = number;
    job.ticket.topology = chained;
    job.technician = "A";
    job.created_ms = (handed_day - 1) * day_ms;
    job.handover.handed_ms = handed_day * day_ms;
    Act act;
    act.id = "a1";
    act.kind = Work::replace;
    act.block = "rec1";
    act.minutes = 40.0;
    act.solder = solder;
    act.school = "original_kept";
    job.acts = {act};
    return job;
}

}  // namespace

TEST_CASE("a job that names an earlier one ends how long that held", "[shop][returns]") {
    std::vector<Job> jobs{handed_job("1", 10, "sac305"), handed_job("2", 20, "sac305"),
                          handed_job("3", 30, "")};
    jobs[2].ticket.return_of = "1";
    Job not_handed = handed_job("4", 40, "sac305");
    not_handed.handover.handed_ms = 0;
    jobs.push_back(not_handed);
    const auto repairs = handed_repairs(shipped_knowledge(), jobs, 100 * day_ms);
    REQUIRE(repairs.size() == 3);
    CHECK(repairs[0].held.came_back);
    CHECK(repairs[0].held.days == Approx(19.0));  // taken in again on day 29
    CHECK_FALSE(repairs[1].held.came_back);
    CHECK(repairs[1].held.days == Approx(80.0));
    CHECK(repairs[0].part_kind == "USB-C receptacle");
    const auto groups = group_returns(repairs, ReturnGrouping::solder);
    REQUIRE(groups.size() == 2);
    CHECK(groups[0].name == "sac305");
    CHECK(groups[0].cases.size() == 2);
    CHECK(groups[0].returns() == 1);
    CHECK(group_returns(repairs, ReturnGrouping::work).front().name == "replace, USB-C receptacle");
    CHECK(group_returns(repairs, ReturnGrouping::technician).front().name == "A");
    // A clock that was set back gives no negative days.
    CHECK(handed_repairs(shipped_knowledge(), jobs, 0)[1].held.days == 0.0);
    const auto minutes = minutes_of_work(shipped_knowledge(), jobs);
    REQUIRE(minutes.size() == 1);
    CHECK(minutes[0].count == 4);
    CHECK(minutes[0].median_minutes == 40.0);
}

TEST_CASE("few cases are called too few, like groups alike, and different ones different",
          "[shop][returns]") {
    Random random(77);
    const auto group = [&](const char* name, double mean_days, int count) {
        ReturnGroup made{name, {}};
        for (int i = 0; i < count; ++i) {
            const double back = -mean_days * std::log(1.0 - random.uniform());
            const double followed = 60.0 + 300.0 * random.uniform();
            made.cases.push_back({std::min(back, followed), back <= followed});
        }
        return made;
    };
    CHECK(compare_returns(group("a", 100, 5), group("b", 100, 50)).find("Too few") != std::string::npos);
    const std::string different = compare_returns(group("bismuth", 80, 80), group("leaded", 800, 80));
    CHECK(different.find("“leaded” holds longer than “bismuth”") != std::string::npos);
    int differences = 0;
    for (int i = 0; i < 100; ++i)
        differences += compare_returns(group("a", 200, 60), group("b", 200, 60)).find("holds longer") !=
                       std::string::npos;
    CHECK(differences <= 12);  // one in twenty by chance
}

TEST_CASE("what returns are counted by goes to the job's file and comes back", "[shop][returns]") {
    Job job = handed_job("7", 3, "sn42bi58");
    job.ticket.return_of = "5";
    const auto back = parse_job(job_to_text(job), "job");
    REQUIRE(back.ok());
    CHECK(*back == job);
}

TEST_CASE("minutes of steps are those of their timers, the middle of each", "[shop][returns]") {
    const auto job_with = [](std::vector<StepDone> done) {
        Job job;
        job.rework.runs.push_back({"receptacle", "rec1", {}, std::move(done)});
        return job;
    };
    const auto list =
        minutes_of_steps({job_with({{"lift", 1, 120.0}, {"wash", 2, 0.0}}),
                          job_with({{"lift", 1, 240.0}, {"dry", 2, 600.0}}), job_with({{"lift", 1, 180.0}})});
    REQUIRE(list.size() == 2);  // a step without a timer took no minutes that anybody knows
    CHECK(list[0].work == "lift");
    CHECK(list[0].count == 3);
    CHECK(list[0].median_minutes == Approx(3.0));
    CHECK(list[0].longest_minutes == Approx(4.0));
    CHECK(list[1].work == "dry");
    CHECK(minutes_of_steps({}).empty());
}
