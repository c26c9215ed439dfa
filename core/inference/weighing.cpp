// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/weighing.h"
#include "core/inference/contact_look.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <optional>

#include "core/inference/bayes.h"
#include "core/inference/repeats.h"

namespace eh {
namespace {

// What the narrowest of all samples gives. A number that comes again says nothing about the fault: it has to
// be as likely under every hypothesis, or those that expect a narrow band there would gain by each repeat.
double density_of_coming_again(const ReadingFit& fit) {
    double most = 0.0;
    const void* last = nullptr;
    for (const auto& of_samples : fit.samples) {
        if (of_samples.get() == last)
            continue;
        last = of_samples.get();
        for (const SampleTerms& sample : *of_samples)
            most = sample.known ? std::max(most, repeat_density(sample)) : most;
    }
    return most > 0.0 ? most : fit.terms.broad;
}

std::size_t most_samples(const PredictionTable& table) {
    std::size_t most = 0;
    for (std::size_t h = 0; h < table.hypotheses().size(); ++h)
        most = std::max(most, table.sample_weights(h).size());
    return most;
}

}  // namespace

Weighing::Weighing(PredictionTable& table, const std::vector<double>& priors,
                   const std::vector<Reading>& readings, const AccuracyOptions& accuracy,
                   const std::function<bool()>& stop)
    : table_(table),
      priors_(priors),
      accuracy_(accuracy),
      stop_(stop),
      count_(table.hypotheses().size()),
      samples_(most_samples(table)) {
    take_in(readings);
    if (!stopped_)
        make_room();
}

void Weighing::take_in(const std::vector<Reading>& readings) {
    for (const Reading& reading : readings) {
        if (stopped())
            return;
        if (!counts(reading, table_.plan()))
            continue;
        fits_.push_back(fit_of(table_, reading, accuracy_));
        if (const Reading* before = taken_before(used_, reading))
            take_again(fits_.back(), reading, *before, accuracy_);
        if (reading.kind() == ReadingKind::look && !contact_was_seen(used_, reading))
            add_contact(fits_.back(), table_, reading);
        before_.push_back(same_as_before(used_, reading, accuracy_));
        comes_again_.push_back(before_.back() < 0 ? 0.0 : density_of_coming_again(fits_.back()));
        machine_brings_.push_back(comes_again(reading, accuracy_));
        used_.push_back(&reading);
    }
}

void Weighing::make_room() {
    std::vector<ReadingTerms> terms;
    terms.reserve(fits_.size());
    for (const ReadingFit& fit : fits_)
        terms.push_back(fit.terms);
    quirks_ = QuirkBook(count_, samples_, terms, accuracy_);
    channels_.reserve(terms.size());
    for (const ReadingTerms& of_reading : terms)
        channels_.push_back({quirks_.shift_channel(of_reading.channels[0]),
                             quirks_.shift_channel(of_reading.channels[1]),
                             quirks_.doubt_channel(of_reading.word_channel)});
    joint_.assign(used_.size() + 1, std::vector<double>(count_));
    strange_.fill(std::vector<std::vector<double>>(used_.size()));
    for (auto& of_share : strange_)
        for (auto& of_reading : of_share)
            of_reading.reserve(count_);
    odd_share_.assign(used_.size(), std::vector<double>(count_, 1.0));
    for (const double shows : accuracy_.unknown_shows)
        strange_machines_.emplace_back(shows);
    odd_.resize(used_.size() * samples_);
    own_.resize(used_.size() * samples_);
    meant_.resize(samples_);
}

Ranking Weighing::run() {
    Ranking ranking;
    for (std::size_t h = 0; h < count_; ++h) {
        if (stopped())
            return {};
        ranking.sample_weights.push_back(weigh(h));
    }
    weigh_none_of_these();
    add_suspicions(ranking);
    add_odd_readings(ranking);
    ranking.quirks = std::move(quirks_);
    return ranking;
}

// Fills the joint of one hypothesis; returns how well each of its samples fits, summing to 1.
std::vector<double> Weighing::weigh(std::size_t h) {
    joint_[0][h] = std::log(priors_[h]);
    if (is_none(h))
        return {};
    std::vector<double> weights = table_.sample_weights(h);
    leave_out_unsolved(h, weights);
    for (UnknownEffect& strange : strange_machines_)
        strange.begin(weights, joint_[0][h]);
    for (std::size_t r = 0; r < used_.size(); ++r) {
        const double total = weigh_reading(r, h, weights);
        for (double& weight : weights)
            weight /= total;
        joint_[r + 1][h] = joint_[r][h] + std::log(total);
        for (std::size_t i = 0; i < strange_machines_.size(); ++i) {
            UnknownEffect& strange = strange_machines_[i];
            strange_[i][r].push_back(before_[r] < 0 ? strange.with(meant_, fits_[r].terms.broad)
                                                    : strange.with_again(comes_again_[r]));
        }
    }
    for (std::size_t r = 0; r < used_.size(); ++r)
        odd_share_[r][h] = std::inner_product(weights.begin(), weights.end(), &odd_[r * samples_], 0.0);
    return weights;
}

// Multiplies the samples' weights; returns their sum.
double Weighing::weigh_reading(std::size_t r, std::size_t h, std::vector<double>& weights) {
    const ReadingTerms& terms = fits_[r].terms;
    const std::vector<SampleTerms>& of_samples = *fits_[r].samples[h];
    double* const odd = &odd_[r * samples_];
    double* const own = &own_[r * samples_];
    double total = 0.0;
    double solved = 0.0;  // weight of the samples that say something
    for (std::size_t s = 0; s < weights.size(); ++s) {
        const SampleTerms& sample = of_samples[s];
        if (!sample.known)
            continue;
        const Shares of = before_[r] < 0 ? shares(r, h, s, sample) : shares_again(r, h, s, sample);
        own[s] = std::min(1.0, of.by_machine / of.seen);
        odd[s] = std::min(1.0, of.by_oddness / of.seen);
        solved += weights[s];
        weights[s] *= of.seen;
        total += weights[s];
    }
    // A reading that no sample was solved for says nothing.
    const double like = solved > 0.0 ? total / solved : terms.broad;
    for (std::size_t s = 0; s < weights.size(); ++s) {
        if (of_samples[s].known)
            continue;
        meant_[s] = like;
        own[s] = odd[s] = 0.0;
        weights[s] *= like;
        total += weights[s];
    }
    return total;
}

Weighing::Shares Weighing::shares(std::size_t r, std::size_t h, std::size_t s, const SampleTerms& sample) {
    const ReadingTerms& terms = fits_[r].terms;
    Shares of;
    of.seen =
        density(terms, sample, {quirks_.shift(h, s, channels_[r][0]), quirks_.shift(h, s, channels_[r][1])},
                quirks_.doubt(h, s, channels_[r][2]), accuracy_);
    of.by_oddness = accuracy_.odd_reading * terms.broad;
    of.by_machine = machine_brings_[r] * of.by_oddness;
    meant_[s] = std::max(0.0, of.seen - of.by_oddness) / (1.0 - accuracy_.odd_reading);
    return of;
}

// A number that came again. Unless what was seen before was a slip, which does not come again, it is no news:
// neither of the fault nor of the machine's quirks.
Weighing::Shares Weighing::shares_again(std::size_t r, std::size_t h, std::size_t s,
                                        const SampleTerms& sample) {
    const ReadingTerms& terms = fits_[r].terms;
    const std::size_t first = static_cast<std::size_t>(before_[r]) * samples_ + s;
    const double slipped = std::max(0.0, odd_[first] - own_[first]);
    Shift shift_a = quirks_.shift_of(h, s, channels_[r][0]);
    Shift shift_b = quirks_.shift_of(h, s, channels_[r][1]);
    std::optional<Doubt> doubt;
    if (channels_[r][2] >= 0)
        doubt = quirks_.doubt_of(h, s, channels_[r][2]);
    const double afresh = density(
        terms, sample, {channels_[r][0] < 0 ? nullptr : &shift_a, channels_[r][1] < 0 ? nullptr : &shift_b},
        doubt ? &*doubt : nullptr, accuracy_);
    const double slips = slipped * accuracy_.odd_reading * terms.broad;
    const double same = comes_again_[r];
    return {(1.0 - slipped) * same + slipped * afresh, own_[first] * same + slips,
            own_[first] * same + machine_brings_[r] * slips};
}

// What could not be solved for one of the readings counts for none of them: it neither gains nor loses, in
// whichever order they come.
void Weighing::leave_out_unsolved(std::size_t h, std::vector<double>& weights) const {
    std::vector<double> solved = weights;
    for (const ReadingFit& fit : fits_) {
        const std::vector<SampleTerms>& terms = *fit.samples[h];
        const bool any =
            std::any_of(terms.begin(), terms.end(), [](const SampleTerms& sample) { return sample.known; });
        for (std::size_t s = 0; any && s < solved.size(); ++s)
            solved[s] = terms[s].known ? solved[s] : 0.0;
    }
    const double total = std::accumulate(solved.begin(), solved.end(), 0.0);
    if (!(total > 0.0))
        return;
    for (double& weight : solved)
        weight /= total;
    weights = std::move(solved);
}

bool Weighing::is_none(std::size_t h) const {
    return table_.hypotheses()[h].kind == HypothesisKind::none_of_these;
}

// A machine with an effect that the catalogue does not hold is like one of the known hypotheses, but for some
// readings, in which it shows anything.
void Weighing::weigh_none_of_these() {
    std::vector<double> priors_known;
    for (std::size_t h = 0; h < count_; ++h) {
        if (!is_none(h))
            priors_known.push_back(joint_[0][h]);
    }
    const double known = log_sum_exp(priors_known);
    for (std::size_t r = 0; r < used_.size(); ++r) {
        std::vector<double> all;
        for (const auto& of_share : strange_)
            all.insert(all.end(), of_share[r].begin(), of_share[r].end());
        const double log = log_sum_exp(all) - known - std::log(static_cast<double>(strange_.size()));
        for (std::size_t h = 0; h < count_; ++h) {
            if (is_none(h))
                joint_[r + 1][h] = joint_[0][h] + log;
        }
    }
}

void Weighing::add_suspicions(Ranking& ranking) const {
    std::vector<double> totals;
    totals.reserve(joint_.size());
    for (const auto& so_far : joint_)
        totals.push_back(log_sum_exp(so_far));
    ranking.log_evidence = totals.back();
    const auto probabilities = posterior(joint_.back());
    for (std::size_t h = 0; h < count_; ++h) {
        Suspicion suspicion{h, priors_[h], probabilities[h], {}};
        for (std::size_t r = 0; r < used_.size(); ++r) {
            const double likelihood = joint_[r + 1][h] - joint_[r][h];
            suspicion.evidence.push_back(
                {used_[r]->id, likelihood, likelihood - (totals[r + 1] - totals[r])});
        }
        ranking.suspicions.push_back(std::move(suspicion));
    }
    std::stable_sort(ranking.suspicions.begin(), ranking.suspicions.end(),
                     [](const Suspicion& a, const Suspicion& b) { return a.probability > b.probability; });
}

void Weighing::add_odd_readings(Ranking& ranking) const {
    constexpr double more_likely_than_not = 0.5;
    for (std::size_t r = 0; r < used_.size(); ++r) {
        double share = 0.0;
        for (const Suspicion& suspicion : ranking.suspicions)
            share += suspicion.probability * odd_share_[r][suspicion.hypothesis];
        if (share > more_likely_than_not)
            ranking.odd.push_back({used_[r]->id, share});
    }
}

// Once stopped, always: what the constructor left unfinished must not be weighed.
bool Weighing::stopped() {
    stopped_ = stopped_ || (stop_ && stop_());
    return stopped_;
}

}  // namespace eh
