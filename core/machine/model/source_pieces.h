// SPDX-License-Identifier: GPL-3.0-or-later
// Charger and lead: two pieces that are swapped one by one, or one where the lead is fixed to its adapter.
#pragma once

#include <string>
#include <vector>

#include "core/machine/model/bench_configuration.h"
#include "core/machine/model/kit.h"

namespace eh {

// Whether the lead of these inlets cannot be taken off its charger; false for families without a lead.
bool has_fixed_lead(const Kit& kit, const std::string& family);

// What is changed when this block is: itself, and where it is a charger or a lead that are one piece, both,
// the charger first.
std::vector<std::string> changed_with(const Kit& kit, const std::string& block);

// Whose they are from here on. Requires a family of the kit.
enum class SourcePiece { charger, lead };
void set_owner(BenchConfiguration& configuration, SourcePiece piece, Owner owner, const Kit& kit,
               const std::string& family);

}  // namespace eh
