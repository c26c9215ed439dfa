// SPDX-License-Identifier: GPL-3.0-or-later
// Facts of the intake that a job names.
#pragma once

#include <string>
#include <vector>

#include "core/machine/model/fault.h"

namespace eh {

// A sentence on facts that the catalogue does not hold, as in a job of a newer program or another shop: they
// stay with the job, but nothing is weighed by them. Empty when all are known.
std::string unknown_facts_remark(const FaultCatalogue& catalogue, const std::vector<std::string>& facts);

}  // namespace eh
