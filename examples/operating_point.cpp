// SPDX-License-Identifier: GPL-3.0-or-later
// A circuit and its operating point: a charger's 20 V through a lead and a worn contact into a machine that
// takes 45 W.
#include <fmt/core.h>

#include "core/electrics/dc_solver.h"

int main() {
    eh::Circuit circuit;
    const eh::NodeId charger = circuit.node("charger");
    const eh::NodeId plug = circuit.node("plug");
    const eh::NodeId machine = circuit.node("machine");
    circuit.add("source", eh::VoltageSource{charger, eh::ground, 20.0});
    circuit.add("lead", eh::Resistor{charger, plug, 0.2});
    const eh::ElementId contact = circuit.add("contact", eh::Resistor{plug, machine, 0.15});
    circuit.add("machine", eh::ConstantPowerLoad{machine, eh::ground, 45.0, 4.0});
    eh::DcSolver solver;
    const eh::Solution solution = solver.solve(circuit);
    if (!solution.ok()) {
        fmt::print("{}\n", solution.problem());
        return 1;
    }
    fmt::print("at the machine  {:.2f} V\n", solution.volts(machine));
    fmt::print("from the source {:.2f} A\n", solution.source_amps.front());
    fmt::print("in the contact  {:.2f} W\n",
               eh::dissipated_watts(circuit.element(contact), solution.node_volts));
}
