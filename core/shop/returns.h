// SPDX-License-Identifier: GPL-3.0-or-later
// What comes back: the shop's repairs, how long each has held, and groups of them to compare.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/job/job.h"
#include "core/machine/model/knowledge.h"
#include "core/shop/survival.h"

namespace eh {

// One piece of work that left the shop.
struct HandedRepair {
    std::string job;        // number
    std::string part_kind;  // title of the kind of part, or empty
    Work work = Work::none;
    std::string school;  // of the act, may be empty
    std::string solder;  // id of the alloy, may be empty
    std::string origin;  // where the part came from, as written
    std::string technician;
    SurvivalCase held;
};

// The work of jobs that were handed over: held until a job that names it as the one that came back was taken
// in, else until now. Work of a job counts once for each act on a part. Jobs of the future (clock set back)
// count as 0 days.
std::vector<HandedRepair> handed_repairs(const Knowledge& knowledge, const std::vector<Job>& jobs,
                                         std::int64_t now_ms);

enum class ReturnGrouping { work, school, solder, origin, technician };
inline constexpr int return_grouping_count = 5;

struct ReturnGroup {
    std::string
        name;  // "replace, USB-C receptacle"; what is not said is a group of its own with an empty name
    std::vector<SurvivalCase> cases;
    // How many came back.
    [[nodiscard]] int returns() const;
};

// Groups by that, the largest first.
std::vector<ReturnGroup> group_returns(const std::vector<HandedRepair>& repairs, ReturnGrouping grouping);

// What a comparison of two groups comes to, in a sentence: too few, no difference shown, or which holds
// longer.
std::string compare_returns(const ReturnGroup& a, const ReturnGroup& b);

struct WorkMinutes {
    std::string work;  // act and kind of part
    int count = 0;
    double median_minutes = 0.0;
    double longest_minutes = 0.0;
};
// Minutes that steps of the step lists took by their timers, by id of the step, most often done first.
std::vector<WorkMinutes> minutes_of_steps(const std::vector<Job>& jobs);
// Minutes that work took, by act and kind of part, most often done first; acts without minutes do not count.
std::vector<WorkMinutes> minutes_of_work(const Knowledge& knowledge, const std::vector<Job>& jobs);

}  // namespace eh
