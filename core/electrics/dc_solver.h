// Operating point of a circuit: nodal analysis, Newton's method, a damped fallback.
//
// Structure is checked before numbers: a node with no conductive way to ground is reported by name and
// nothing is solved. Plain Newton with a line search is tried first; when it stalls, implicit Euler steps
// (every node gets a shrinking conductance to where it stood, as capacitors would) follow the circuit from
// its starting point to a stable state, which is also what a real board does.
//
// Check: every solution publishes its residual, the largest sum of currents at any node.
#pragma once

#include <Eigen/LU>
#include <cstdint>
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
    // Solves `circuit`. `start`, when given, holds node volts to start from (same circuit structure).
    Solution solve(const Circuit& circuit, const SolveOptions& options = {},
                   const std::vector<double>* start = nullptr);

  private:
    struct Stamp;
    void assemble(const Circuit& circuit, const Eigen::VectorXd& x, bool with_jacobian);
    struct NewtonTask {
        double anchor_siemens = 0.0;  // ties every node to where it starts
        int max_iterations = 0;
        double tolerance_volts = 0.0;
        double tolerance_relative = 0.0;
        double tolerance_amps = 0.0;
    };
    struct Descent {
        bool converged = false;
        int iterations = 0;
    };
    static NewtonTask final_task(const SolveOptions& options);
    void assemble_anchored(const Circuit& circuit, const Eigen::VectorXd& x, double anchor_siemens,
                           const Eigen::VectorXd& anchors);
    Descent newton(const Circuit& circuit, const NewtonTask& task, Eigen::VectorXd& x, Solution& solution);
    bool transient(const Circuit& circuit, const SolveOptions& options, Eigen::VectorXd& x,
                   Solution& solution);

    void study(const Circuit& circuit);

    std::uint64_t studied_revision_ = 0;  // structure that the fields below belong to
    int floating_ = -1;                   // a node without a way to ground, or -1
    bool nonlinear_ = false;
    int nodes_ = 0;     // unknown node voltages, ground excluded
    int branches_ = 0;  // unknown source currents
    Eigen::MatrixXd jacobian_;
    Eigen::VectorXd residual_;
    Eigen::PartialPivLU<Eigen::MatrixXd> lu_;
};

// Power turned into heat inside one element at the given node volts (source elements: power they lose in
// their own resistance is not counted). Watts, >= 0 for passive elements.
double dissipated_watts(const Element& element, const std::vector<double>& node_volts);

// Current delivered by a limited source, or flowing from first to second node of any other two-terminal
// element; for a regulator the current into its input. Amps.
double element_amps(const Element& element, const std::vector<double>& node_volts);

}  // namespace eh
