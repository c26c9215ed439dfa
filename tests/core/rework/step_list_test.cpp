// SPDX-License-Identifier: GPL-3.0-or-later
// Step lists: what every list must keep to, whatever the machine is like.
#include "core/rework/step_list.h"

#include <algorithm>
#include <catch2/catch.hpp>

#include "core/base/random.h"
#include "core/job/job_json.h"
#include "core/job/rework_record.h"
#include "tests/support/rework.h"

using namespace eh;

namespace {

std::size_t place_of(const std::vector<RepairStep>& steps, const std::string& id) {
    const auto found =
        std::find_if(steps.begin(), steps.end(), [&](const RepairStep& step) { return step.id == id; });
    return static_cast<std::size_t>(found - steps.begin());
}

}  // namespace

TEST_CASE("every list of steps keeps to the order that keeps people and boards whole", "[rework][steps]") {
    // Common practice: battery first, before probe or heat; test before the last anchors and before the
    // screws; dry before power; screws read back.
    const RepairBook& book = test::rework().repairs;
    Random random(17);
    for (const RepairKind& repair : book.repairs)
        for (int round = 0; round < 40; ++round) {
            std::set<std::string> facts;
            for (const StepFact& fact : book.facts)
                if (random.uniform() < 0.5)
                    facts.insert(fact.id);
            const auto steps = make_steps(book, repair, facts);
            CAPTURE(repair.id, round);
            const auto first_of = [&](StepPhase phase) {
                return static_cast<std::size_t>(
                    std::find_if(steps.begin(), steps.end(),
                                 [&](const RepairStep& s) { return s.phase == phase; }) -
                    steps.begin());
            };
            CHECK(std::is_sorted(steps.begin(), steps.end(),
                                 [](const RepairStep& a, const RepairStep& b) { return a.phase < b.phase; }));
            if (facts.count("battery_inside") != 0) {
                const std::size_t battery = place_of(steps, "battery_off");
                REQUIRE(battery < steps.size());
                // Only opening the case comes before it; no heat, no other connector.
                CHECK(battery == place_of(steps, "open_case") + 1);
                CHECK(battery < first_of(StepPhase::remove));
                CHECK(steps[battery].cautions == std::vector<std::string>{"lithium"});
                CHECK(place_of(steps, "battery_on") > first_of(StepPhase::test));
            }
            for (const RepairStep& step : steps)
                if (step.needs == StepNeeds::heat_timer)
                    CHECK_FALSE(step.cautions.empty());
            CHECK(place_of(steps, "bench_test") < steps.size());
            CHECK(first_of(StepPhase::test) <
                  first_of(StepPhase::anchors) + (first_of(StepPhase::anchors) == steps.size()));
            CHECK(place_of(steps, "bench_test") < place_of(steps, "screws_back"));
            if (facts.count("wash") != 0) {
                CHECK(place_of(steps, "wash_board") < place_of(steps, "dry_board"));
                CHECK(place_of(steps, "dry_board") < first_of(StepPhase::close));
            }
            CHECK(steps.back().phase == StepPhase::prove);
            const std::set<std::string> ids = [&] {
                std::set<std::string> all;
                for (const RepairStep& step : steps)
                    all.insert(step.id);
                return all;
            }();
            CHECK(ids.size() == steps.size());
        }
}

TEST_CASE("bismuth asks for clean pads, and lead is not put in before it", "[rework][steps]") {
    const RepairBook& book = test::rework().repairs;
    const auto with = make_steps(book, *book.find("controller"), {"bismuth", "lead_free"});
    CHECK(place_of(with, "clean_switch") < with.size());
    CHECK(place_of(with, "lead_in") == with.size());
    const auto without = make_steps(book, *book.find("controller"), {"lead_free"});
    CHECK(place_of(without, "clean_switch") == without.size());
    CHECK(place_of(without, "lead_in") < place_of(without, "lift"));
}

