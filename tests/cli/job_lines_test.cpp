// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/job_lines.h"

#include <catch2/catch.hpp>
#include <sstream>

#include "core/base/files.h"

using namespace eh;
using namespace eh::cli;
using nlohmann::json;

namespace {

// A demo job in one line, as the command reads it.
std::string job_line(const std::string& file) {
    const auto text = read_text_file(EH_SOURCE_DIR "/data/demo/" + file);
    REQUIRE(text);
    return json::parse(*text).dump();
}

}  // namespace

TEST_CASE("job files one a line are answered as one by one, whatever was asked before", "[cli]") {
    const auto shop = load_shop();
    REQUIRE(shop);
    std::stringstream in(job_line("5-D-2605.hound.json") + "\n" + job_line("2-D-2602.hound.json") +
                         "\n\n{\"format\": 1}\n" + job_line("5-D-2605.hound.json"));
    std::stringstream out;
    const auto answered = JobLines(*shop, 2).answer_all(in, out);
    INFO((answered ? std::string() : answered.error().text()));
    REQUIRE(answered);
    std::vector<json> answers;
    for (std::string line; std::getline(out, line);)
        answers.push_back(json::parse(line));
    REQUIRE(answers.size() == 4);
    const auto job = read_job(EH_SOURCE_DIR "/data/demo/5-D-2605.hound.json");
    REQUIRE(job);
    json alone = *diagnose(*shop, *job);
    alone.update(*next(*shop, *job, 2));
    CHECK(answers[0] == alone);
    CHECK(answers[3] == alone);
    CHECK(answers[1]["acts"].size() == 2);
    CHECK(answers[1]["suspects"] != answers[0]["suspects"]);
    // What is refused costs its own answer only, and says which line it is.
    CHECK_THAT(answers[2]["error"].get<std::string>(), Catch::Contains("standard input, line 4"));
}

namespace {

// Calls see(step) for each step of an hour's plan.
template <typename See>
void over_hour(const json& step, const See& see) {
    if (step.is_null())
        return;
    see(step);
    for (const json& fork : step["forks"])
        over_hour(fork.value("then", json()), see);
}

}  // namespace

TEST_CASE("the hour of a job begins with what is next, and a question is asked in words", "[cli][hour]") {
    const auto shop = load_shop();
    REQUIRE(shop);
    const auto read = read_job(EH_SOURCE_DIR "/data/demo/2-D-2602.hound.json");
    REQUIRE(read);
    Job job = *read;
    job.ticket.facts.clear();
    const auto planned = hour(*shop, job, 15.0);
    REQUIRE(planned);
    const auto proposed = next(*shop, job, 3);
    REQUIRE(proposed);
    const json& first = (*planned)["first"];
    CHECK(first["begins_minutes"] == 0.0);
    CHECK(first["act"]["title"] == (*proposed)["acts"][0]["title"]);
    std::size_t steps = 0;
    over_hour(first, [&](const json& step) {
        ++steps;
        CHECK(step["begins_minutes"] < 15.0);
        CHECK((step["forks"].empty()) == (step["act"]["act"] == "repair"));
        for (const json& fork : step["forks"]) {
            CHECK(fork["probability"] > 0.0);
            CHECK(fork.contains("then") == (fork["end"] == "goes_on"));
            CHECK(fork.contains("shows") == fork.contains("leads_to"));
        }
    });
    CHECK(steps > 1);
    job.readings.clear();
    const auto unread = next(*shop, job, 3);
    REQUIRE(unread);
    REQUIRE(unread->contains("ask"));
    const json& ask = (*unread)["ask"];
    CHECK_THAT(ask["question"].get<std::string>(), Catch::EndsWith("?"));
    answer_fact(job.ticket, ask["fact"].get<std::string>(), FactAnswer::unknown);
    CHECK(next(*shop, job, 3)->value("ask", json::object()).value("fact", "") != ask["fact"]);
    // A kind of machine that nobody knows is refused with a sentence.
    job.ticket.topology = "none";
    CHECK_FALSE(hour(*shop, job, 15.0));
}
