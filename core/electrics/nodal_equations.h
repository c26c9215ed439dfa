// SPDX-License-Identifier: GPL-3.0-or-later
// The equations of a circuit: the sum of currents at every node, and the volts across every ideal source.
//
// Internal to the solver (core/electrics/dc_solver.h). Unknowns are the volts of the nodes without ground,
// then the currents of ideal voltage sources. Structure is studied once, linear elements are added up once
// for each set of values, and only the nonlinear ones are evaluated again at each trial.
#pragma once

#include <Eigen/Core>
#include <cstdint>
#include <map>
#include <memory>
#include <utility>
#include <vector>

#include "core/electrics/circuit.h"
#include "core/electrics/pattern_lu.h"

namespace eh {

struct ElementCurrents;

class NodalEquations {
  public:
    // Takes the structure and the present values of a circuit, which must stay as it is until the next
    // load().
    void load(const Circuit& circuit);

    // A node that no conductive element ties to ground, or -1.
    [[nodiscard]] int floating_node() const { return now_->floating; }
    [[nodiscard]] bool nonlinear() const { return !now_->curved.empty(); }
    [[nodiscard]] int nodes() const { return now_->nodes; }        // unknown volts
    [[nodiscard]] int unknowns() const { return now_->unknowns; }  // and source currents

    // Evaluates sums and derivatives at x, which holds unknowns() values and one more, 0, for ground. With
    // anchor_siemens above 0 every node is tied by it to where `anchors` puts it.
    void evaluate(const std::vector<double>& x, double anchor_siemens, const std::vector<double>& anchors);

    // The same with every nonlinear element replaced by its tangent at a point of its own, which follows x no
    // faster than the element's law allows: across the knee of a diode or of a source's limit in one move at
    // most. start_tangents() puts the points at x. Returns whether all points stand near x: near enough for
    // Newton's method to do the rest.
    void start_tangents(const std::vector<double>& x);
    bool evaluate_tangents(const std::vector<double>& x);

    struct Size {
        double norm = 0.0;     // Euclidean
        double largest = 0.0;  // absolute
    };
    [[nodiscard]] Size sums() const;
    [[nodiscard]] double largest_at_nodes() const;

    // The Newton step: what to take off x. `step` gets unknowns() + 1 values, the last 0. False when the
    // equations determine none.
    bool newton_step(std::vector<double>& step);

    // Ohms seen by a small current into each of these unknowns at the last evaluate(): the diagonal of the
    // inverse. Infinite where the equations determine none.
    [[nodiscard]] std::vector<double> driving_point_ohms(const std::vector<int>& unknowns);

    // The first unknown that the equations at the last evaluate() leave undetermined, or -1. Dense and slow.
    [[nodiscard]] int undetermined() const;

  private:
    // An element between two nodes, with the places of its derivatives: by (first, second) node.
    struct Placed {
        int element;
        int first, second;   // unknowns; ground is the one past the last
        int ff, fs, sf, ss;  // slots; those of ground are a spare one
    };
    // Of the pattern, by unknowns.
    struct Place {
        std::uint32_t row, column, slot;
    };
    // What follows from the structure of a circuit alone.
    struct Structure {
        int floating = -1;
        int nodes = 0;
        int unknowns = 0;
        PatternLu lu;
        std::vector<Place> places;
        std::vector<int> diagonals;  // slots, by node
        std::vector<Placed> resistors;
        std::vector<int> sources;  // elements: ideal ones of volts and amps
        std::vector<Placed> curved;

        explicit Structure(const Circuit& circuit);
        [[nodiscard]] int unknown(NodeId node) const { return node.index == 0 ? unknowns : node.index - 1; }
        [[nodiscard]] int slot(int row, int column) const;
    };

    void load_linear();
    void begin_sums(const std::vector<double>& x);
    void add(const Placed& c, const ElementCurrents& amps);
    bool dense_step(std::vector<double>& step) const;
    [[nodiscard]] Eigen::MatrixXd dense() const;

    const Circuit* circuit_ = nullptr;
    std::uint64_t fingerprint_ = 0;
    Structure* now_ = nullptr;  // that of circuit_
    // Models of one machine with different faults differ in a few elements and come again and again.
    std::map<std::uint64_t, std::unique_ptr<Structure>> studied_;
    std::vector<double> linear_values_;  // derivatives of the linear elements
    std::vector<double> linear_sums_;    // what they add to the sums at x = 0
    std::vector<double> values_;
    std::vector<double> sums_;
    std::vector<std::pair<double, double>> tangents_;  // volts of first and second node, by curved element
};

}  // namespace eh
