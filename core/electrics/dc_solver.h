// SPDX-License-Identifier: GPL-3.0-or-later
// Operating point of a circuit: nodal analysis, Newton's method, a damped fallback.
//
// Structure is checked before numbers: a node with no conductive way to ground is reported by name and
// nothing is solved. Plain Newton with a line search is tried first; when it stalls, implicit Euler steps
// (every node gets a shrinking conductance to where it stood, as capacitors would) follow the circuit from
// its starting point to a stable state, which is also what a real board does.
//
// Check: every solution publishes its residual, the largest sum of currents at any node.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/electrics/circuit.h"

namespace eh {

struct SolveOptions {
    int max_newton_iterations = 12;
    int max_transient_steps = 120;
    double tolerance_volts = 1e-9;     // last step, absolute part
    double tolerance_relative = 1e-9;  // last step, of the node's volts
    double tolerance_amps = 1e-7;      // residual accepted at any node
};

enum class SolveStatus {
    not_run,         // nothing was done
    converged,       // volts hold the operating point
    floating_node,   // a node has no way to ground: `node` names it, volts untouched
    singular,        // the equations do not determine `node`, volts untouched
    no_convergence,  // volts hold the last attempt and must not be used
};

struct Solution {
    SolveStatus status = SolveStatus::not_run;
    std::vector<double> node_volts;   // by node index, ground first
    std::vector<double> source_amps;  // delivered by each ideal voltage source, in element order
    double residual_amps = 0.0;       // worst node
    int iterations = 0;
    std::string node;  // the node concerned when the status names one

    [[nodiscard]] bool ok() const { return status == SolveStatus::converged; }
    [[nodiscard]] double volts(NodeId n) const { return node_volts[static_cast<std::size_t>(n.index)]; }
    // A sentence for a status that is not `converged`; empty otherwise.
    [[nodiscard]] std::string problem() const;
};

// Solves circuits of one structure again and again. Keeps its work space; one per thread.
class DcSolver {
  public:
    DcSolver();
    ~DcSolver();
    DcSolver(DcSolver&&) noexcept;
    DcSolver& operator=(DcSolver&&) noexcept;

    // Solves `circuit`. `start`, when given, holds node volts to start from (same circuit structure).
    Solution solve(const Circuit& circuit, const SolveOptions& options = {},
                   const std::vector<double>* start = nullptr);

    // Ohms seen by a small current into each of these nodes of the circuit solved last, at its operating
    // point. Requires a solve() that converged, nodes other than ground, and the circuit still as it was.
    [[nodiscard]] std::vector<double> driving_point_ohms(const std::vector<int>& nodes);

  private:
    class Work;  // keeps the linear algebra out of everybody's includes
    std::unique_ptr<Work> work_;
};

// Power turned into heat inside one element at the given node volts (source elements: power they lose in
// their own resistance is not counted). Watts, >= 0 for passive elements.
double dissipated_watts(const Element& element, const std::vector<double>& node_volts);

// Current delivered by a limited source, or flowing from first to second node of any other two-terminal
// element; for a regulator the current into its input. Amps.
double element_amps(const Element& element, const std::vector<double>& node_volts);

// Amps that a regulator gives at its output, which differ from those it draws.
double delivered_amps(const Regulator& regulator, const std::vector<double>& node_volts);

}  // namespace eh
