// SPDX-License-Identifier: GPL-3.0-or-later
// Exact Bayes against an independent implementation (dlib's junction tree) and against published networks.
#include "core/inference/bayes.h"
#include "core/machine/simulation/known_ohms.h"

#include <dlib/bayes_utils.h>
#include <dlib/directed_graph.h>
#include <dlib/graph.h>
#include <dlib/graph_utils.h>

#include <array>
#include <cmath>
#include <functional>
#include <limits>

#include "core/inference/ranking.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

using Network = dlib::directed_graph<dlib::bayes_node>::kernel_1a_c;
using SetOfNodes = dlib::set<unsigned long>::compare_1b_c;
using JoinTree = dlib::graph<SetOfNodes, SetOfNodes>::kernel_1a_c;

// Marginals of every node by dlib's junction tree.
std::vector<std::vector<double>> by_join_tree(Network& network) {
    JoinTree tree;
    dlib::create_moral_graph(network, tree);
    dlib::create_join_tree(tree, tree);
    dlib::bayesian_network_join_tree solution(network, tree);
    std::vector<std::vector<double>> marginals;
    for (unsigned long node = 0; node < network.number_of_nodes(); ++node) {
        const auto p = solution.probability(node);
        marginals.emplace_back(p.begin(), p.end());
    }
    return marginals;
}

double log_of(double probability) {
    return probability > 0.0 ? std::log(probability) : -std::numeric_limits<double>::infinity();
}

}  // namespace

TEST_CASE("logs of sums neither overflow nor lose what is small", "[bayes]") {
    CHECK(log_sum_exp({1000.0, 1000.0}) == Approx(1000.0 + std::log(2.0)));
    CHECK(log_sum_exp({-1000.0, -1001.0}) == Approx(-1000.0 + std::log(1.0 + std::exp(-1.0))));
    CHECK(std::isinf(log_sum_exp({})));
    const auto p = posterior({-2000.0, -2000.0 + std::log(3.0), log_of(0.0)});
    CHECK(p[0] == Approx(0.25));
    CHECK(p[1] == Approx(0.75));
    CHECK(p[2] == 0.0);
}

namespace {

// Of a reading by a machine that shows anything in a share of its readings, from that of one which does so in
// the share of odd readings.
double strange_likelihood(double usual, const Reading& reading, double shows) {
    const double odd = AccuracyOptions{}.odd_reading;
    const double broad = std::exp(log_broad(reading));
    return (1.0 - shows) * (usual - odd * broad) / (1.0 - odd) + shows * broad;
}

}  // namespace

TEST_CASE("the posterior of a job is that of a junction tree on the same tables", "[bayes]") {
    // One node says which sample of which hypothesis the machine is; the readings hang on it. They belong to
    // quantities of their own, so that they are independent given the machine.
    const FittedPlan plan(shipped_knowledge(), topology(barrel));
    PredictionOptions few;
    few.samples = 6;
    PredictionTable table(plan, make_hypotheses(plan, {}), few);
    const std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::steady, 19.4, 0.72),
                                        ohms_reading("b", for_ohms(), "main", 21000.0),
                                        open_reading("c", for_ohms(), "vdc")};
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);

    struct Machine {
        std::size_t hypothesis;
        double prior;
        std::array<double, 3> likelihood;
    };
    std::vector<Machine> machines;
    std::size_t none = 0;
    std::array<double, 3> highest{};
    const auto meter = table.powered(readings[0].configuration);
    const auto net = [&](const std::string& id) {
        const auto& nets = plan.topology().nets;
        return static_cast<int>(
            std::find_if(nets.begin(), nets.end(), [&](const Net& n) { return n.id == id; }) - nets.begin());
    };
    const auto main = table.ohms(readings[1].configuration, net("main"));
    const auto vdc = table.ohms(readings[2].configuration, net("vdc"));
    for (std::size_t h = 0; h < table.hypotheses().size(); ++h) {
        const double prior = table.hypotheses()[h].prior;
        if (table.hypotheses()[h].kind == HypothesisKind::none_of_these) {
            none = h;
            continue;
        }
        KnownExpectations by_maker;
        by_maker.amps_ln = plan.knowledge().variety.amps_ln;
        const auto a = log_likelihoods(readings[0], (*meter)[h], -1, -1, {}, by_maker);
        const auto of_ohms = [&](const Reading& reading, const NumberColumn& column, int index) {
            const auto sound = table.known_sound_ohms(reading.configuration, index);
            by_maker.variety = plan.net_variety[static_cast<std::size_t>(index)];
            by_maker.sound_ohms = sound.get();
            return log_likelihoods(reading, column[h], {}, by_maker);
        };
        const auto b = of_ohms(readings[1], *main, net("main"));
        const auto c = of_ohms(readings[2], *vdc, net("vdc"));
        for (std::size_t s = 0; s < a.size(); ++s)
            machines.push_back(
                {h, prior * table.sample_weights(h)[s], {std::exp(a[s]), std::exp(b[s]), std::exp(c[s])}});
    }
    // One with an unknown effect is like one of those, but shows anything in a share of the readings.
    const std::size_t known = machines.size();
    double known_prior = 0.0;
    for (const Machine& machine : machines)
        known_prior += machine.prior;
    for (std::size_t m = 0; m < known; ++m) {
        for (const double shows : AccuracyOptions{}.unknown_shows) {
            Machine strange = machines[m];
            strange.hypothesis = none;
            strange.prior *= table.hypotheses()[none].prior / known_prior / 3.0;
            for (std::size_t r = 0; r < 3; ++r)
                strange.likelihood[r] = strange_likelihood(machines[m].likelihood[r], readings[r], shows);
            machines.push_back(strange);
        }
    }
    for (const Machine& machine : machines) {
        for (std::size_t r = 0; r < 3; ++r)
            highest[r] = std::max(highest[r], machine.likelihood[r]);
    }

    Network network;
    network.set_number_of_nodes(4);
    dlib::bayes_node_utils::set_node_num_values(network, 0, machines.size());
    for (unsigned long r = 1; r <= 3; ++r) {
        network.add_edge(0, r);
        dlib::bayes_node_utils::set_node_num_values(network, r, 2);
    }
    dlib::assignment state;
    double total = 0.0;
    for (const Machine& machine : machines)
        total += machine.prior;
    for (unsigned long m = 0; m < machines.size(); ++m) {
        state.clear();
        dlib::bayes_node_utils::set_node_probability(network, 0, m, state, machines[m].prior / total);
        state.add(0, m);
        for (unsigned long r = 1; r <= 3; ++r) {
            const double seen = machines[m].likelihood[r - 1] / highest[r - 1];
            dlib::bayes_node_utils::set_node_probability(network, r, 1, state, seen);
            dlib::bayes_node_utils::set_node_probability(network, r, 0, state, 1.0 - seen);
        }
    }
    for (unsigned long r = 1; r <= 3; ++r) {
        dlib::bayes_node_utils::set_node_value(network, r, 1);
        dlib::bayes_node_utils::set_node_as_evidence(network, r);
    }
    const auto of_machines = by_join_tree(network).front();
    std::vector<double> of_hypotheses(table.hypotheses().size(), 0.0);
    for (std::size_t m = 0; m < machines.size(); ++m)
        of_hypotheses[machines[m].hypothesis] += of_machines[m];
    for (const Suspicion& suspicion : ranking.suspicions)
        CHECK(suspicion.probability ==
              Approx(of_hypotheses[suspicion.hypothesis]).epsilon(1e-9).margin(1e-15));
}

