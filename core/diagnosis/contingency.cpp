#include "core/diagnosis/contingency.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/diagnosis/outcome_bins.h"

namespace eh {
namespace {

constexpr double misread_share = 0.01;  // outcomes are misread
constexpr double least_telling = 0.02;  // outcomes less likely than this are not listed
constexpr std::size_t most_tellings = 4;

}  // namespace

void Contingency::add(std::size_t hypothesis, const OutcomeShares& shares) {
    joint_.resize(std::max(joint_.size(), shares.size()));
    for (std::size_t c = 0; c < shares.size(); ++c) {
        if (shares[c] <= 0.0)
            continue;
        if (joint_[c].empty())
            joint_[c].assign(parties_.probability.size(), 0.0);
        joint_[c][parties_.of_hypothesis[hypothesis]] += parties_.p_hypothesis[hypothesis] * shares[c];
    }
}

void Contingency::finish() {
    double columns = 0.0;
    std::vector<double> seen(parties_.probability.size(), 0.0);
    for (const auto& column : joint_) {
        columns += column.empty() ? 0.0 : 1.0;
        for (std::size_t g = 0; g < column.size(); ++g)
            seen[g] += column[g];
    }
    for (auto& column : joint_) {
        for (std::size_t g = 0; g < column.size(); ++g) {
            const double missing = parties_.probability[g] - seen[g];
            column[g] = column[g] * (1.0 - misread_share) + (misread_share * seen[g] + missing) / columns;
        }
    }
}

double Contingency::bits() const {
    double information = 0.0;
    for (const auto& column : joint_) {
        const double q = std::accumulate(column.begin(), column.end(), 0.0);
        for (std::size_t g = 0; g < column.size(); ++g) {
            if (column[g] > 0.0)
                information += column[g] * std::log2(column[g] / (q * parties_.probability[g]));
        }
    }
    return std::max(0.0, information);
}

double Contingency::cost_after(const BenchCosts& costs) const {
    double total = 0.0;
    for (const auto& column : joint_) {
        if (column.empty())
            continue;
        const double q = std::accumulate(column.begin(), column.end(), 0.0);
        std::vector<double> posterior = column;
        for (double& p : posterior)
            p /= q;
        total += q * repair_now_minutes(posterior, parties_, costs);
    }
    return total;
}

std::vector<Telling> Contingency::tellings(ReadingKind kind, const MachinePlan& plan) const {
    std::vector<Telling> list;
    for (std::size_t c = 0; c < joint_.size(); ++c) {
        if (joint_[c].empty())
            continue;
        const double q = std::accumulate(joint_[c].begin(), joint_[c].end(), 0.0);
        const auto top = std::max_element(joint_[c].begin(), joint_[c].end());
        const Party& part = parties_.list[static_cast<std::size_t>(top - joint_[c].begin())];
        if (q >= least_telling)
            list.push_back(
                {outcome_text(kind, static_cast<int>(c), plan), q, part.block, part.kind, *top / q});
    }
    std::sort(list.begin(), list.end(),
              [](const Telling& a, const Telling& b) { return a.probability > b.probability; });
    if (list.size() > most_tellings)
        list.resize(most_tellings);
    return list;
}

}  // namespace eh
