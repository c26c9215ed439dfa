// SPDX-License-Identifier: GPL-3.0-or-later
// What the customer and the next technician are told: it follows from what was done and known
// (data/advice.json).
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/job/job.h"
#include "core/machine/model/knowledge.h"

namespace eh {

// A rule counts for a job when one of its acts fits all of `kinds` (of the part), `acts`, `schools` and
// `origins` that are given, and one of its intake facts is among `facts`. Without any of them it always
// counts.
struct AdviceRule {
    std::string id;
    std::vector<std::string> kinds;
    std::vector<std::string> acts;
    std::vector<std::string> schools;
    std::vector<std::string> origins;  // words that the origin contains, in lower case
    std::vector<std::string> facts;
    std::string customer;
    std::string technician;
    double follow_up_days = 0.0;  // 0: none
    std::string follow_up;        // why it should be looked at again
};

// Refuses rules that stand twice, say nothing, or want a look again without saying why.
Result<std::vector<AdviceRule>> parse_advice(const std::string& text, const std::string& file);

struct Advice {
    std::vector<std::string> customer;
    std::vector<std::string> technician;
    double follow_up_days = 0.0;  // the soonest that a rule wants; 0: none
    std::string follow_up;        // why
};

// In the order of the rules. Parts of unknown topologies fit no kind.
Advice advise(const std::vector<AdviceRule>& rules, const Job& job, const Knowledge& knowledge);

// One below the other.
std::string joined_lines(const std::vector<std::string>& lines);

}  // namespace eh
