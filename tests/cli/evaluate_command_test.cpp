// SPDX-License-Identifier: GPL-3.0-or-later
// The evaluation on the command line.
#include <nlohmann/json.hpp>

#include "tests/support/program.h"

using eh::test::Run;
using eh::test::run;
using nlohmann::json;

TEST_CASE("evaluate prints accuracy, calibration and minutes", "[cli][played]") {
    const Run result = run({"evaluate", "--topology", "barrel-id", "--machines", "2", "--seed", "3"});
    REQUIRE(result.code == 0);
    const json answer = json::parse(result.out)["topologies"]["barrel-id"];
    CHECK(answer["machines"] == 2);
    CHECK(answer["right_first"].get<double>() >= 0.5);
    CHECK(answer["mean_minutes"].get<double>() > 0.0);
    CHECK(answer.contains("calibration_error"));
    CHECK(json::parse(result.out)["strangers"]["all"]["machines"] == 2);
}

TEST_CASE("evaluate lists its machines when asked, each with what was wrong, named and read",
          "[cli][played]") {
    const QStringList arguments{"evaluate", "--topology", "barrel-id", "--machines", "3",
                                "--seed",   "8",          "--cases",   "--world",    "home"};
    const Run result = run(arguments);
    REQUIRE(result.code == 0);
    const json answer = json::parse(result.out)["topologies"]["barrel-id"];
    REQUIRE(answer["cases"].size() == 3);
    int right = 0;
    for (const json& one : answer["cases"]) {
        CHECK_FALSE(one["truth"].get<std::string>().empty());
        CHECK_FALSE(one["named"].get<std::string>().empty());
        CHECK(one["stated"].get<double>() <= 1.0);
        CHECK_FALSE(one["course"].empty());
        right += one["right"].get<bool>() ? 1 : 0;
    }
    CHECK(answer["right_first"].get<double>() == Approx(right / 3.0));
    // The same seed plays the same machines in the same way. Threads share what they predict, and a solver
    // that starts where another machine stood stops within 1e-6 of the volts, not at the same last place.
    const json again = json::parse(run(arguments).out)["topologies"]["barrel-id"];
    REQUIRE(again["cases"].size() == answer["cases"].size());
    for (std::size_t i = 0; i < answer["cases"].size(); ++i) {
        const json& one = answer["cases"][i];
        const json& other = again["cases"][i];
        CHECK(other["truth"] == one["truth"]);
        CHECK(other["named"] == one["named"]);
        CHECK(other["course"].size() == one["course"].size());
        CHECK(other["stated"].get<double>() == Approx(one["stated"].get<double>()).epsilon(1e-6));
    }
}
