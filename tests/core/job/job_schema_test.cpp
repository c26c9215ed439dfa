// SPDX-License-Identifier: GPL-3.0-or-later
// The reader of job files against their published schema.
#include "core/job/job_schema.h"

#include <catch2/catch.hpp>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/random.h"
#include "core/job/job_json.h"
#include "core/machine/knowledge/load_knowledge.h"

using namespace eh;
using nlohmann::json;

namespace {

const JobSchema& schema() {
    static const JobSchema read = JobSchema::load(default_data_directory()).value();
    return read;
}

std::vector<std::string> example_jobs() {
    std::vector<std::string> texts;
    for (const auto& entry : std::filesystem::directory_iterator(default_data_directory() / "demo"))
        if (entry.path().string().find(".hound.json") != std::string::npos)
            texts.push_back(*read_text_file(entry.path()));
    REQUIRE(texts.size() >= 3);
    return texts;
}

// Every value in a document, to be spoiled one at a time.
void collect(json& value, std::vector<json*>& all) {
    all.push_back(&value);
    if (value.is_structured())
        for (json& inner : value)
            collect(inner, all);
}

}  // namespace

TEST_CASE("the jobs of the demo come in, with fields of a later program too", "[job][schema]") {
    for (const std::string& text : example_jobs()) {
        CHECK(admit_job(text, "demo", schema()).ok());
        json more = json::parse(text);
        more["of_a_later_program"] = 3;
        for (json& reading : more["readings"])
            reading["smell"] = "burnt";
        CHECK(admit_job(more.dump(), "demo", schema()).ok());
    }
}

TEST_CASE("what the schema refuses names the field", "[job][schema]") {
    json job = json::parse(example_jobs().front());
    REQUIRE(job["readings"].size() > 1);
    job["readings"][1]["configuration"]["board_out"] = "yes";
    const Outcome outcome = schema().check(job, "a.hound.json");
    REQUIRE_FALSE(outcome.ok());
    CHECK_THAT(outcome.error().text(), Catch::Contains("a.hound.json, readings[1].configuration.board_out"));
    CHECK_FALSE(JobSchema::read("[", "broken").ok());
    CHECK_FALSE(JobSchema::read(R"({"$ref": "#/nowhere"})", "broken").ok());
}

TEST_CASE("whatever the reader lets in and writes again fits the schema", "[job][schema]") {
    // Values of the demo's jobs are changed for others, one or two at a time.
    Random random(77);
    const std::vector<json> others{nullptr, true, -1,  0.5,           1e300,
                                   "",      "OL", "x", json::array(), json::object()};
    int let_in = 0;
    for (const std::string& text : example_jobs()) {
        for (int round = 0; round < 400; ++round) {
            json job = json::parse(text);
            for (int spoiled = random.below(2); spoiled >= 0; --spoiled) {
                std::vector<json*> all;
                collect(job, all);
                *all[static_cast<std::size_t>(random.below(static_cast<int>(all.size())))] =
                    others[static_cast<std::size_t>(random.below(static_cast<int>(others.size())))];
            }
            const auto read = parse_job(job.dump(), "spoiled");
            if (!read)
                continue;
            ++let_in;
            const std::string again = job_to_text(*read);
            const Outcome fits = schema().check(json::parse(again), "again");
            CAPTURE(again, fits.ok() ? std::string() : fits.error().text());
            CHECK(fits.ok());
        }
    }
    CHECK(let_in > 100);
}

TEST_CASE("the schema refuses what the reader passes over", "[job][schema]") {
    // Beyond extra-low voltage no supply of a bench feeds a board: the reader knows volts up to a thousand.
    json job = json::parse(example_jobs().front());
    REQUIRE_FALSE(job["readings"].empty());
    job["readings"][0]["configuration"]["injection"] = {
        {"net", "vbus1"}, {"volts", 200.0}, {"limit_amps", 3.0}};
    CHECK(parse_job(job.dump(), "a").ok());
    const auto admitted = admit_job(job.dump(), "a", schema());
    REQUIRE_FALSE(admitted.ok());
    CHECK_THAT(admitted.error().text(), Catch::Contains("readings[0].configuration.injection.volts"));
}
