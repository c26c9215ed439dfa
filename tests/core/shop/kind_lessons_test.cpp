// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shop/kind_lessons.h"

#include <catch2/catch.hpp>

#include "core/job/design_lesson_json.h"
#include "core/job/job_json.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

DesignLesson lesson_of(double log_odds, double ohms) {
    DesignLesson lesson;
    lesson.habits[0] = log_odds;
    lesson.sound_ohms["vin"] = ohms;
    return lesson;
}

Job job_of(const std::string& id, const std::string& machine) {
    Job job;
    job.id = JobId::from(id, "id").value();
    job.ticket.machine = machine;
    job.ticket.topology = "usbc-dual";
    return job;
}

Job proved(Job job, const std::string& block) {
    Act act;
    act.kind = Work::replace;
    act.block = block;
    job.acts.push_back(act);
    ProofStep step;
    step.state = ProofState::passed;
    job.proof.push_back(step);
    return job;
}

}  // namespace

TEST_CASE("odds of several machines multiply, and of ohms it is the middle one", "[lessons]") {
    CHECK(together({}) == DesignLesson{});
    const auto sum = together({lesson_of(1.0, 100.0), lesson_of(2.0, 1e4), lesson_of(-0.5, 1e3)});
    CHECK(sum.habits[0] == Approx(2.5));
    CHECK(sum.habits[1] == 0.0);
    CHECK(sum.sound_ohms.at("vin") == Approx(1e3));
}

TEST_CASE("ohms that were learnt are known ohms, but where the machine's file knows better", "[lessons]") {
    Topology topology;
    topology.nets.resize(2);
    topology.nets[0].id = "vin";
    topology.nets[1].id = "main";
    topology.nets[1].known_ohms = 50.0;
    const Topology taught = with_sound_ohms(topology, {{"vin", 120.0}, {"main", 7.0}, {"nowhere", 1.0}});
    CHECK(taught.nets[0].known_ohms == 120.0);
    CHECK(taught.nets[1].known_ohms == 50.0);
}

TEST_CASE("a machine learns from others of its name and build, never from itself", "[lessons]") {
    Job first = job_of("a", "Demo  Book 14");
    first.lesson = lesson_of(1.0, 100.0);
    Job other = job_of("b", "Demo Book 15");
    other.lesson = lesson_of(1.0, 100.0);
    Job chained_one = job_of("c", "demo book 14");
    chained_one.ticket.topology = chained;
    chained_one.lesson = lesson_of(1.0, 100.0);
    Job unlike = job_of("d", "Demo Book 14");
    unlike.lesson = lesson_of(1.0, 100.0);
    unlike.ticket.like_its_kind = false;
    const auto taught = taught_machines({first, other, chained_one, unlike, job_of("e", "Demo Book 14")});
    CHECK(taught.size() == 3);

    Job next = job_of("f", " demobook 14");
    REQUIRE(teachers_of(next, taught).size() == 1);
    CHECK(teachers_of(next, taught).front().job == first.id);
    CHECK(teachers_of(first, taught).empty());
    next.ticket.like_its_kind = false;
    CHECK(teachers_of(next, taught).empty());
    CHECK(teachers_of(job_of("g", "  "), taught).empty());
}

TEST_CASE("only a proved repair of a machine with a name teaches", "[lessons]") {
    CHECK(teaching_part(proved(job_of("a", "Demo"), "pc")) == "pc");
    CHECK(teaching_part(proved(job_of("a", ""), "pc")).empty());
    CHECK(teaching_part(job_of("a", "Demo")).empty());
    Job open = proved(job_of("a", "Demo"), "pc");
    open.proof.front().state = ProofState::open;
    CHECK(teaching_part(open).empty());
    Job unlike = proved(job_of("a", "Demo"), "pc");
    unlike.ticket.like_its_kind = false;
    CHECK(teaching_part(unlike).empty());
}

TEST_CASE("a job file holds its lesson, and refuses what no reading teaches", "[lessons][job]") {
    Job job = job_of("a", "Demo");
    job.lesson = lesson_of(1.5, 100.0);
    job.ticket.like_its_kind = false;
    const auto back = parse_job(job_to_text(job), "a.hound.json");
    REQUIRE(back);
    CHECK(*back == job);
    const auto refusal = [&](const std::string& from, const std::string& to) {
        std::string text = job_to_text(job);
        text.replace(text.find(from), from.size(), to);
        const auto read = parse_job(text, "a.hound.json");
        return read ? std::string() : read.error().text();
    };
    CHECK_THAT(refusal("1.5", "1e9"), Catch::Contains("habits"));
    CHECK_THAT(refusal("\"vin\": 100.0", "\"vin\": 0.0"), Catch::Contains("sound_ohms"));
    // A habit that a newer program knows is passed over.
    CHECK(refusal("acknowledges_without_program", "sings_when_charged").empty());
}
