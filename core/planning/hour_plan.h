// SPDX-License-Identifier: GPL-3.0-or-later
// The plan of the next hour: what would be done one act after another, and where what is seen forks the way.
//
// At each act the outcomes that are likeliest are written down as readings (typical_reading.h), the suspects
// are weighed again with each, and the planner is asked what is next. So a fork says what the program will
// propose when that reading is entered, as far as the suspects that stand now hold the answer: what a
// reading would make it look at more closely is not foreseen.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/planning/next_act.h"

namespace eh {

struct HourStep;

// Where the way goes on, or why it does not.
enum class HourEnd {
    goes_on,
    hour_over,      // the next act would begin after it
    nothing_left,   // nothing is left to propose
    all_put_right,  // time to prove it
    not_followed,   // too unlikely to be followed, or anything but what the other forks name
};

struct HourFork {
    std::vector<std::string> shows;  // any of these; empty: anything else
    double probability = 0.0;        // once the act is done
    // Who leads then. Not for anything else.
    std::string block;
    HypothesisKind kind = HypothesisKind::fault;
    double leading_probability = 0.0;
    HourEnd end = HourEnd::not_followed;
    std::vector<HourStep> then;  // one where it goes on, else none
};

struct HourStep {
    NextAct act;
    double begins_minutes = 0.0;  // from now
    std::vector<HourFork> forks;  // most probable first, anything else last; none after a repair
};

struct HourPlan {
    std::vector<HourStep> first;  // one, or none where nothing is left to propose
    HourEnd end = HourEnd::goes_on;
    std::vector<DangerFound> dangers;
};

struct HourOptions {
    double minutes = 60.0;
    double worth_following = 0.06;  // probability of a way from here on
    std::size_t most_forks = 3;     // of one act, beside anything else
    std::size_t most_steps = 20;
};

// Follows the likeliest ways first. Computes missing columns of the table, so it belongs in the background.
// `priors` are by hypothesis of the table (priors_of). Probabilities of the forks of one act sum to 1. No act
// begins after options.minutes, and none is repeated along a way but by the planner's own rules. Nothing when
// stopped. `progress` receives 0..1.
std::optional<HourPlan> plan_hour(PredictionTable& table, const Ranking& ranking,
                                  const std::vector<Reading>& taken, const BenchConfiguration& now,
                                  const BenchCosts& costs, const NextOptions& next_options,
                                  const HourOptions& options = {}, const std::function<bool()>& stop = {},
                                  const std::function<void(double)>& progress = {});

}  // namespace eh
