// SPDX-License-Identifier: GPL-3.0-or-later
// Runs ngspice on a netlist and reads back its operating point.
#pragma once

#include <map>
#include <string>

#include "core/electrics/circuit.h"

namespace eh::test {

// Node volts by the names that to_spice() writes ("n1", ...). Fails the test when ngspice does not answer.
std::map<std::string, double> ngspice_operating_point(const std::string& netlist);

// Solves the circuit here and in ngspice and requires all node volts to agree within relative * volts +
// absolute.
void require_agreement(const Circuit& circuit, const std::string& title, double relative,
                       double absolute_volts = 1e-6, double hint_share = 0.95);

}  // namespace eh::test
