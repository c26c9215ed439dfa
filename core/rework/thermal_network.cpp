// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/thermal_network.h"

#include <Eigen/Eigenvalues>
#include <cassert>
#include <cmath>

namespace eh {
namespace {

constexpr double no_way_out = 1e-12;  // of the largest rate: heat that goes there stays

}  // namespace

ThermalNetwork::ThermalNetwork(const Eigen::VectorXd& capacities)
    : capacities_(capacities),
      conductances_(Eigen::MatrixXd::Zero(capacities.size(), capacities.size())),
      inflow_(Eigen::VectorXd::Zero(capacities.size())) {
    assert((capacities.array() > 0.0).all());
}

void ThermalNetwork::join(int a, int b, double watts_per_kelvin) {
    assert(a != b && watts_per_kelvin >= 0.0);
    conductances_(a, a) += watts_per_kelvin;
    conductances_(b, b) += watts_per_kelvin;
    conductances_(a, b) -= watts_per_kelvin;
    conductances_(b, a) -= watts_per_kelvin;
}

void ThermalNetwork::tie(int lump, double watts_per_kelvin, double celsius) {
    assert(watts_per_kelvin >= 0.0);
    conductances_(lump, lump) += watts_per_kelvin;
    inflow_(lump) += watts_per_kelvin * celsius;
}

ThermalCourse::ThermalCourse(const ThermalNetwork& network, const Eigen::VectorXd& start) {
    // C dT/dt = q - G T. With S = C^-1/2 G C^-1/2 = V diag(rate) V', y = C^1/2 T: each mode goes its own way.
    const Eigen::VectorXd root = network.capacities().cwiseSqrt();
    const Eigen::VectorXd inverse = root.cwiseInverse();
    const Eigen::MatrixXd scaled = inverse.asDiagonal() * network.conductances() * inverse.asDiagonal();
    const Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> solver(scaled);
    const Eigen::MatrixXd& vectors = solver.eigenvectors();
    rates_ = solver.eigenvalues();
    const double fastest = rates_.maxCoeff();
    const Eigen::VectorXd drive = vectors.transpose() * (inverse.asDiagonal() * network.inflow());
    Eigen::VectorXd begin = vectors.transpose() * (root.asDiagonal() * start);
    Eigen::VectorXd rest = Eigen::VectorXd::Zero(rates_.size());
    Eigen::VectorXd drift = Eigen::VectorXd::Zero(rates_.size());
    for (Eigen::Index k = 0; k < rates_.size(); ++k) {
        if (rates_[k] > no_way_out * fastest) {
            rest[k] = drive[k] / rates_[k];
        } else {
            rates_[k] = 0.0;
            drift[k] = drive[k];
        }
        begin[k] -= rest[k];
    }
    const Eigen::MatrixXd back = inverse.asDiagonal() * vectors;
    modes_ = back * begin.asDiagonal();
    constant_ = back * rest;
    drift_ = back * drift;
}

Eigen::VectorXd ThermalCourse::at(double t) const {
    return constant_ + drift_ * t + modes_ * (-rates_ * t).array().exp().matrix();
}

double ThermalCourse::at(double t, int lump) const {
    double value = constant_[lump] + drift_[lump] * t;
    for (Eigen::Index k = 0; k < rates_.size(); ++k)
        value += modes_(lump, k) * std::exp(-rates_[k] * t);
    return value;
}

}  // namespace eh
