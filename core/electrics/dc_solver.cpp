#include "core/electrics/dc_solver.h"

#include <Eigen/LU>
#include <cmath>
#include <numeric>

#include "core/electrics/element_laws.h"

namespace eh {
namespace {

constexpr double smallest_pivot_share = 1e-14;  // of the largest; below it the system counts as singular
constexpr double line_search_shrink = 0.5;
constexpr int line_search_halvings = 8;
constexpr double sufficient_decrease = 1e-4;
constexpr double noise_share = 1e-3;  // of the tolerance: a residual below it is not worth halving steps for

struct UnionFind {
    std::vector<int> parent;
    explicit UnionFind(int n) : parent(static_cast<std::size_t>(n)) {
        std::iota(parent.begin(), parent.end(), 0);
    }
    int root(int i) {
        while (parent[static_cast<std::size_t>(i)] != i)
            i = parent[static_cast<std::size_t>(i)];
        return i;
    }
    void join(int a, int b) { parent[static_cast<std::size_t>(root(a))] = root(b); }
};

// The first node that no conductive element ties to ground, or -1.
int floating_node(const Circuit& circuit) {
    UnionFind groups(circuit.node_count());
    for (const Element& element : circuit.elements()) {
        if (std::holds_alternative<CurrentSource>(element))
            continue;
        const auto nodes = nodes_of(element);
        for (std::size_t i = 1; i < nodes.size(); ++i)
            groups.join(nodes[0].index, nodes[i].index);
    }
    for (int i = 1; i < circuit.node_count(); ++i) {
        if (groups.root(i) != groups.root(0))
            return i;
    }
    return -1;
}

double between(const std::vector<double>& volts, NodeId a, NodeId b) {
    return volts[static_cast<std::size_t>(a.index)] - volts[static_cast<std::size_t>(b.index)];
}

bool is_nonlinear(const Element& element) {
    return !std::holds_alternative<Resistor>(element) && !std::holds_alternative<VoltageSource>(element) &&
           !std::holds_alternative<CurrentSource>(element);
}

}  // namespace

std::string Solution::problem() const {
    switch (status) {
        case SolveStatus::converged:
            return {};
        case SolveStatus::not_run:
            return "the circuit has not been solved yet";
        case SolveStatus::floating_node:
            return "node “" + node +
                   "” hangs in the air: nothing ties it to ground, so its volts are not defined";
        case SolveStatus::singular:
            return "the equations leave node “" + node +
                   "” undetermined: two ideal sources may fight each other there";
        case SolveStatus::no_convergence:
            return "no operating point was found; the values of the circuit contradict each other";
    }
    return {};
}

class DcSolver::Work {
  public:
    Solution solve(const Circuit& circuit, const SolveOptions& options, const std::vector<double>* start);

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

DcSolver::DcSolver() : work_(std::make_unique<Work>()) {}
DcSolver::~DcSolver() = default;
DcSolver::DcSolver(DcSolver&&) noexcept = default;
DcSolver& DcSolver::operator=(DcSolver&&) noexcept = default;

Solution DcSolver::solve(const Circuit& circuit, const SolveOptions& options,
                         const std::vector<double>* start) {
    return work_->solve(circuit, options, start);
}

// Adds currents and derivatives of one element to the equations.
struct DcSolver::Work::Stamp {
    const Eigen::VectorXd& x;
    Eigen::MatrixXd& jacobian;
    Eigen::VectorXd& residual;
    bool with_jacobian;
    int nodes;
    int next_branch = 0;