TEST_CASE("the repairs that the trade does are there, with the right one for a part", "[rework][steps]") {
    const RepairBook& book = test::rework().repairs;
    CHECK(book.repairs.size() == 10);
    CHECK(book.usual_for("usbc_receptacle", Work::replace)->id == "receptacle_board");
    CHECK(book.usual_for("port_controller", Work::reflow)->id == "controller");
    CHECK(book.usual_for("capacitor", Work::replace)->id == "small_part");
    CHECK(book.usual_for("sense_jack", Work::bridge)->id == "sense_bridge");
    CHECK(book.usual_for("usbc_receptacle", Work::reseat)->id == "inlet_mount");
    CHECK(book.usual_for("battery_pack", Work::wait) == nullptr);
    for (const RepairKind& repair : book.repairs)
        CHECK_FALSE(facts_that_matter(book, repair).empty());
}

TEST_CASE("a file of repairs with unknown facts or steps twice is refused", "[rework][steps]") {
    const auto text = [](const std::string& step) {
        return R"({"format":"eager-hound.repairs/1","facts":[{"id":"wash","title":"?"}],"cautions":[],"common":[],
          "repairs":[{"id":"r","title":"R","steps":[)" +
               step + "]}]}";
    };
    CHECK(parse_repairs(text(R"({"id":"a","phase":"fit","says":"do","when":["wash"]})"), "f").ok());
    for (const char* wrong :
         {R"({"id":"a","phase":"fit","says":"do","when":["snow"]})",
          R"({"id":"a","phase":"never","says":"do"})",
          R"({"id":"a","phase":"fit","says":"do","cautions":["none"]})",
          R"({"id":"a","phase":"fit","says":"do"},{"id":"a","phase":"fit","says":"again"})", ""})
        CHECK_FALSE(parse_repairs(text(wrong), "f").ok());
}

TEST_CASE("what comes out is typed in a line and read back", "[rework][opening]") {
    OpeningItem item = parse_opening_line("3 screws 4.5 mm left edge");
    CHECK(item.kind == OpeningKind::screw);
    CHECK(item.count == 3);
    CHECK(item.length_mm == Approx(4.5));
    CHECK(item.place == "left edge");
    item = parse_opening_line("hinge 6mm 2");
    CHECK(item.kind == OpeningKind::screw);
    CHECK(item.count == 2);
    CHECK(item.place == "hinge");
    item = parse_opening_line("display cable");
    CHECK(item.kind == OpeningKind::connector);
    CHECK(item.count == 1);
    CHECK(item.place == "display cable");
    CHECK(parse_opening_line("foot").kind == OpeningKind::other);

    std::vector<OpeningItem> opening{parse_opening_line("3 screws 3 mm edge"),
                                     parse_opening_line("1 screw 6 mm edge"),
                                     parse_opening_line("fan cable")};
    ClosingCheck check = check_closing(opening);
    CHECK(check.out == 5);
    CHECK(check.back == 0);
    REQUIRE(check.missing.size() == 3);
    CHECK(check.missing[0].find("fan cable") != std::string::npos);
    REQUIRE(check.mind.size() == 1);
    CHECK(check.mind[0].find("3 to 6 mm") != std::string::npos);
    for (OpeningItem& each : opening)
        each.back = each.count;
    opening[0].back = 2;
    check = check_closing(opening);
    REQUIRE(check.missing.size() == 1);
    CHECK(check.missing[0] == "1 of 3 screws, 3 mm, edge");
}

TEST_CASE("the rework of a job goes to its file and comes back", "[rework][opening]") {
    Job job;
    job.id = "x";
    job.ticket.topology = "usbc-dual";
    job.rework.runs.push_back(
        {"receptacle_board", "j1", {"wash"}, {{"open_case", 5, 0.0}, {"lift", 9, 48.0}}});
    job.rework.opening.push_back({"o1", OpeningKind::screw, "edge", 4, 3, 2.5, "one is longer"});
    job.rework.photos.push_back({"p1", "photo_before", "p1.jpg", "before"});
    const auto back = parse_job(job_to_text(job), "job");
    REQUIRE(back.ok());
    CHECK(*back == job);
    std::string more_back = job_to_text(job);
    more_back.replace(more_back.find("\"back\": 3"), 9, "\"back\": 7");
    CHECK_FALSE(parse_job(more_back, "job").ok());
}
