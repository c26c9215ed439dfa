// SPDX-License-Identifier: GPL-3.0-or-later
// Survival curves and the log-rank test, against the published worked example and R's survival package.
#include "core/shop/survival.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/base/random.h"

using namespace eh;

namespace {

// Weeks of remission, Freireich et al. (1963), as the textbooks print them: 21 patients with 6-MP, 21 with
// placebo.
std::vector<SurvivalCase> six_mp() {
    std::vector<SurvivalCase> cases;
    for (const double weeks : {6., 6., 6., 7., 10., 13., 16., 22., 23.})
        cases.push_back({weeks, true});
    for (const double weeks : {6., 9., 10., 11., 17., 19., 20., 25., 32., 32., 34., 35.})
        cases.push_back({weeks, false});
    return cases;
}

std::vector<SurvivalCase> placebo() {
    std::vector<SurvivalCase> cases;
    for (const double weeks :
         {1., 1., 2., 2., 3., 4., 4., 5., 5., 8., 8., 8., 8., 11., 11., 12., 12., 15., 17., 22., 23.})
        cases.push_back({weeks, true});
    return cases;
}

// Runs an R program over the cases; its numbers.
std::vector<double> by_r(const std::vector<SurvivalCase>& a, const std::vector<SurvivalCase>& b,
                         const std::string& program) {
    char folder[] = "/tmp/survival-XXXXXX";
    REQUIRE(mkdtemp(folder) != nullptr);
    const std::filesystem::path path(folder);
    {
        std::ofstream data(path / "cases.csv");
        data << "t,e,g\n";
        for (const auto& [group, list] : {std::pair{1, &a}, {2, &b}})
            for (const SurvivalCase& each : *list)
                data << each.days << ',' << each.came_back << ',' << group << '\n';
        std::ofstream(path / "run.R")
            << "library(survival)\nd <- read.csv('" << (path / "cases.csv").string() << "')\n"
            << program;
    }
    const std::string command =
        "Rscript --vanilla " + (path / "run.R").string() + " > " + (path / "out.txt").string() + " 2>&1";
    REQUIRE(std::system(command.c_str()) == 0);
    std::ifstream out(path / "out.txt");
    std::vector<double> numbers;
    for (double number = 0.0; out >> number;)
        numbers.push_back(number);
    std::filesystem::remove_all(path);
    return numbers;
}

}  // namespace

TEST_CASE("the 6-MP remission times give the curve of the textbooks", "[shop][survival]") {
    // Kaplan-Meier estimates for 6-MP as printed in textbooks of survival analysis: 0.8571, 0.8067, 0.7529,
    // 0.6902, 0.6275, 0.5378, 0.4482; log-rank 16.79 (from memory).
    const auto curve = kaplan_meier(six_mp());
    REQUIRE(curve.ok());
    const double printed[] = {0.8571, 0.8067, 0.7529, 0.6902, 0.6275, 0.5378, 0.4482};
    REQUIRE(curve->size() == 7);
    for (std::size_t i = 0; i < curve->size(); ++i)
        CHECK((*curve)[i].holds == Approx(printed[i]).margin(5e-5));
    CHECK((*curve)[0].at_risk == 21);
    CHECK((*curve)[0].error == Approx(0.0764).margin(5e-5));
    const auto test = log_rank(six_mp(), placebo());
    REQUIRE(test.ok());
    CHECK(test->chi_squared == Approx(16.79).margin(0.005));
    CHECK(test->p < 1e-4);
    CHECK(test->expected[0] == Approx(19.25).margin(0.005));
    CHECK(test->expected[1] == Approx(10.75).margin(0.005));
    CHECK(holds_after(*curve, 12.0) == Approx(0.7529).margin(5e-5));
    CHECK(holds_after(*curve, 3.0) == 1.0);
}