    [[nodiscard]] double volts(NodeId n) const { return n.index == 0 ? 0.0 : x[n.index - 1]; }
    void current(NodeId n, double amps) {
        if (n.index != 0)
            residual[n.index - 1] += amps;
    }
    void slope(NodeId row, NodeId column, double siemens) {
        if (with_jacobian && row.index != 0 && column.index != 0)
            jacobian(row.index - 1, column.index - 1) += siemens;
    }
    // A current `amps` from a to b that depends on the volts between them.
    void through(NodeId a, NodeId b, const laws::Dual& amps) {
        current(a, amps.value);
        current(b, -amps.value);
        slope(a, a, amps.slope[0]);
        slope(a, b, -amps.slope[0]);
        slope(b, a, -amps.slope[0]);
        slope(b, b, amps.slope[0]);
    }

    void operator()(const Resistor& e) {
        through(e.a, e.b, {(volts(e.a) - volts(e.b)) / e.ohms, 1.0 / e.ohms, 0.0});
    }
    void operator()(const CurrentSource& e) {
        current(e.from, e.amps);
        current(e.to, -e.amps);
    }
    void operator()(const VoltageSource& e) {
        const int row = nodes + next_branch++;
        const double amps = x[row];  // delivered at plus
        current(e.plus, -amps);
        current(e.minus, amps);
        residual[row] += volts(e.plus) - volts(e.minus) - e.volts;
        if (!with_jacobian)
            return;
        if (e.plus.index != 0) {
            jacobian(e.plus.index - 1, row) -= 1.0;
            jacobian(row, e.plus.index - 1) += 1.0;
        }
        if (e.minus.index != 0) {
            jacobian(e.minus.index - 1, row) += 1.0;
            jacobian(row, e.minus.index - 1) -= 1.0;
        }
    }
    void operator()(const Diode& e) {
        through(e.anode, e.cathode, laws::diode_amps(e, volts(e.anode) - volts(e.cathode)));
    }
    void operator()(const PunchThrough& e) {
        through(e.a, e.b, laws::punch_through_amps(e, volts(e.a) - volts(e.b)));
    }
    void operator()(const LimitedSource& e) {
        const laws::Dual amps = laws::limited_source_amps(e, volts(e.plus) - volts(e.minus));
        through(e.plus, e.minus, laws::Dual(0.0) - amps);
    }
    void operator()(const ConstantPowerLoad& e) {
        through(e.plus, e.minus, laws::power_load_amps(e, volts(e.plus) - volts(e.minus)));
    }
    void operator()(const Regulator& e) {
        const laws::RegulatorAmps amps = laws::regulator_amps(e, volts(e.in), volts(e.out));
        current(e.in, amps.in.value);
        current(e.out, -amps.out.value);
        slope(e.in, e.in, amps.in.slope[0]);
        slope(e.in, e.out, amps.in.slope[1]);
        slope(e.out, e.in, -amps.out.slope[0]);
        slope(e.out, e.out, -amps.out.slope[1]);
    }
};

void DcSolver::Work::assemble(const Circuit& circuit, const Eigen::VectorXd& x, bool with_jacobian) {
    residual_.setZero();
    if (with_jacobian)
        jacobian_.setZero();
    Stamp stamp{x, jacobian_, residual_, with_jacobian, nodes_};
    for (const Element& element : circuit.elements())
        std::visit(stamp, element);
}

// Residual and derivatives, with every node tied to where it stood (`anchors`) by `anchor_siemens`.
void DcSolver::Work::assemble_anchored(const Circuit& circuit, const Eigen::VectorXd& x,
                                       double anchor_siemens, const Eigen::VectorXd& anchors) {
    assemble(circuit, x, true);
    if (anchor_siemens == 0.0)
        return;
    for (int n = 0; n < nodes_; ++n) {
        jacobian_(n, n) += anchor_siemens;
        residual_[n] += anchor_siemens * (x[n] - anchors[n]);
    }
}

DcSolver::Work::Descent DcSolver::Work::newton(const Circuit& circuit, const NewtonTask& task,
                                               Eigen::VectorXd& x, Solution& solution) {
    const Eigen::VectorXd anchors = x;
    Eigen::VectorXd step;
    Eigen::VectorXd trial;
    assemble_anchored(circuit, x, task.anchor_siemens, anchors);
    for (int i = 1; i <= task.max_iterations; ++i) {
        ++solution.iterations;
        const double norm = residual_.norm();
        lu_.compute(jacobian_);
        step.noalias() = lu_.solve(residual_);
        if (!step.allFinite())
            return {false, i};
        double share = 1.0;
        trial = x - step;
        // Most full steps are taken, so the derivatives for the next one are gathered at once.
        assemble_anchored(circuit, trial, task.anchor_siemens, anchors);
        for (int h = 0;
             h < line_search_halvings && residual_.norm() > (1.0 - sufficient_decrease * share) * norm &&
             residual_.lpNorm<Eigen::Infinity>() > task.tolerance_amps * noise_share;
             ++h) {
            share *= line_search_shrink;
            trial = x - share * step;
            assemble_anchored(circuit, trial, task.anchor_siemens, anchors);
        }
        x.swap(trial);
        const double moved = nodes_ > 0 ? share * step.head(nodes_).lpNorm<Eigen::Infinity>() : 0.0;
        const double scale = nodes_ > 0 ? x.head(nodes_).lpNorm<Eigen::Infinity>() : 0.0;
        const bool small_step =
            share == 1.0 && moved <= task.tolerance_volts + task.tolerance_relative * scale;
        if (small_step && residual_.lpNorm<Eigen::Infinity>() <= task.tolerance_amps)
            return {true, i};
        if (moved == 0.0)
            return {false, i};
    }
    return {false, task.max_iterations};
}

// Implicit Euler steps of the circuit with the same capacitance at every node; the anchor is capacitance over
// time step. Each step is solved to its end before the next, longer one is tried; one that fails is tried
// again shorter.
bool DcSolver::Work::transient(const Circuit& circuit, const SolveOptions& options, Eigen::VectorXd& x,
                               Solution& solution) {
    constexpr double last_anchor_siemens = 1e-7;
    constexpr double largest_anchor_siemens = 1e5;
    constexpr int quick_iterations = 5;
    NewtonTask task;
    task.anchor_siemens = 0.1;
    task.max_iterations = 12;
    task.tolerance_volts = 1e-4;
    task.tolerance_relative = 0.0;
    task.tolerance_amps = 1e-4;
    for (int i = 0; i < options.max_transient_steps; ++i) {
        Eigen::VectorXd y = x;
        const Descent descent = newton(circuit, task, y, solution);
        if (descent.converged) {
            x.swap(y);
            if (task.anchor_siemens <= last_anchor_siemens)
                return newton(circuit, final_task(options), x, solution).converged;
            task.anchor_siemens *= descent.iterations <= quick_iterations ? 0.02 : 0.2;
            task.tolerance_amps = std::min(task.tolerance_amps, task.anchor_siemens);
        } else {
            task.anchor_siemens *= 10.0;
            if (task.anchor_siemens > largest_anchor_siemens)
                return false;
        }
    }
    return false;
}

DcSolver::Work::NewtonTask DcSolver::Work::final_task(const SolveOptions& options) {
    return {0.0, options.max_newton_iterations, options.tolerance_volts, options.tolerance_relative,
            options.tolerance_amps};
}

// Structure before numbers: what does not change with the values is found once.
void DcSolver::Work::study(const Circuit& circuit) {
    studied_revision_ = circuit.structure_revision();
    floating_ = floating_node(circuit);
    nodes_ = circuit.node_count() - 1;
    branches_ = 0;
    nonlinear_ = false;
    for (const Element& element : circuit.elements()) {
        branches_ += std::holds_alternative<VoltageSource>(element) ? 1 : 0;
        nonlinear_ = nonlinear_ || is_nonlinear(element);
    }
}

Solution DcSolver::Work::solve(const Circuit& circuit, const SolveOptions& options,
                               const std::vector<double>* start) {
    Solution solution;
    if (studied_revision_ != circuit.structure_revision())
        study(circuit);
    if (floating_ >= 0) {
        solution.status = SolveStatus::floating_node;
        solution.node = circuit.node_name({floating_});
        return solution;
    }
    const int size = nodes_ + branches_;
    jacobian_.resize(size, size);
    residual_.resize(size);
    Eigen::VectorXd x = Eigen::VectorXd::Zero(size);
    if (start != nullptr && static_cast<int>(start->size()) == circuit.node_count()) {
        for (int n = 0; n < nodes_; ++n)
            x[n] = (*start)[static_cast<std::size_t>(n + 1)];
    }
    if (!nonlinear_) {
        assemble(circuit, x, true);
        const Eigen::FullPivLU<Eigen::MatrixXd> lu(jacobian_);
        const double largest = lu.maxPivot();
        for (int k = 0; k < size; ++k) {
            if (std::abs(lu.matrixLU()(k, k)) <= smallest_pivot_share * largest) {
                const int unknown = static_cast<int>(lu.permutationQ().indices()[k]);
                solution.status = SolveStatus::singular;
                solution.node = unknown < nodes_ ? circuit.node_name({unknown + 1}) : "a source";
                return solution;
            }
        }
    }
    const Eigen::VectorXd first = x;
    bool converged = newton(circuit, final_task(options), x, solution).converged;
    if (!converged) {
        x = first;
        converged = transient(circuit, options, x, solution);
    }
    solution.status = converged ? SolveStatus::converged : SolveStatus::no_convergence;
    solution.node_volts.assign(static_cast<std::size_t>(circuit.node_count()), 0.0);
    for (int n = 0; n < nodes_; ++n)
        solution.node_volts[static_cast<std::size_t>(n + 1)] = x[n];
    for (int b = 0; b < branches_; ++b)
        solution.source_amps.push_back(x[nodes_ + b]);
    assemble(circuit, x, false);
    solution.residual_amps = nodes_ > 0 ? residual_.head(nodes_).lpNorm<Eigen::Infinity>() : 0.0;
    return solution;
}

double element_amps(const Element& element, const std::vector<double>& v) {
    struct Visitor {
        const std::vector<double>& v;
        double operator()(const Resistor& e) const { return between(v, e.a, e.b) / e.ohms; }
        double operator()(const VoltageSource&) const { return 0.0; }  // an unknown of its own
        double operator()(const CurrentSource& e) const { return e.amps; }
        double operator()(const Diode& e) const {
            return laws::diode_amps(e, between(v, e.anode, e.cathode)).value;
        }
        double operator()(const PunchThrough& e) const {
            return laws::punch_through_amps(e, between(v, e.a, e.b)).value;
        }
        double operator()(const LimitedSource& e) const {
            return laws::limited_source_amps(e, between(v, e.plus, e.minus)).value;
        }
        double operator()(const ConstantPowerLoad& e) const {
            return laws::power_load_amps(e, between(v, e.plus, e.minus)).value;
        }
        double operator()(const Regulator& e) const {
            return laws::regulator_amps(e, between(v, e.in, ground), between(v, e.out, ground)).in.value;
        }
    };
    return std::visit(Visitor{v}, element);
}

double dissipated_watts(const Element& element, const std::vector<double>& v) {
    if (const auto* r = std::get_if<Regulator>(&element)) {
        const double in = between(v, r->in, ground);
        const double out = between(v, r->out, ground);
        const auto amps = laws::regulator_amps(*r, in, out);
        return std::max(0.0, in * amps.in.value - out * amps.out.value);
    }
    const bool is_source = std::holds_alternative<LimitedSource>(element) ||
                           std::holds_alternative<VoltageSource>(element) ||
                           std::holds_alternative<CurrentSource>(element);
    if (is_source)
        return 0.0;
    const auto nodes = nodes_of(element);
    return std::max(0.0, between(v, nodes[0], nodes[1]) * element_amps(element, v));
}

}  // namespace eh
