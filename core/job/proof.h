// What must be shown before the machine leaves, and whether a reading shows it.
#pragma once

#include <string>
#include <vector>

#include "core/diagnosis/prediction_store.h"
#include "core/job/job.h"

namespace eh {

// The steps for a machine of this topology after this work: every port and plug side with the shop's charger,
// each port wiggled, the customer's own charger once (unless it was the thing at fault), what the machine
// says, and the parts worked on cool. Ids are "p1", "p2", ... in the order of the work.
std::vector<ProofStep> plan_proof(const Topology& topology, const Job& job);

// Which open step a reading decides: same kind, place and electrical configuration. nullptr when none.
ProofStep* step_for(std::vector<ProofStep>& steps, const Reading& reading);

struct ProofVerdict {
    bool passed = false;
    std::string reason;  // a sentence, with numbers
};

// Judges a reading of the repaired machine against what a sound one shows in the same configuration (the
// model's "nothing wrong"). A sound machine charges: at the plug this means its contract volts and more
// current than it needs to run. Requires a reading that check_reading
// accepts.
ProofVerdict judge(PredictionStore& store, const Reading& reading);

// Whether every step is passed or waived.
bool proof_complete(const std::vector<ProofStep>& steps);

// For people: "Port 1, side B: volts and amps".
std::string describe(const ProofStep& step, const Topology& topology);

}  // namespace eh
