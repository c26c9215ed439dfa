#include "core/diagnosis/reasoner.h"

#include <algorithm>

namespace eh {
namespace {

// Combinations less likely than this after the readings are dropped: they would only cost time.
constexpr double worth_keeping = 2e-3;
constexpr std::size_t most_kept = 16;

std::vector<Hypothesis> with_combinations(std::vector<Hypothesis> hypotheses,
                                          const std::vector<double>& priors,
                                          std::vector<Hypothesis> combinations) {
    double total = 0.0;
    for (std::size_t h = 0; h < hypotheses.size(); ++h) {
        hypotheses[h].prior = priors[h];
        total += priors[h];
    }
    for (Hypothesis& combination : combinations) {
        total += combination.prior;
        hypotheses.push_back(std::move(combination));
    }
    for (Hypothesis& hypothesis : hypotheses)
        hypothesis.prior /= total;
    return hypotheses;
}

// The combinations among the suspects that are still likely, most likely first.
std::vector<Hypothesis> likely_combinations(const Suspects& suspects, std::size_t first_combination,
                                            const std::vector<Hypothesis>& combinations) {
    std::vector<Hypothesis> kept;
    for (const Suspicion& suspicion : suspects.ranking.suspicions) {
        if (suspicion.probability < worth_keeping || kept.size() == most_kept)
            break;
        if (suspicion.hypothesis >= first_combination)
            kept.push_back(combinations[suspicion.hypothesis - first_combination]);
    }
    return kept;
}

}  // namespace

Reasoner::Reasoner(std::shared_ptr<PredictionStore> store, AccuracyOptions accuracy)
    : store_(std::move(store)), accuracy_(accuracy) {}

std::shared_ptr<PredictionTable> Reasoner::base_table(const Beforehand& beforehand) const {
    auto replaced = beforehand.replaced;
    std::sort(replaced.begin(), replaced.end());
    const std::lock_guard lock(mutex_);
    auto& table = base_tables_[replaced];
    if (table == nullptr)
        table = std::make_shared<PredictionTable>(store_, make_hypotheses(store_->plan(), {{}, replaced}));
    return table;
}

std::optional<Suspects> Reasoner::weigh(const Beforehand& beforehand, const std::vector<Reading>& readings,
                                        const std::function<bool()>& stop,
                                        const std::function<void(double)>& progress) const {
    const auto base = base_table(beforehand);
    const auto hypotheses = make_hypotheses(store_->plan(), beforehand);
    const auto priors = priors_of(hypotheses);
    if (!prepare(*base, readings, stop, progress))
        return std::nullopt;
    const auto combinations = promising_combinations(store_->plan(), beforehand, hypotheses,
                                                     likelihood_table(*base, readings, accuracy_));
    if (combinations.empty())
        return Suspects{base, rank(*base, priors, readings, accuracy_)};

    const auto weigh_with = [&](const std::vector<Hypothesis>& more) -> std::optional<Suspects> {
        auto table = std::make_shared<PredictionTable>(store_, with_combinations(hypotheses, priors, more));
        if (!prepare(*table, readings, stop, progress))
            return std::nullopt;
        return Suspects{table, rank(*table, priors_of(table->hypotheses()), readings, accuracy_)};
    };
    const auto all = weigh_with(combinations);
    return all ? weigh_with(likely_combinations(*all, hypotheses.size(), combinations)) : std::nullopt;
}

}  // namespace eh
