// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/combinations.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace eh {
namespace {

// Likelihoods closer than this are those of a fault that does not show in the reading.
constexpr double unshown = 1e-9;

class CombinationFinder {
  public:
    CombinationFinder(const MachinePlan& plan, const Beforehand& beforehand,
                      const std::vector<Hypothesis>& hypotheses, const LikelihoodTable& likelihoods,
                      const CombinationOptions& options)
        : catalogue_(plan.knowledge().catalogue),
          beforehand_(beforehand),
          hypotheses_(hypotheses),
          likelihoods_(likelihoods),
          options_(options),
          second_share_(std::max(second_fault_share(beforehand, catalogue_), options.least_second_share)) {
        for (std::size_t h = 0; h < hypotheses.size(); ++h) {
            if (hypotheses[h].kind == HypothesisKind::nothing_wrong)
                sound_ = h;
            if (hypotheses[h].faults.size() != 1)
                continue;
            const bool refit = catalogue_.find(hypotheses[h].faults.front().fault)->refit;
            (refit ? refits_ : originals_).push_back(h);
            if (!refit)
                originals_prior_ += hypotheses[h].prior;
        }
    }

    std::vector<Hypothesis> run() {
        std::vector<Candidate> pairs;
        for (std::size_t i = 0; i < originals_.size(); ++i) {
            for (const std::size_t refit : refits_)
                add(pairs, {originals_[i], refit}, log_prior(originals_[i]) + std::log(rate(refit)));
            for (std::size_t j = i + 1; second_share_ > 0.0 && j < originals_.size(); ++j)
                add(pairs, {originals_[i], originals_[j]}, log_untied({originals_[i], originals_[j]}));
        }
        keep_best(pairs, options_.most);
        std::vector<Candidate> triples;
        for (const Candidate& pair : pairs) {
            const bool with_refit =
                std::find(refits_.begin(), refits_.end(), pair.members[1]) != refits_.end();
            for (const std::size_t third : originals_) {
                // Each triple once: the new member is the last of its originals.
                if (second_share_ <= 0.0 || third <= (with_refit ? pair.members[0] : pair.members[1]))
                    continue;
                auto members = pair.members;
                members.push_back(third);
                const double log_weight =
                    with_refit ? log_untied({pair.members[0], third}) + std::log(rate(pair.members[1]))
                               : log_untied(members);
                add(triples, members, log_weight);
            }
        }
        keep_best(triples, options_.most_triples);
        return merged(pairs, triples);
    }

  private:
    struct Candidate {
        std::vector<std::size_t> members;  // indices into the hypotheses
        double log_weight = 0.0;
        double score = 0.0;
    };

    double log_prior(std::size_t h) const { return std::log(hypotheses_[h].prior); }
    double rate(std::size_t refit) const {
        return refit_rate(hypotheses_[refit].faults.front(), catalogue_, beforehand_);
    }

    // Faults that befell the machine independently: each after the first takes the share of jobs that have
    // one more, and is drawn like the first. The factorial counts the orders in which the set can be drawn.
    double log_untied(const std::vector<std::size_t>& members) const {
        double log_weight = 0.0;
        for (std::size_t k = 0; k < members.size(); ++k)
            log_weight += log_prior(members[k]) + std::log(static_cast<double>(k + 1));
        const auto more = static_cast<double>(members.size() - 1);
        return log_weight + more * std::log(second_share_ / originals_prior_);
    }

    void add(std::vector<Candidate>& list, std::vector<std::size_t> members, double log_weight) const {
        for (std::size_t i = 0; i < members.size(); ++i) {
            for (std::size_t j = 0; j < i; ++j) {
                const auto& a = hypotheses_[members[i]].faults.front();
                const auto& b = hypotheses_[members[j]].faults.front();
                const bool same_part = a.block == b.block;
                // A part has one fault at a time; what was fitted in its place may have another.
                if (same_part && catalogue_.find(a.fault)->refit == catalogue_.find(b.fault)->refit)
                    return;
            }
        }
        double score = log_weight;
        for (const auto& of_hypothesis : likelihoods_)
            score += likelihood(members, of_hypothesis);
        list.push_back({std::move(members), log_weight, score});
    }

    double likelihood(const std::vector<std::size_t>& members,
                      const std::vector<double>& of_hypothesis) const {
        const double sound = of_hypothesis[sound_];
        double best = sound;
        bool shown = false;
        for (const std::size_t member : members) {
            const double own = of_hypothesis[member];
            if (std::abs(own - sound) < unshown)
                continue;
            best = shown ? std::max(best, own) : own;
            shown = true;
        }
        return best;
    }

    static void keep_best(std::vector<Candidate>& list, std::size_t most) {
        const std::size_t kept = std::min(most, list.size());
        std::partial_sort(list.begin(), list.begin() + static_cast<std::ptrdiff_t>(kept), list.end(),
                          [](const Candidate& a, const Candidate& b) { return a.score > b.score; });
        list.resize(kept);
    }

    std::vector<Hypothesis> merged(std::vector<Candidate> pairs,
                                   const std::vector<Candidate>& triples) const {
        pairs.insert(pairs.end(), triples.begin(), triples.end());
        keep_best(pairs, options_.most);
        std::vector<Hypothesis> sets;
        sets.reserve(pairs.size());
        for (const Candidate& candidate : pairs) {
            Hypothesis set;
            set.prior = std::exp(candidate.log_weight);
            for (const std::size_t member : candidate.members)
                set.faults.push_back(hypotheses_[member].faults.front());
            sets.push_back(std::move(set));
        }
        return sets;
    }

    const FaultCatalogue& catalogue_;
    const Beforehand& beforehand_;
    const std::vector<Hypothesis>& hypotheses_;
    const LikelihoodTable& likelihoods_;
    const CombinationOptions& options_;
    double second_share_;
    std::size_t sound_ = 0;
    std::vector<std::size_t> originals_;  // single faults that a machine came in with
    std::vector<std::size_t> refits_;     // single faults of work on it
    double originals_prior_ = 0.0;
};

}  // namespace

std::vector<Hypothesis> promising_combinations(const MachinePlan& plan, const Beforehand& beforehand,
                                               const std::vector<Hypothesis>& hypotheses,
                                               const LikelihoodTable& likelihoods,
                                               const CombinationOptions& options) {
    assert(std::all_of(likelihoods.begin(), likelihoods.end(),
                       [&](const auto& row) { return row.size() == hypotheses.size(); }));
    return CombinationFinder(plan, beforehand, hypotheses, likelihoods, options).run();
}

}  // namespace eh
