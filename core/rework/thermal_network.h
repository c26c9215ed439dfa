// SPDX-License-Identifier: GPL-3.0-or-later
// A linear thermal network: lumps of heat capacity, conductances between them and to air of given
// temperature.
//
// Solved exactly: the network is symmetric after scaling by the square roots of the capacities, so that its
// response is a sum of decaying exponentials (one eigenvalue problem for each set of conductances).
#pragma once

#include <Eigen/Dense>

namespace eh {

// n lumps. Requires capacities > 0, conductances >= 0.
class ThermalNetwork {
  public:
    explicit ThermalNetwork(const Eigen::VectorXd& capacities_j_per_k);

    // A conductance between two lumps, watts per kelvin.
    void join(int a, int b, double watts_per_kelvin);
    // A conductance from a lump to something held at that temperature.
    void tie(int lump, double watts_per_kelvin, double celsius);

    [[nodiscard]] int size() const { return static_cast<int>(capacities_.size()); }
    [[nodiscard]] const Eigen::VectorXd& capacities() const { return capacities_; }
    [[nodiscard]] const Eigen::MatrixXd& conductances() const { return conductances_; }
    [[nodiscard]] const Eigen::VectorXd& inflow() const { return inflow_; }  // watts at 0 °C

  private:
    Eigen::VectorXd capacities_;
    Eigen::MatrixXd conductances_;
    Eigen::VectorXd inflow_;
};

// The course of a network from a start: temperatures at any later moment.
class ThermalCourse {
  public:
    ThermalCourse(const ThermalNetwork& network, const Eigen::VectorXd& start_celsius);

    // Temperatures of all lumps `t_seconds` >= 0 after the start.
    [[nodiscard]] Eigen::VectorXd at(double t_seconds) const;
    [[nodiscard]] double at(double t_seconds, int lump) const;

  private:
    // T(t) = steady + sum of modes * exp(-rate t); a mode of rate 0 (nothing tied) only keeps what it has.
    Eigen::VectorXd rates_;
    Eigen::MatrixXd modes_;  // column k: what mode k adds to each lump at the start
    Eigen::VectorXd constant_;
    Eigen::VectorXd drift_;  // kelvin a second, of modes without a way out
};

}  // namespace eh
