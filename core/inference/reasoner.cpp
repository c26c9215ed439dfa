// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/reasoner.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/random.h"

namespace eh {
namespace {

// Combinations less likely than this after the readings are dropped: they would only cost time.
constexpr double worth_keeping = 2e-3;
constexpr std::size_t most_kept = 16;
// From this share of "none of these" on the readings ask for two faults that have nothing to do with each
// other.
constexpr double asks_for_two = 0.1;

// Where fewer of the designs than this share carry the answer, others are looked for. It costs about as much
// as all that was simulated before, and few readings leave many designs.
constexpr double enough_of_all = 0.15;
// They are looked for anew after so many more readings, so that what was simulated serves for a while.
constexpr std::size_t readings_a_search = 8;
constexpr std::size_t most_kept_searches = 4;
// Hypotheses with which the neighbours of a design are told apart.
constexpr std::size_t most_in_search = 20;

// While designs are looked for, many readings may still be odd: those of habits not met yet.
AccuracyOptions lenient(AccuracyOptions accuracy) {
    constexpr double odd_reading = 0.1;
    accuracy.odd_reading = std::max(accuracy.odd_reading, odd_reading);
    return accuracy;
}

void normalize_priors(std::vector<Hypothesis>& hypotheses) {
    double total = 0.0;
    for (const Hypothesis& hypothesis : hypotheses)
        total += hypothesis.prior;
    for (Hypothesis& hypothesis : hypotheses)
        hypothesis.prior /= total;
}

double share_of(HypothesisKind kind, const Ranking& ranking) {
    double sum = 0.0;
    for (const PartSuspicion& part : ranking.parts)
        sum += part.kind == kind ? part.probability : 0.0;
    return sum;
}

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

// The combinations among the suspects that are still likely, most likely first, in many designs where they
// hang on few.
std::vector<Hypothesis> likely_combinations(const Suspects& suspects, std::size_t first_combination,
                                            const std::vector<Hypothesis>& combinations) {
    std::vector<Hypothesis> kept;
    const auto depths = depths_needed(*suspects.table, suspects.ranking);
    for (const Suspicion& suspicion : suspects.ranking.suspicions) {
        if (suspicion.probability < worth_keeping || kept.size() == most_kept)
            break;
        if (suspicion.hypothesis < first_combination)
            continue;
        kept.push_back(combinations[suspicion.hypothesis - first_combination]);
        kept.back().depth = depths[suspicion.hypothesis];
    }
    return kept;
}

// Goes through the readings and leaves out, before more of it is simulated, each combination that cannot come
// near the best of the single hypotheses any more, however well it fits what is left. `likelihoods` are those
// of the hypotheses. Nothing when stopped.
std::optional<std::vector<Hypothesis>> not_beaten_yet(
    const std::shared_ptr<PredictionStore>& store, std::vector<Hypothesis> combinations,
    const std::vector<double>& priors, const std::vector<Reading>& readings,
    const LikelihoodTable& likelihoods, const AccuracyOptions& accuracy, const std::function<bool()>& stop) {
    constexpr double far_behind = 9.0;  // in logs, what the machine's quirks may make up for included
    double best = -std::numeric_limits<double>::infinity();
    for (std::size_t h = 0; h < priors.size(); ++h) {
        double sum = std::log(priors[h]);
        for (const auto& row : likelihoods)
            sum += row[h];
        best = std::max(best, sum);
    }
    double still_to_gain = 0.0;
    for (const auto& row : likelihoods)
        still_to_gain += *std::max_element(row.begin(), row.end());
    std::vector<double> logs;
    logs.reserve(combinations.size());
    for (const Hypothesis& combination : combinations)
        logs.push_back(std::log(combination.prior));
    auto row = likelihoods.begin();
    for (const Reading& reading : readings) {
        if (combinations.empty())
            break;
        PredictionTable table(store, combinations);
        if (!prepare(table, {reading}, stop))
            return std::nullopt;
        const auto own = likelihood_table(table, {reading}, accuracy);
        if (own.empty())
            continue;
        still_to_gain -= *std::max_element(row->begin(), row->end());
        ++row;
        std::size_t kept = 0;
        for (std::size_t c = 0; c < combinations.size(); ++c) {
            const double log = logs[c] + own.front()[c];
            if (log + still_to_gain < best - far_behind)
                continue;
            logs[kept] = log;
            if (kept != c)
                combinations[kept] = std::move(combinations[c]);
            ++kept;
        }
        logs.resize(kept);
        combinations.resize(kept);
    }
    return combinations;
}

// The likeliest hypotheses that the ranking has of those that count, as if there were no others.
template <typename Counts>
std::vector<Hypothesis> likeliest(const std::vector<Hypothesis>& hypotheses, const Ranking& ranking,
                                  const Counts& counts) {
    std::vector<Hypothesis> likely;
    for (const Suspicion& suspicion : ranking.suspicions) {
        if (likely.size() == most_in_search)
            break;
        if (hypotheses[suspicion.hypothesis].kind != HypothesisKind::none_of_these &&
            counts(suspicion.hypothesis))
            likely.push_back(hypotheses[suspicion.hypothesis]);
    }
    normalize_priors(likely);
    return likely;
}

// The hypotheses with which designs are told apart: the likeliest that the ranking has of these, of one part
// where it is known that that was at fault; all of them where none is of that part.
std::vector<Hypothesis> likely_ones(const std::vector<Hypothesis>& hypotheses, const Ranking& ranking,
                                    const std::string& part = {}) {
    auto of_part = likeliest(hypotheses, ranking, [&](std::size_t h) {
        return part.empty() || fault_at(hypotheses[h], part) != nullptr;
    });
    return of_part.empty() && !part.empty() ? likely_ones(hypotheses, ranking) : of_part;
}

}  // namespace

Reasoner::Reasoner(std::shared_ptr<PredictionStore> store, AccuracyOptions accuracy)
    : store_(std::move(store)), accuracy_(accuracy) {
    auto wide = std::make_shared<Outlook>();
    wide->store = store_;
    wide_ = std::move(wide);
}

std::optional<Reasoner::Base> Reasoner::base(const Outlook& outlook, BaseKey key,
                                             const std::function<bool()>& stop) const {
    constexpr std::size_t most_kept_bases = 6;
    {
        const std::lock_guard lock(outlook.mutex);
        const auto known = std::find_if(outlook.bases.begin(), outlook.bases.end(),
                                        [&](const auto& kept) { return kept.first == key; });
        if (known != outlook.bases.end()) {
            std::rotate(outlook.bases.begin(), known, known + 1);
            return outlook.bases.front().second;
        }
    }
    auto hypotheses = make_hypotheses(store_->plan(), {{}, key.replaced});
    for (std::size_t h = 0; h < key.closeness.severities.size(); ++h) {
        for (FaultInstance& fault : hypotheses[h].faults)
            fault.severity = key.closeness.severities[h];
        hypotheses[h].depth = key.closeness.depths[h];
    }
    Base base{std::make_shared<PredictionTable>(outlook.store, std::move(hypotheses)), {}};
    auto complaint = weigh_complaint(*base.table, stop);
    if (!complaint)
        return std::nullopt;
    base.table->set_sample_weights(std::move(complaint->sample_weights));
    base.prior_factors = std::move(complaint->prior_factors);
    const std::lock_guard lock(outlook.mutex);
    outlook.bases.insert(outlook.bases.begin(), {std::move(key), base});
    if (outlook.bases.size() > most_kept_bases)
        outlook.bases.pop_back();
    return base;
}

std::optional<Reasoner::Question> Reasoner::question(const Outlook& outlook, const Beforehand& beforehand,
                                                     const Closeness& closeness,
                                                     const std::function<bool()>& stop) const {
    BaseKey key{beforehand.replaced, closeness};
    std::sort(key.replaced.begin(), key.replaced.end());
    const auto known = base(outlook, std::move(key), stop);
    if (!known)
        return std::nullopt;
    auto hypotheses = make_hypotheses(store_->plan(), beforehand);
    for (std::size_t h = 0; h < hypotheses.size(); ++h) {
        hypotheses[h].faults = known->table->hypotheses()[h].faults;
        hypotheses[h].depth = known->table->hypotheses()[h].depth;
        hypotheses[h].prior *= known->prior_factors[h];
    }
    normalize_priors(hypotheses);
    return Question{known->table, std::move(hypotheses)};
}

std::optional<Reasoner::Question> Reasoner::close_question(
    const Outlook& outlook, const Beforehand& beforehand, const std::vector<Reading>& readings,
    const std::function<bool()>& stop, const std::function<void(double)>& progress) const {
    auto evenly_drawn = question(outlook, beforehand, {}, stop);
    if (!evenly_drawn || !prepare(*evenly_drawn->table, readings, stop, progress))
        return std::nullopt;
    const auto priors = priors_of(evenly_drawn->hypotheses);
    const Ranking ranking = rank(*evenly_drawn->table, priors, readings, accuracy_, stop);
    if (stop && stop())
        return std::nullopt;
    Closeness closeness{severity_ranges(*evenly_drawn->table, priors, readings, ranking, accuracy_, stop),
                        depths_needed(*evenly_drawn->table, ranking)};
    if (closeness.severities.empty())
        return std::nullopt;
    const bool any = std::any_of(closeness.severities.begin(), closeness.severities.end(),
                                 [](const auto& range) { return range.has_value(); }) ||
                     std::any_of(closeness.depths.begin(), closeness.depths.end(),
                                 [](Depth depth) { return depth == Depth::many_designs; });
    if (!any)
        return evenly_drawn;
    auto closely = question(outlook, beforehand, closeness, stop);
    if (!closely || !prepare(*closely->table, readings, stop, progress))
        return std::nullopt;
    return closely;
}

std::shared_ptr<const Reasoner::Outlook> Reasoner::outlook_over(
    const DesignShares& met, const std::vector<DesignShares>& drawn) const {
    constexpr std::size_t most_kept_outlooks = 3;
    const std::lock_guard lock(mutex_);
    const auto shares = std::pair(met, drawn);
    auto known = std::find_if(narrower_.begin(), narrower_.end(),
                              [&](const auto& kept) { return kept.first == shares; });
    if (known == narrower_.end()) {
        PredictionOptions options = store_->options();
        options.designs = spread_in_blocks(met.habits, drawn, options.few_designs(), options.designs.size(),
                                           options.seed + 1);
        auto outlook = std::make_shared<Outlook>();
        outlook->store = std::make_shared<PredictionStore>(store_->plan(), options);
        narrower_.insert(narrower_.begin(), {shares, std::move(outlook)});
        if (narrower_.size() > most_kept_outlooks)
            narrower_.pop_back();
    } else {
        std::rotate(narrower_.begin(), known, known + 1);
    }
    return narrower_.front().second;
}

PredictionOptions Reasoner::options_over(std::vector<DesignSample> designs) const {
    PredictionOptions options = store_->options();
    options.samples = samples_of_design * static_cast<int>(designs.size());
    options.designs = std::move(designs);
    return options;
}

DesignShares Reasoner::met_shares(const Beforehand& beforehand) const {
    return shares_met(shares_after(store_->plan().knowledge().variety.habit_shares, beforehand.learnt));
}

std::shared_ptr<const Reasoner::Outlook> Reasoner::met_outlook(const Beforehand& beforehand) const {
    const DesignShares met = met_shares(beforehand);
    return met == met_shares({}) ? wide_ : outlook_over(met, {met});
}

std::optional<DesignShares> Reasoner::shares_around(const DesignSample& design, const DesignShares& met,
                                                    const std::vector<Hypothesis>& likely,
                                                    const std::vector<Reading>& readings,
                                                    const std::function<bool()>& stop) const {
    PredictionTable table(std::make_shared<PredictionStore>(store_->plan(), options_over(neighbours(design))),
                          likely);
    if (!prepare(table, readings, stop))
        return std::nullopt;
    const Ranking around = rank(table, priors_of(likely), readings, lenient(accuracy_), stop);
    if (stop && stop())
        return std::nullopt;
    return shares_that_fit(met, design, log_evidence_of_designs(table, around));
}

std::optional<Reasoner::Fit> Reasoner::fit_of_designs(const Beforehand& beforehand,
                                                      const std::vector<Reading>& readings,
                                                      const std::function<bool()>& stop) const {
    const auto outlook = met_outlook(beforehand);
    auto asked = question(*outlook, beforehand, {}, stop);
    if (!asked || !prepare(*asked->table, readings, stop))
        return std::nullopt;
    Ranking ranking = rank(*asked->table, priors_of(asked->hypotheses), readings, lenient(accuracy_), stop);
    if (stop && stop())
        return std::nullopt;
    auto evidence = log_evidence_of_designs(*asked->table, ranking);
    const auto best_of = [&](const std::vector<double>& logs) {
        const auto best = std::max_element(logs.begin(), logs.end()) - logs.begin();
        return outlook->store->options().designs[static_cast<std::size_t>(best)];
    };
    const DesignSample design = best_of(evidence);
    const auto for_rivals = log_evidence_for_rivals(*asked->table, ranking);
    return Fit{outlook,
               std::move(*asked),
               std::move(ranking),
               std::move(evidence),
               design,
               for_rivals.empty() ? std::nullopt : std::optional(best_of(for_rivals))};
}

std::shared_ptr<const Reasoner::Outlook> Reasoner::outlook_for(const Beforehand& beforehand,
                                                               const std::vector<Reading>& readings,
                                                               const std::function<bool()>& stop) const {
    const auto fit = fit_of_designs(beforehand, readings, stop);
    if (!fit)
        return nullptr;
    const auto& designs = fit->outlook->store->options().designs;
    if (effective_designs(fit->evidence, designs) > enough_of_all * static_cast<double>(fit->evidence.size()))
        return fit->outlook;
    const DesignShares met = met_shares(beforehand);
    const auto shares =
        shares_around(fit->best, met, likely_ones(fit->wide.hypotheses, fit->ranking), readings, stop);
    if (!shares)
        return nullptr;
    std::vector<DesignShares> drawn(1, *shares);
    // Designs that suit the leading part alone would leave the others to chance.
    const auto rivals = likeliest(fit->wide.hypotheses, fit->ranking, [&](std::size_t h) {
        return !names_leading_part(*fit->wide.table, fit->ranking, h);
    });
    if (fit->best_for_rivals && !rivals.empty()) {
        const auto for_rivals = shares_around(*fit->best_for_rivals, met, rivals, readings, stop);
        if (!for_rivals)
            return nullptr;
        if (*for_rivals != *shares)
            drawn.push_back(*for_rivals);
    }
    return outlook_over(met, drawn);
}

std::vector<HabitKnown> Reasoner::design_known(const Beforehand& beforehand,
                                               const std::vector<Reading>& readings,
                                               const std::string& proved,
                                               const std::function<bool()>& stop) const {
    constexpr std::size_t designs_looked_at = 5;
    const auto fit = fit_of_designs(beforehand, readings, stop);
    if (!fit)
        return {};
    const auto likely = likely_ones(fit->wide.hypotheses, fit->ranking, proved);
    const auto priors = priors_of(likely);
    const ByHabit<double> met = met_shares(beforehand).habits;
    Random random(store_->options().seed + 2);
    DesignSample design = fit->best;
    std::vector<HabitCourse> courses;
    for (std::size_t d = 0; d < designs_looked_at; ++d) {
        PredictionTable around(
            std::make_shared<PredictionStore>(store_->plan(), options_over(neighbours(design))), likely);
        if (!prepare(around, readings, stop))
            return {};
        courses.push_back(
            habits_given_the_rest(around, design, priors, met, readings, lenient(accuracy_), stop));
        if (courses.back().empty())
            return {};
        for (std::size_t h = 0; h < habit_count; ++h)
            design.habits[h] = random.uniform() < courses.back().back()[h];
    }
    return habits_known(mean_of(courses), met, readings);
}

std::optional<DesignLesson> Reasoner::lesson(Beforehand beforehand, const std::vector<Reading>& readings,
                                             const std::string& proved,
                                             const std::function<bool()>& stop) const {
    beforehand.learnt = {};
    const auto known = design_known(beforehand, readings, proved, stop);
    const auto asked = question(*wide_, beforehand, {}, stop);
    if (known.empty() || !asked)
        return std::nullopt;
    // Of all ways in which that part may be at fault.
    std::vector<double> priors = priors_of(asked->hypotheses);
    double total = 0.0;
    for (std::size_t h = 0; h < priors.size(); ++h) {
        if (fault_at(asked->hypotheses[h], proved) == nullptr)
            priors[h] *= 1e-9;
        total += priors[h];
    }
    for (double& prior : priors)
        prior /= total;
    if (!prepare(*asked->table, readings, stop))
        return std::nullopt;
    const Ranking ranking = rank(*asked->table, priors, readings, lenient(accuracy_), stop);
    if (stop && stop())
        return std::nullopt;
    return DesignLesson{learnt_of(known), sound_ohms_read(*asked->table, ranking, readings)};
}

std::optional<Suspects> Reasoner::weigh(const Beforehand& beforehand, const std::vector<Reading>& readings,
                                        const std::function<bool()>& stop,
                                        const std::function<void(double)>& progress) const {
    const auto outlook = known_outlook(beforehand, readings, stop);
    return outlook ? weigh_over(*outlook, beforehand, readings, stop, progress) : std::nullopt;
}

std::shared_ptr<const Reasoner::Outlook> Reasoner::known_outlook(const Beforehand& beforehand,
                                                                 const std::vector<Reading>& readings,
                                                                 const std::function<bool()>& stop) const {
    const std::size_t searched = readings.size() / readings_a_search * readings_a_search;
    if (searched == 0)
        return met_outlook(beforehand);
    Search search{beforehand, {readings.begin(), readings.begin() + static_cast<std::ptrdiff_t>(searched)}};
    {
        const std::lock_guard lock(mutex_);
        for (const auto& [known, outlook] : searches_) {
            if (known == search)
                return outlook;
        }
    }
    auto outlook = outlook_for(beforehand, search.readings, stop);
    if (outlook == nullptr)
        return nullptr;
    const std::lock_guard lock(mutex_);
    searches_.insert(searches_.begin(), {std::move(search), outlook});
    if (searches_.size() > most_kept_searches)
        searches_.pop_back();
    return outlook;
}

std::optional<Suspects> Reasoner::weigh_over(const Outlook& outlook, const Beforehand& beforehand,
                                             const std::vector<Reading>& readings,
                                             const std::function<bool()>& stop,
                                             const std::function<void(double)>& progress) const {
    const auto asked = close_question(outlook, beforehand, readings, stop, progress);
    if (!asked)
        return std::nullopt;
    const auto& table = asked->table;
    const auto& hypotheses = asked->hypotheses;
    const auto priors = priors_of(hypotheses);
    const auto likelihoods = likelihood_table(*table, readings, accuracy_, stop);
    if (stop && stop())
        return std::nullopt;
    const Ranking singles = rank(*table, priors, readings, accuracy_, stop);
    if (stop && stop())
        return std::nullopt;
    CombinationOptions options;
    if (share_of(HypothesisKind::none_of_these, singles) > asks_for_two)
        options.least_second_share = store_->plan().knowledge().catalogue.untied_share;
    const auto found = not_beaten_yet(
        outlook.store, promising_combinations(store_->plan(), beforehand, hypotheses, likelihoods, options),
        priors, readings, likelihoods, accuracy_, stop);
    if (!found)
        return std::nullopt;
    const auto& combinations = *found;
    const auto ranked = [&](const std::shared_ptr<PredictionTable>& with,
                            const std::vector<double>& own_priors) -> std::optional<Suspects> {
        Suspects suspects{with, rank(*with, own_priors, readings, accuracy_, stop)};
        if (stop && stop())
            return std::nullopt;
        return suspects;
    };
    if (combinations.empty())
        return Suspects{table, singles};

    const auto weigh_with = [&](const std::vector<Hypothesis>& more) -> std::optional<Suspects> {
        auto wider = std::make_shared<PredictionTable>(table, with_combinations(hypotheses, priors, more));
        if (!prepare(*wider, readings, stop, progress))
            return std::nullopt;
        return ranked(wider, priors_of(wider->hypotheses()));
    };
    const auto all = weigh_with(combinations);
    return all ? weigh_with(likely_combinations(*all, hypotheses.size(), combinations)) : std::nullopt;
}

}  // namespace eh
