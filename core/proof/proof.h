// SPDX-License-Identifier: GPL-3.0-or-later
// What must be shown before the machine leaves, and whether a reading shows it.
#pragma once

#include <string>
#include <vector>

#include "core/job/job.h"
#include "core/machine/model/proof_check.h"
#include "core/prediction/prediction_store.h"

namespace eh {

// The steps for a machine of this topology after this work: every port and plug side with the shop's charger
// and with the customer's own (unless it was the thing at fault: what melted or burnt is never proof), each
// port wiggled, what the machine says, the parts worked on cool, and the checks that no meter reads, those of
// ports for each port of their family. Ids are "p1", "p2", ... in the order of the work.
std::vector<ProofStep> plan_proof(const Topology& topology, const Job& job,
                                  const std::vector<ProofCheck>& checks = {});

// Whether two steps ask for the same thing, whatever came of them.
bool same_step(const ProofStep& a, const ProofStep& b);

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
