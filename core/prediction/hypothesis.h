// SPDX-License-Identifier: GPL-3.0-or-later
// What may be wrong with a machine of a topology, and how likely each is before any reading.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/machine/model/machine_plan.h"
#include "core/prediction/design_samples.h"

namespace eh {

enum class HypothesisKind { fault, nothing_wrong, none_of_these };

struct Hypothesis {
    HypothesisKind kind = HypothesisKind::fault;
    // One for a single fault, the cause first where one brought about the other; empty for the other kinds.
    std::vector<FaultInstance> faults;
    double prior = 0.0;                // all priors of a list sum to 1
    double shipped_rate = 0.0;         // the catalogue's estimate before intake facts
    Depth depth = Depth::few_designs;  // how closely it is looked at
};

// What is known of a job before its readings.
struct Beforehand {
    std::vector<std::string> facts;     // ids of the catalogue; unknown ones are ignored
    std::vector<std::string> replaced;  // parts changed or repaired since the job began
    // By fault: what the shop's own repairs make of the shipped rate. Absent: 1.
    std::map<std::string, double> rate_factors = {};
    // By habit of makers: what earlier machines of the same kind add to the log of its odds.
    ByHabit<double> learnt = {};
    // Facts that the customer was asked about, and that are not so; unknown ones are ignored.
    std::vector<std::string> denied = {};
    // By part that was changed: where the new one came from; unknown origins are ignored.
    std::map<std::string, std::string> origins = {};
    // By fact that holds: the ports where it does, or `board_place`; unknown places are ignored. Absent: it
    // is not known where.
    std::map<std::string, std::vector<std::string>> fact_places = {};
    friend bool operator==(const Beforehand&, const Beforehand&) = default;
};

// All single faults that can befall this topology, with the charger and lead of each family of inlets; the
// pairs of which one brings about the other; what may have gone wrong with parts that were changed; "nothing
// wrong" and "none of these". Rates are multiplied by what the intake says, and at parts that were changed by
// the catalogue's factor of those, and normalised.
std::vector<Hypothesis> make_hypotheses(const MachinePlan& plan, const Beforehand& beforehand);

// How likely a job with these faults states a fact of the intake, 0..1: the fact's share of all jobs, times
// what each fault says of it, and never quite certain. Requires faults of the catalogue.
double fact_probability(const IntakeFact& fact, const std::vector<FaultInstance>& faults,
                        const FaultCatalogue& catalogue);

// Rate of a fault times what the intake says of it: facts that hold, and facts that were denied. A fact that
// is known of some places counts in full there and for three tenths elsewhere (estimate). `place` is where
// the fault's part is: a port, `board_place`, or empty for what is brought along. Requires a fault of the
// catalogue.
double intake_weight(const FaultInstance& fault, const FaultCatalogue& catalogue,
                     const Beforehand& beforehand, const std::string& place = {});

// Share of such work on the part that goes wrong this way, by where the new part came from; at most 0.9.
// Requires a fault of the catalogue that work brings about.
double refit_rate(const FaultInstance& fault, const FaultCatalogue& catalogue, const Beforehand& beforehand);

// Share of such jobs that have a second fault which the first did not bring about.
double second_fault_share(const Beforehand& beforehand, const FaultCatalogue& catalogue);

// The faults that are still there: without those of a part that was changed, where the new one has its own.
std::vector<FaultInstance> faults_now(const Hypothesis& hypothesis, const FaultCatalogue& catalogue);

// The fault that befalls this block, or nullptr; of a part that was changed, that of the new one.
const FaultInstance* fault_at(const Hypothesis& hypothesis, const std::string& block);

// For people, the faults that are still there: "Surge protector of port 2: shorted", "Nothing wrong", "None
// of these".
std::string hypothesis_title(const Hypothesis& hypothesis, const MachinePlan& plan);

}  // namespace eh
