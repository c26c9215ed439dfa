// SPDX-License-Identifier: GPL-3.0-or-later
// How often the program was right on the shop's own jobs, and whether its percentages can be believed.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/job/job.h"

namespace eh {

// A job in which the program had said something before the work, and the proof says what cured.
struct JudgedJob {
    std::string number;
    SaidRepair said;  // most probable repair
    std::string cured_block;
    Work cured_work = Work::none;
    bool first = false;      // the part that cured was named first
    bool among_two = false;  // first or second
};

// nullopt: nothing was said before, or nothing is proven.
std::optional<JudgedJob> judge_job(const Job& job);

struct ShareBand {
    double share = 0.0;
    double low = 0.0;
    double high = 1.0;
};

// Share of `hits` among `count`, with its score interval (Wilson, J. Am. Stat. Assoc. 22, 1927); `z` 1.96 for
// 95 %. Nothing counted: 0, from 0 to 1. Requires 0 <= hits <= count.
ShareBand share_band(int hits, int count, double z = 1.959963984540054);

struct SaidBin {
    int jobs = 0;
    double said = 0.0;   // mean percentage said, 0 to 1
    double right = 0.0;  // share in which it was right
};

struct OwnHits {
    int judged = 0;
    ShareBand first;
    ShareBand among_two;
    std::array<SaidBin, 10> bins{};  // by what was said
    double calibration_error = 0.0;  // mean difference between said and right over the bins, by jobs
    // How far what came true lies from what was said, in standard deviations (Spiegelhalter, Stat. Med. 5,
    // 1986); above 0: less sure than it could be, below 0: too sure. 0 when everything said was certain.
    double z = 0.0;
    std::vector<JudgedJob> wrong;  // newest first
};

// Jobs that judge_job() passes over do not count. `jobs` newest first.
OwnHits own_hits(const std::vector<Job>& jobs);

// Fewer jobs than this say nothing about percentages.
inline constexpr int least_judged_jobs = 20;

// What it comes to, in a sentence: too few, percentages hold, too sure, or not sure enough.
std::string describe(const OwnHits& hits);

}  // namespace eh