TEST_CASE("the chest clinic: marginals as published and as the junction tree has them", "[bayes]") {
    // Lauritzen and Spiegelhalter 1988, Local computations with probabilities on graphical structures.
    enum : unsigned long { asia, smoker, tuberculosis, cancer, bronchitis, either, x_ray, dyspnoea, count };
    const auto given = [](bool yes, double p) { return yes ? p : 1.0 - p; };
    const auto probability = [&](unsigned long node, const std::array<bool, count>& v) {
        switch (node) {
            case asia:
                return given(v[asia], 0.01);
            case smoker:
                return given(v[smoker], 0.5);
            case tuberculosis:
                return given(v[tuberculosis], v[asia] ? 0.05 : 0.01);
            case cancer:
                return given(v[cancer], v[smoker] ? 0.10 : 0.01);
            case bronchitis:
                return given(v[bronchitis], v[smoker] ? 0.60 : 0.30);
            case either:
                return given(v[either], v[tuberculosis] || v[cancer] ? 1.0 : 0.0);
            case x_ray:
                return given(v[x_ray], v[either] ? 0.98 : 0.05);
            default:
                return given(v[dyspnoea],
                             v[either] ? (v[bronchitis] ? 0.9 : 0.7) : (v[bronchitis] ? 0.8 : 0.1));
        }
    };
    const std::array<std::vector<unsigned long>, count> parents{
        {{}, {}, {asia}, {smoker}, {smoker}, {tuberculosis, cancer}, {either}, {either, bronchitis}}};

    Network network;
    network.set_number_of_nodes(count);
    for (unsigned long node = 0; node < count; ++node) {
        dlib::bayes_node_utils::set_node_num_values(network, node, 2);
        for (const unsigned long parent : parents[node])
            network.add_edge(parent, node);
    }
    for (unsigned long node = 0; node < count; ++node) {
        for (unsigned long bits = 0; bits < (1UL << (parents[node].size() + 1)); ++bits) {
            std::array<bool, count> v{};
            dlib::assignment state;
            for (std::size_t p = 0; p < parents[node].size(); ++p) {
                v[parents[node][p]] = (bits >> (p + 1) & 1) != 0;
                state.add(parents[node][p], v[parents[node][p]] ? 1 : 0);
            }
            v[node] = (bits & 1) != 0;
            dlib::bayes_node_utils::set_node_probability(network, node, bits & 1, state,
                                                         probability(node, v));
        }
    }

    // Ours: every state of the patient is a hypothesis, what is seen rules states out.
    const auto marginals = [&](const std::function<bool(const std::array<bool, count>&)>& seen) {
        std::vector<double> log_joint;
        std::vector<std::array<bool, count>> states;
        for (unsigned long bits = 0; bits < (1UL << count); ++bits) {
            std::array<bool, count> v{};
            double p = 1.0;
            for (unsigned long node = 0; node < count; ++node)
                v[node] = (bits >> node & 1) != 0;
            for (unsigned long node = 0; node < count; ++node)
                p *= probability(node, v);
            states.push_back(v);
            log_joint.push_back(seen(v) ? log_of(p) : log_of(0.0));
        }
        const auto of_states = posterior(log_joint);
        std::array<double, count> yes{};
        for (std::size_t s = 0; s < states.size(); ++s) {
            for (unsigned long node = 0; node < count; ++node)
                yes[node] += states[s][node] ? of_states[s] : 0.0;
        }
        return yes;
    };

    const auto before = marginals([](const auto&) { return true; });
    CHECK(before[tuberculosis] == Approx(0.0104).epsilon(1e-3));
    CHECK(before[cancer] == Approx(0.055));
    CHECK(before[bronchitis] == Approx(0.45));
    CHECK(before[either] == Approx(0.064828));
    CHECK(before[x_ray] == Approx(0.11029).epsilon(1e-4));
    CHECK(before[dyspnoea] == Approx(0.43597).epsilon(1e-4));

    // A traveller from Asia, short of breath.
    for (const unsigned long node : {asia, dyspnoea}) {
        dlib::bayes_node_utils::set_node_value(network, node, 1);
        dlib::bayes_node_utils::set_node_as_evidence(network, node);
    }
    const auto after = marginals([](const auto& v) { return v[asia] && v[dyspnoea]; });
    const auto by_tree = by_join_tree(network);
    for (unsigned long node = 0; node < count; ++node)
        CHECK(after[node] == Approx(by_tree[node][1]).epsilon(1e-9));
}

