// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrics/dc_solver.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/electrics/element_laws.h"
#include "core/electrics/nodal_equations.h"

namespace eh {
namespace {

constexpr double line_search_shrink = 0.5;
constexpr int line_search_halvings = 4;
constexpr double sufficient_decrease = 1e-4;
constexpr double stalling_share = 0.1;  // steps that shorten so much lead nowhere
// Milliohms beside megohms leave so much by rounding alone, and with it some nanovolts that never settle.
constexpr double rounding_amps = 1e-12;
constexpr int quiet_enough = 2;         // times in a row
constexpr int most_tangent_steps = 20;  // an exponential tail is walked some 30 mV a step
constexpr double foreseen_share = 0.1;  // of the tolerance, for a step that is not taken any more
constexpr double near_volts = 0.01;     // moves by less count as the end of the coarse search
constexpr double noise_share = 1e-3;  // of the tolerance: a residual below it is not worth halving steps for

double between(const std::vector<double>& volts, NodeId a, NodeId b) {
    return volts[static_cast<std::size_t>(a.index)] - volts[static_cast<std::size_t>(b.index)];
}

// How far the step after this one will move, where steps have begun to shrink quadratically.
double next_step(double moved, double last_moved) {
    constexpr double begun = 0.3;  // of the step before
    const double ratio = moved / last_moved;
    return ratio < begun ? moved * ratio * ratio : std::numeric_limits<double>::infinity();
}

double largest(const std::vector<double>& values, int count) {
    double most = 0.0;
    for (int i = 0; i < count; ++i)
        most = std::max(most, std::abs(values[static_cast<std::size_t>(i)]));
    return most;
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
    std::vector<double> driving_point_ohms(std::vector<int> nodes) {
        for (int& node : nodes)
            --node;  // to its unknown
        return equations_.driving_point_ohms(nodes);
    }

  private:
    // Unknowns of the equations, with one 0 more for ground.
    using Unknowns = std::vector<double>;
    struct NewtonTask {
        double anchor_siemens = 0.0;  // ties every node to where it starts
        int max_iterations = 0;
        double tolerance_volts = 0.0;
        double tolerance_relative = 0.0;
        double tolerance_amps = 0.0;
        int most_stalls = 0;  // steps that shorten to next to nothing, after which another start is better
    };
    struct Descent {
        bool converged = false;
        int iterations = 0;
    };
    static NewtonTask final_task(const SolveOptions& options);
    static Unknowns launched(const Circuit& circuit, const Unknowns& x);
    void study_bounds(const Circuit& circuit, const Unknowns& start);
    void try_step(const Unknowns& x, double share, const NewtonTask& task);
    Descent newton(const NewtonTask& task, Unknowns& x, Solution& solution);
    bool by_tangents(const SolveOptions& options, Unknowns& x, Solution& solution);
    bool transient(const SolveOptions& options, Unknowns& x, Solution& solution);
    void fill(Solution& solution, const Circuit& circuit, const Unknowns& x);

    NodalEquations equations_;
    Unknowns anchors_, step_, trial_;
    double lowest_volts_ = 0.0;  // no node of the circuit can be outside these
    double highest_volts_ = 0.0;
};

DcSolver::DcSolver() : work_(std::make_unique<Work>()) {}
DcSolver::~DcSolver() = default;
DcSolver::DcSolver(DcSolver&&) noexcept = default;
DcSolver& DcSolver::operator=(DcSolver&&) noexcept = default;

Solution DcSolver::solve(const Circuit& circuit, const SolveOptions& options,
                         const std::vector<double>* start) {
    return work_->solve(circuit, options, start);
}

std::vector<double> DcSolver::driving_point_ohms(const std::vector<int>& nodes) {
    return work_->driving_point_ohms(nodes);
}

// Elements without gain keep every node between the volts of the sources. Currents that are forced in have no
// such bound.
void DcSolver::Work::study_bounds(const Circuit& circuit, const Unknowns& start) {
    constexpr double margin_volts = 1.0;
    // A source that has just been turned down leaves its nodes above what it gives now.
    const auto [lowest, highest] = std::minmax_element(start.begin(), start.begin() + equations_.nodes());
    double below = std::min(0.0, *lowest);
    double above = std::max(0.0, *highest);
    for (const Element& element : circuit.elements()) {
        if (std::holds_alternative<Resistor>(element))
            continue;
        if (const auto* limited = std::get_if<LimitedSource>(&element)) {
            above = std::max(above, limited->volts);
        } else if (const auto* regulator = std::get_if<Regulator>(&element)) {
            above = std::max(above, regulator->volts);
        } else if (const auto* ideal = std::get_if<VoltageSource>(&element)) {
            above += std::abs(ideal->volts);
            below -= std::abs(ideal->volts);
        } else if (const auto* current = std::get_if<CurrentSource>(&element);
                   current && current->amps != 0.0) {
            above = std::numeric_limits<double>::infinity();
            below = -above;
        }
    }
    lowest_volts_ = below - margin_volts;
    highest_volts_ = above + margin_volts;
}

// Everything that is on already holds its volts. Newton's method comes down from there in a few steps, where
// from below a source in its limit looks like a current that nothing opposes.
DcSolver::Work::Unknowns DcSolver::Work::launched(const Circuit& circuit, const Unknowns& x) {
    Unknowns y = x;
    const auto lift = [&y](NodeId node, double volts, double window) {
        if (node.index == 0)
            return;
        double& now = y[static_cast<std::size_t>(node.index - 1)];
        if (now < volts - window)  // otherwise it regulates already
            now = volts;
    };
    for (const Element& element : circuit.elements()) {
        if (const auto* source = std::get_if<LimitedSource>(&element); source && source->minus == ground)
            lift(source->plus, source->volts, source->limit_amps * source->ohms);
        else if (const auto* regulator = std::get_if<Regulator>(&element))
            lift(regulator->out, regulator->volts,
                 regulator->limit_amps * regulator->ohms + laws::volts_rounding);
    }
    return y;
}

// Evaluates the equations at x - share * step, kept within bounds: at trial_.
void DcSolver::Work::try_step(const Unknowns& x, double share, const NewtonTask& task) {
    trial_.resize(x.size());
    for (std::size_t i = 0; i < x.size(); ++i)
        trial_[i] = x[i] - share * step_[i];
    for (std::size_t n = 0; n < static_cast<std::size_t>(equations_.nodes()); ++n)
        trial_[n] = std::clamp(trial_[n], lowest_volts_, highest_volts_);
    equations_.evaluate(trial_, task.anchor_siemens, anchors_);
}

DcSolver::Work::Descent DcSolver::Work::newton(const NewtonTask& task, Unknowns& x, Solution& solution) {
    anchors_ = x;
    const int nodes = equations_.nodes();
    int stalls = 0;
    int quiet = 0;
    double last_moved = 0.0;  // by the full step before this one, 0 where there was none
    equations_.evaluate(x, task.anchor_siemens, anchors_);
    auto sums = equations_.sums();
    for (int i = 1; i <= task.max_iterations; ++i) {
        ++solution.iterations;
        const double norm = sums.norm;
        if (!equations_.newton_step(step_))
            return {false, i};
        double share = 1.0;
        // Most full steps are taken, so the derivatives for the next one are gathered at once.
        try_step(x, share, task);
        sums = equations_.sums();
        for (int h = 0; h < line_search_halvings && sums.norm > (1.0 - sufficient_decrease * share) * norm &&
                        sums.largest > task.tolerance_amps * noise_share;
             ++h) {
            share *= line_search_shrink;
            try_step(x, share, task);
            sums = equations_.sums();
        }
        x.swap(trial_);
        double moved = 0.0;
        for (std::size_t n = 0; n < static_cast<std::size_t>(nodes); ++n)
            moved = std::max(moved, std::abs(x[n] - trial_[n]));
        const double small = task.tolerance_volts + task.tolerance_relative * largest(x, nodes);
        const bool small_step =
            share == 1.0 && (moved <= small || next_step(moved, last_moved) <= foreseen_share * small);
        last_moved = share == 1.0 ? moved : 0.0;
        quiet = sums.largest <= rounding_amps ? quiet + 1 : 0;
        if (sums.largest <= task.tolerance_amps && (small_step || quiet >= quiet_enough))
            return {true, i};
        stalls += share < stalling_share ? 1 : 0;
        if (moved == 0.0 || stalls > task.most_stalls)
            return {false, i};
    }
    return {false, task.max_iterations};
}

// Newton's method with tangents that cross one knee at a time, from everything launched; its end is left to
// the plain method, which proves it.
bool DcSolver::Work::by_tangents(const SolveOptions& options, Unknowns& x, Solution& solution) {
    equations_.start_tangents(x);
    for (int i = 0; i < most_tangent_steps; ++i) {
        const bool exact = equations_.evaluate_tangents(x);
        if (!equations_.newton_step(step_))
            return false;
        ++solution.iterations;
        double moved = 0.0;
        for (std::size_t n = 0; n < x.size(); ++n) {
            const double from = x[n];
            x[n] = std::clamp(from - step_[n], lowest_volts_, highest_volts_);
            moved = std::max(moved, std::abs(x[n] - from));
        }
        if (exact && moved < near_volts)
            return newton(final_task(options), x, solution).converged;
    }
    return false;
}

// Implicit Euler steps of the circuit with the same capacitance at every node; the anchor is capacitance over
// time step. Each step is solved to its end before the next, longer one is tried; one that fails is tried
// again shorter.
bool DcSolver::Work::transient(const SolveOptions& options, Unknowns& x, Solution& solution) {
    constexpr double last_anchor_siemens = 1e-7;
    constexpr double largest_anchor_siemens = 1e5;
    constexpr int quick_iterations = 5;
    NewtonTask task;
    task.anchor_siemens = 0.1;
    task.max_iterations = 12;
    task.tolerance_volts = 1e-4;
    task.tolerance_relative = 0.0;
    task.tolerance_amps = 1e-4;
    task.most_stalls = 2;
    for (int i = 0; i < options.max_transient_steps; ++i) {
        Unknowns y = x;
        const Descent descent = newton(task, y, solution);
        if (descent.converged) {
            x.swap(y);
            if (task.anchor_siemens <= last_anchor_siemens)
                return newton(final_task(options), x, solution).converged;
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
    return {0.0,
            options.max_newton_iterations,
            options.tolerance_volts,
            options.tolerance_relative,
            options.tolerance_amps,
            0};
}

Solution DcSolver::Work::solve(const Circuit& circuit, const SolveOptions& options,
                               const std::vector<double>* start) {
    Solution solution;
    equations_.load(circuit);
    if (const int floating = equations_.floating_node(); floating >= 0) {
        solution.status = SolveStatus::floating_node;
        solution.node = circuit.node_name({floating});
        return solution;
    }
    const auto nodes = static_cast<std::size_t>(equations_.nodes());
    Unknowns x(static_cast<std::size_t>(equations_.unknowns()) + 1, 0.0);
    if (start != nullptr && start->size() == nodes + 1)
        std::copy(start->begin() + 1, start->end(), x.begin());
    if (!equations_.nonlinear() && equations_.unknowns() > equations_.nodes()) {
        equations_.evaluate(x, 0.0, x);
        if (const int lost = equations_.undetermined(); lost >= 0) {
            solution.status = SolveStatus::singular;
            solution.node = lost < equations_.nodes() ? circuit.node_name({lost + 1}) : "a source";
            return solution;
        }
    }
    study_bounds(circuit, x);
    const Unknowns first = x;
    bool converged = newton(final_task(options), x, solution).converged;
    if (!converged && options.max_transient_steps > 0) {
        x = launched(circuit, first);
        converged = by_tangents(options, x, solution);
    }
    if (!converged) {
        x = first;
        converged = transient(options, x, solution);
    }
    solution.status = converged ? SolveStatus::converged : SolveStatus::no_convergence;
    fill(solution, circuit, x);
    return solution;
}

void DcSolver::Work::fill(Solution& solution, const Circuit& circuit, const Unknowns& x) {
    const auto nodes = static_cast<std::ptrdiff_t>(equations_.nodes());
    solution.node_volts.assign(static_cast<std::size_t>(circuit.node_count()), 0.0);
    std::copy_n(x.begin(), nodes, solution.node_volts.begin() + 1);
    solution.source_amps.assign(x.begin() + nodes, x.end() - 1);
    // Newton's method has evaluated the equations at x last.
    if (solution.status != SolveStatus::converged)
        equations_.evaluate(x, 0.0, x);
    solution.residual_amps = equations_.largest_at_nodes();
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

double delivered_amps(const Regulator& r, const std::vector<double>& v) {
    return laws::regulator_amps(r, between(v, r.in, ground), between(v, r.out, ground)).out.value;
}

double dissipated_watts(const Element& element, const std::vector<double>& v) {
    if (const auto* r = std::get_if<Resistor>(&element)) {  // most elements are
        const double volts = between(v, r->a, r->b);
        return volts * volts / r->ohms;
    }
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
