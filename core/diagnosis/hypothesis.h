// What may be wrong with a machine of a topology, and how likely each is before any reading.
#pragma once

#include <string>
#include <vector>

#include "core/machine/machine_plan.h"

namespace eh {

enum class HypothesisKind { fault, nothing_wrong, none_of_these };

struct Hypothesis {
    HypothesisKind kind = HypothesisKind::fault;
    std::vector<FaultInstance> faults;  // one for a single fault; empty for the other kinds
    double prior = 0.0;                 // all priors sum to 1
    double shipped_rate = 0.0;          // the catalogue's estimate before intake facts
};

// All single faults that can befall this topology, with the charger and lead of each family of inlets, plus
// "nothing wrong" and "none of these". Rates are multiplied by what the intake says (`facts`: ids of the
// catalogue; unknown ones are ignored) and normalised.
std::vector<Hypothesis> make_hypotheses(const MachinePlan& plan, const std::vector<std::string>& facts);

// For people: "Surge protector of port 2: shorted", "Nothing wrong", "None of these".
std::string hypothesis_title(const Hypothesis& hypothesis, const MachinePlan& plan);

}  // namespace eh
