// SPDX-License-Identifier: GPL-3.0-or-later
// Reference: Eigen's dense LU with partial pivoting.
#include "core/electrics/pattern_lu.h"

#include <Eigen/LU>

#include "core/base/random.h"

using namespace eh;

namespace {

// A random network as a matrix: conductances between nodes, and to ground so that it is not singular.
struct Network {
    int size;
    std::vector<std::pair<int, int>> places;
    Eigen::MatrixXd matrix;
    PatternLu lu;

    Network(Random& random, int nodes) : size(nodes), matrix(Eigen::MatrixXd::Zero(nodes, nodes)) {
        const auto conduct = [&](int a, int b, double siemens) {
            matrix(a, a) += siemens;
            matrix(b, b) += siemens;
            matrix(a, b) -= siemens;
            matrix(b, a) -= siemens;
            places.insert(places.end(), {{a, a}, {b, b}, {a, b}, {b, a}});
        };
        for (int n = 1; n < size; ++n)
            conduct(n, random.below(n), std::pow(10.0, 4.0 * random.uniform() - 2.0));
        for (int extra = 0; extra < size / 2; ++extra) {
            const int a = random.below(size);
            const int b = random.below(size);
            if (a != b)
                conduct(a, b, random.uniform());
        }
        for (int n = 0; n < size; ++n) {
            matrix(n, n) += 1e-3;
            places.emplace_back(n, n);
        }
        // Regulators make it unsymmetric.
        for (int k = 0; k < size / 4; ++k)
            matrix(places[static_cast<std::size_t>(k)].first, places[static_cast<std::size_t>(k)].second) *=
                1.3;
        lu.study(size, places);
    }
    std::vector<double> values() const {
        std::vector<double> v(static_cast<std::size_t>(lu.value_count()), 0.0);
        for (const auto& [row, column] : places)
            v[static_cast<std::size_t>(lu.slot(row, column))] = matrix(row, column);
        return v;
    }
};

}  // namespace

TEST_CASE("factors in a fixed order solve as dense pivoting does", "[electrics]") {
    Random random(11);
    for (int round = 0; round < 200; ++round) {
        Network network(random, 2 + random.below(50));
        std::vector<double> b(static_cast<std::size_t>(network.size));
        for (double& x : b)
            x = random.normal();
        const Eigen::VectorXd wanted =
            network.matrix.partialPivLu().solve(Eigen::Map<Eigen::VectorXd>(b.data(), network.size));
        REQUIRE(network.lu.factor(network.values()));
        network.lu.solve(b);
        const Eigen::VectorXd got = Eigen::Map<Eigen::VectorXd>(b.data(), network.size);
        CHECK((got - wanted).norm() <= 1e-9 * wanted.norm());
    }
}

TEST_CASE("one pattern serves many sets of values, without memory of the last", "[electrics]") {
    Random random(12);
    Network network(random, 30);
    for (int round = 0; round < 20; ++round) {
        for (const auto& [row, column] : network.places) {
            if (row != column)
                network.matrix(row, column) *= 0.5 + 0.5 * random.uniform();
        }
        REQUIRE(network.lu.factor(network.values()));
        std::vector<double> b(30, 1.0);
        network.lu.solve(b);
        const Eigen::VectorXd x = Eigen::Map<Eigen::VectorXd>(b.data(), 30);
        CHECK((network.matrix * x - Eigen::VectorXd::Ones(30)).norm() < 1e-7);
    }
}

TEST_CASE("a chain has no fill-in, and a lost pivot is said", "[electrics]") {
    PatternLu chain;
    std::vector<std::pair<int, int>> places;
    for (int n = 0; n < 40; ++n) {
        places.emplace_back(n, n);
        if (n > 0)
            places.emplace_back(n, n - 1);
    }
    chain.study(40, places);
    CHECK(chain.value_count() == 40 + 2 * 39);

    PatternLu pair;
    pair.study(2, {{0, 0}, {0, 1}, {1, 0}, {1, 1}});
    std::vector<double> v(4, 1.0);  // two equal rows
    CHECK_FALSE(pair.factor(v));
    v.assign(4, 0.0);
    CHECK_FALSE(pair.factor(v));
    v.assign(4, std::nan(""));
    CHECK_FALSE(pair.factor(v));
}