TEST_CASE("the polybox: what is possible are the published minimal diagnoses and what contains them",
          "[bayes]") {
    // Davis 1984; de Kleer and Williams 1987, Diagnosing multiple faults. Three multipliers, two adders:
    // inputs 3 2 2 3 3, outputs 10 and 12 where 12 and 12 were expected.
    enum { m1, m2, m3, a1, a2, parts };
    constexpr int highest_output = 30;
    // Share of the ways in which the broken parts can behave that gives what is seen.
    const auto likelihood = [](unsigned broken) {
        const auto is_broken = [&](int part) { return (broken >> part & 1U) != 0; };
        int ways = 0;
        int fitting = 0;
        for (int x = 0; x <= highest_output; ++x) {
            for (int y = 0; y <= highest_output; ++y) {
                for (int z = 0; z <= highest_output; ++z) {
                    if ((!is_broken(m1) && x != 3 * 2) || (!is_broken(m2) && y != 2 * 3) ||
                        (!is_broken(m3) && z != 2 * 3))
                        continue;
                    ++ways;
                    const bool f_fits = is_broken(a1) || x + y == 10;
                    const bool g_fits = is_broken(a2) || y + z == 12;
                    fitting += f_fits && g_fits ? 1 : 0;
                }
            }
        }
        return static_cast<double>(fitting) / ways;
    };
    std::vector<double> log_joint;
    for (unsigned broken = 0; broken < (1U << parts); ++broken) {
        double prior = 1.0;
        for (int part = 0; part < parts; ++part)
            prior *= (broken >> part & 1U) != 0 ? 0.01 : 0.99;
        log_joint.push_back(log_of(prior * likelihood(broken)));
    }
    const auto p = posterior(log_joint);
    const std::vector<unsigned> minimal{1U << m1, 1U << a1, 1U << m2 | 1U << m3, 1U << m2 | 1U << a2};
    for (unsigned broken = 0; broken < (1U << parts); ++broken) {
        const bool contains_one =
            std::any_of(minimal.begin(), minimal.end(), [&](unsigned m) { return (broken & m) == m; });
        CAPTURE(broken);
        CHECK((p[broken] > 0.0) == contains_one);
    }
    CHECK(p[1U << m1] + p[1U << a1] > 0.97);
}

TEST_CASE("as many weights carry a sum as are alike in it", "[bayes]") {
    for (const std::size_t n : {std::size_t{1}, std::size_t{2}, std::size_t{48}}) {
        std::vector<double> weights(n, 0.2);
        CHECK(effective_number(weights) == Approx(static_cast<double>(n)));
        weights.resize(100, 0.0);  // what weighs nothing carries nothing
        CHECK(effective_number(weights) == Approx(static_cast<double>(n)));
    }
    // Kish: n / (1 + squared coefficient of variation) - here of 1, 2, 3: 3 / (1 + (2 / 3) / 4).
    CHECK(effective_number({1.0, 2.0, 3.0}) == Approx(3.0 / (1.0 + 1.0 / 6.0)));
    CHECK(effective_number({1e-30, 2e-30, 3e-30}) == Approx(effective_number({1.0, 2.0, 3.0})));
}