TEST_CASE("curves, bands and tests agree with R's survival package", "[shop][survival]") {
    Random random(63);
    for (int round = 0; round < 3; ++round) {
        std::vector<SurvivalCase> groups[2];
        if (round == 0) {
            groups[0] = six_mp();
            groups[1] = placebo();
        } else {
            for (int i = 0; i < 120; ++i) {
                const double back = -90.0 * (i % 2 + 1) * std::log(1.0 - random.uniform());
                const double followed = 200.0 * random.uniform();
                groups[i % 2].push_back({std::floor(std::min(back, followed)), back <= followed});
            }
        }
        const auto curve = kaplan_meier(groups[0]);
        const auto numbers =
            by_r(groups[0], groups[1],
                 "s <- summary(survfit(Surv(t, e) ~ 1, data = d[d$g == 1, ], conf.type = 'log-log'))\n"
                 "x <- survdiff(Surv(t, e) ~ g, data = d)\n"
                 "v <- c(x$chisq, s$surv, s$std.err, s$lower, s$upper)\n"
                 "v[!is.finite(v)] <- -1\ncat(sprintf('%.12g', v), sep = '\\n')\n");
        const std::size_t n = curve->size();
        REQUIRE(numbers.size() == 4 * n + 1);
        CHECK(log_rank(groups[0], groups[1])->chi_squared == Approx(numbers[0]).epsilon(1e-6));
        for (std::size_t i = 0; i < n; ++i) {
            const SurvivalStep& step = (*curve)[i];
            CAPTURE(round, i);
            CHECK(step.holds == Approx(numbers[1 + i]).epsilon(1e-6));
            if (step.holds == 0.0)
                continue;  // R gives no band there
            CHECK(step.error == Approx(numbers[1 + n + i]).epsilon(1e-5));
            CHECK(step.low == Approx(numbers[1 + 2 * n + i]).epsilon(1e-5));
            CHECK(step.high == Approx(numbers[1 + 3 * n + i]).epsilon(1e-5));
        }
    }
}

TEST_CASE("too few cases are called too few, and nothing is compared with nothing", "[shop][survival]") {
    CHECK(too_few({{10.0, true}, {20.0, true}}));
    CHECK_FALSE(too_few(six_mp()));
    CHECK(kaplan_meier({})->empty());
    CHECK_FALSE(kaplan_meier({{-1.0, true}}).ok());
    CHECK_FALSE(kaplan_meier({{std::nan(""), true}}).ok());
    CHECK_FALSE(log_rank({}, six_mp()).ok());
    CHECK_FALSE(log_rank({{5.0, false}}, {{6.0, false}}).ok());
    // All came back: the curve ends at 0 and stays within bounds.
    const auto all = kaplan_meier({{1.0, true}, {2.0, true}, {2.0, true}});
    CHECK(all->back().holds == 0.0);
    CHECK(all->back().low == 0.0);
    CHECK(all->back().high <= 1.0);
}

TEST_CASE("a hundred thousand cases are compared in time that grows as they do", "[shop][survival][long]") {
    // Counted anew at each moment, these would take an hour.
    Random random(3);
    std::vector<SurvivalCase> a;
    std::vector<SurvivalCase> b;
    for (int i = 0; i < 100'000; ++i) {
        a.push_back({1000.0 * random.uniform(), true});
        b.push_back({1000.0 * random.uniform(), i % 2 == 0});
    }
    const auto curve = kaplan_meier(a);
    REQUIRE(curve);
    // Where nothing is cut short the curve is the share that is still there, counted (Kaplan and Meier 1958,
    // section 2).
    std::vector<double> days;
    for (const SurvivalCase& each : a)
        days.push_back(each.days);
    std::sort(days.begin(), days.end());
    for (int i = 0; i < 100'000; ++i) {
        const auto gone = std::upper_bound(days.begin(), days.end(), 0.01 * i) - days.begin();
        REQUIRE(holds_after(*curve, 0.01 * i) == Approx(1.0 - static_cast<double>(gone) / 1e5).margin(1e-9));
    }
    const auto test = log_rank(a, b);
    REQUIRE(test);
    CHECK(test->observed[0] == 100'000);
    CHECK(test->observed[1] == 50'000);
    // What was expected of both is what came back of both (Mantel 1966).
    CHECK(test->expected[0] + test->expected[1] == Approx(150'000));
    CHECK(test->p < 1e-9);
    b.push_back({std::nan(""), false});
    CHECK_FALSE(log_rank(a, b).ok());
}
