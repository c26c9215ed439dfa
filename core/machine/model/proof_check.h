// SPDX-License-Identifier: GPL-3.0-or-later
// Things that must be shown and that no meter reads (data/proof_checks.json).
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh {

enum class CheckNeeds { nothing, battery, timer };

struct ProofCheck {
    std::string id;
    std::string says;
    std::string family;  // of ports: once for each of that family; empty: once for the machine
    CheckNeeds needs = CheckNeeds::nothing;
    double minutes = 0.0;  // of a timer
};

// Refuses ids that stand twice and timers without minutes, with file and field.
Result<std::vector<ProofCheck>> parse_proof_checks(const std::string& text, const std::string& file);

}  // namespace eh
