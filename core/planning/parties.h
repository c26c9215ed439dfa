// SPDX-License-Identifier: GPL-3.0-or-later
// Whom the next act is about: the parts that may be put right, each with what that costs. Internal to
// core/diagnosis.
#pragma once

#include <limits>
#include <string>
#include <vector>

#include "core/inference/ranking.h"
#include "core/planning/bench_costs.h"

namespace eh {

// A part under suspicion as far as it is still to be put right, by one kind of work, or one of the other
// kinds. An adapter and the lead that is fixed to it are one part, named by the likelier of the two.
struct Party {
    std::string block;       // "" for nothing_wrong and none_of_these
    Work work = Work::none;  // kind_of_work
    HypothesisKind kind = HypothesisKind::fault;
    FaultInstance fault;     // the leading way in which it is at fault
    double suspicion = 0.0;  // that it is at fault, alone or with others
    double repair_minutes =
        std::numeric_limits<double>::infinity();  // infinite where nothing can be repaired
};

// Parties divide the hypotheses among them: where several parts are at fault together, the most suspected one
// stands for all.
struct Parties {
    std::vector<Party> list;                 // most suspected first
    std::vector<double> probability;         // by party; sums to 1
    std::vector<std::size_t> of_hypothesis;  // party by hypothesis
    std::vector<double> p_hypothesis;        // posterior by hypothesis
};

// `now` tells what was put right already; such a part counts again only if it was fitted badly.
Parties make_parties(const Ranking& ranking, const PredictionTable& table, const BenchConfiguration& now,
                     const BenchCosts& costs);

// Expected minutes of repairing the best party at once, a wrong guess included. `probability` is by party;
// where it sums to another total than 1, so many times the minutes.
double repair_now_minutes(const std::vector<double>& probability, const Parties& parties,
                          const BenchCosts& costs);

// The party to be put right first where nothing is left to measure: of those at least half as suspected as
// the first, the one with the most suspicion a minute (Heckerman, Breese and Rommelse 1995: the cheapest
// order of repairs is by probability over cost). So a reset comes before board work that is no likelier.
// Requires parties; the first one where it is no fault that can be repaired.
const Party& first_to_repair(const Parties& parties);

// Whether the part stands before in the list: one part may be two parties, where two kinds of work are in
// question. Requires a party of the list.
bool is_second_of_its_part(const Parties& parties, const Party& party);

// Minutes that the repair is expected to save when the machine has been brought to stand like `to`: opening
// that it needs in any case, and work that is the repair.
double minutes_kept(const Parties& parties, const BenchConfiguration& now, const BenchConfiguration& to,
                    const MachinePlan& plan, const BenchCosts& costs);

// Whether work on parts was done, or all power cut, and nothing is left to repair, as surely as a repair is
// due.
bool work_has_put_all_right(const Parties& parties, const BenchConfiguration& now, const BenchCosts& costs);

}  // namespace eh
