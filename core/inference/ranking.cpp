// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/ranking.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <limits>
#include <map>
#include <memory>
#include <numeric>
#include <unordered_map>

#include "core/base/text.h"
#include "core/inference/bayes.h"
#include "core/inference/repeats.h"
#include "core/inference/unknown_effect.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/model/net_index.h"

namespace eh {
namespace {

// One reading against every sample: by hypothesis, then by sample; nothing for "none of these". Hypotheses
// that show the same share what was worked out.
struct ReadingFit {
    ReadingTerms terms;
    std::vector<std::shared_ptr<const std::vector<SampleTerms>>> samples;
};

template <typename Column, typename TermsOf>
void fill_samples(ReadingFit& fit, const PredictionTable& table, const Column& column, TermsOf terms_of) {
    std::map<std::pair<const void*, SampleMask>, std::shared_ptr<const std::vector<SampleTerms>>> known;
    fit.samples.reserve(column.size());
    for (std::size_t h = 0; h < column.size(); ++h) {
        auto& terms = known[{&column[h], table.counted(h)}];
        if (terms == nullptr)
            terms = std::make_shared<const std::vector<SampleTerms>>(terms_of(column[h], h));
        fit.samples.push_back(terms);
    }
}

// Of a look: by what faults a hypothesis has at the part.
void fill_looks(ReadingFit& fit, const PredictionTable& table, const Reading& reading) {
    for (const Hypothesis& hypothesis : table.hypotheses()) {
        const bool none = hypothesis.kind == HypothesisKind::none_of_these;
        const LookShares shares =
            look_shares(table.plan(), hypothesis.faults, reading.place(), reading.configuration);
        fit.samples.push_back(std::make_shared<const std::vector<SampleTerms>>(
            sample_terms(reading, shares, none ? 0 : static_cast<std::size_t>(table.options().samples))));
    }
}

// Whether what was measured through a part changed when it was pushed.
void add_push(ReadingFit& fit, const PredictionTable& table, const Reading& reading, bool seen) {
    for (std::size_t h = 0; h < fit.samples.size(); ++h) {
        const double changes = push_probability(table.plan(), table.hypotheses()[h].faults, reading.place(),
                                                reading.configuration);
        std::vector<SampleTerms> terms = *fit.samples[h];
        for (SampleTerms& of_sample : terms)
            of_sample.given *= seen ? changes : 1.0 - changes;
        fit.samples[h] = std::make_shared<const std::vector<SampleTerms>>(std::move(terms));
    }
}

// Columns of numbers that the multimeter shows with the machine off.
std::shared_ptr<const NumberColumn> number_column(PredictionTable& table, const Reading& reading,
                                                  const std::function<bool()>& stop = {}) {
    const int net = net_index(table.plan().topology(), reading.place());
    if (reading.kind() == ReadingKind::diode)
        return table.drops(reading.configuration, net, stop);
    if (reading.kind() == ReadingKind::through)
        return table.through(reading.configuration, table.plan().find_block(reading.place()), stop);
    return table.ohms(reading.configuration, net, stop);
}

void take_again(ReadingFit& fit, const Reading& reading, const Reading& before,
                const AccuracyOptions& accuracy) {
    std::unordered_map<const void*, std::shared_ptr<const std::vector<SampleTerms>>> known;
    for (auto& samples : fit.samples) {
        auto& again = known[samples.get()];
        if (again == nullptr)
            again = std::make_shared<const std::vector<SampleTerms>>(
                taken_again(*samples, reading, before, accuracy));
        samples = again;
    }
}

// How makers differ in what is read.
KnownExpectations variety_of(const Reading& reading, const MachinePlan& plan) {
    KnownExpectations known;
    known.amps_ln = plan.knowledge().variety.amps_ln;
    if (const int net = net_index(plan.topology(), reading.place()); net >= 0)
        known.variety = plan.net_variety[static_cast<std::size_t>(net)];
    return known;
}

// Parts of one kind at the very same nets.
std::vector<int> sisters_of(int block, const MachinePlan& plan) {
    std::vector<int> list;
    for (int b = 0; block >= 0 && b < static_cast<int>(plan.blocks.size()); ++b) {
        const PlanBlock& one = plan.blocks[static_cast<std::size_t>(block)];
        const PlanBlock& other = plan.blocks[static_cast<std::size_t>(b)];
        if (b != block && one.kind == other.kind && one.pin_nodes == other.pin_nodes)
            list.push_back(b);
    }
    return list;
}

ReadingFit fit_of(PredictionTable& table, const Reading& reading, const AccuracyOptions& accuracy) {
    const Topology& topology = table.plan().topology();
    ReadingFit fit{reading_terms(reading, topology), {}};
    AccuracyOptions but_for_slips = accuracy;
    but_for_slips.odd_reading = AccuracyOptions{}.odd_reading;
    const bool usual = but_for_slips == AccuracyOptions{};
    if (reading.kind() == ReadingKind::look) {
        fill_looks(fit, table, reading);
    } else if (is_unpowered(reading.kind())) {
        const auto column = number_column(table, reading);
        KnownExpectations known = variety_of(reading, table.plan());
        const auto sound =
            reading.kind() == ReadingKind::net_ohms
                ? table.known_sound_ohms(reading.configuration, net_index(topology, reading.place()))
                : nullptr;
        known.sound_ohms = sound.get();
        fill_samples(fit, table, *column, [&](const Numbers& numbers, std::size_t h) {
            known.number = usual ? &column->expected()[h] : nullptr;
            known.counted = table.counted(h);
            return sample_terms(reading, numbers, accuracy, known);
        });
        const auto* through = reading.as<ThroughReading>();
        if (through != nullptr && through->changes_when_pushed)
            add_push(fit, table, reading, *through->changes_when_pushed);
    } else {
        const int net = net_index(topology, reading.place());
        const int block = table.plan().find_block(reading.place());
        const auto column = table.powered(reading.configuration);
        // Kept with the column, for the accuracy that all use but the oracle of an evaluation.
        std::shared_ptr<const ExpectedOfViews> number;
        std::shared_ptr<const ExpectedOfViews> amps;
        if (usual && reading.kind() == ReadingKind::meter) {
            number = column->meter_volts();
            amps = column->meter_amps();
        } else if (usual && reading.kind() == ReadingKind::net_volts) {
            number = column->net_volts(net);
        }
        KnownExpectations known = variety_of(reading, table.plan());
        if (reading.kind() == ReadingKind::hot_part || reading.kind() == ReadingKind::injection)
            known.sisters = sisters_of(block, table.plan());
        fill_samples(fit, table, *column, [&](const Views& views, std::size_t h) {
            known.number = number ? &(*number)[h] : nullptr;
            known.amps = amps ? &(*amps)[h] : nullptr;
            known.counted = table.counted(h);
            return sample_terms(reading, views, net, block, accuracy, known);
        });
    }
    return fit;
}

bool counts(const Reading& reading, const MachinePlan& plan) {
    return !reading.set_aside && check_reading(reading, plan).ok();
}

std::vector<PartSuspicion> sum_by_part(const Ranking& ranking, const std::vector<Hypothesis>& hypotheses,
                                       const FaultCatalogue& catalogue) {
    std::vector<PartSuspicion> parts;
    std::map<std::pair<std::string, Work>, std::size_t> known;
    for (std::size_t i = 0; i < ranking.suspicions.size(); ++i) {
        const Suspicion& suspicion = ranking.suspicions[i];
        const Hypothesis& hypothesis = hypotheses[suspicion.hypothesis];
        const auto count_for = [&](const std::string& block, Work work, std::string key) {
            const auto [place, fresh] = known.emplace(std::pair(std::move(key), work), parts.size());
            if (fresh)
                parts.push_back({block, work, hypothesis.kind, 0.0, i});
            parts[place->second].probability += suspicion.probability;
        };
        if (hypothesis.faults.empty())
            count_for("", Work::none, integer_text(static_cast<int>(hypothesis.kind)));
        for (auto fault = hypothesis.faults.begin(); fault != hypothesis.faults.end(); ++fault) {
            // A part that was at fault and then fitted badly is one part all the same.
            const Work work = work_for(*fault, catalogue);
            const bool counted =
                std::any_of(hypothesis.faults.begin(), fault, [&](const FaultInstance& before) {
                    return before.block == fault->block && work_for(before, catalogue) == work;
                });
            if (!counted)
                count_for(fault->block, work, fault->block);
        }
    }
    std::stable_sort(parts.begin(), parts.end(), [](const PartSuspicion& a, const PartSuspicion& b) {
        return a.probability > b.probability;
    });
    return parts;
}

}  // namespace

std::shared_ptr<const NumberColumn> known_number_column(const PredictionTable& table,
                                                        const Reading& reading) {
    const int net = net_index(table.plan().topology(), reading.place());
    if (reading.kind() == ReadingKind::diode)
        return table.known_drops(reading.configuration, net);
    if (reading.kind() == ReadingKind::through)
        return table.known_through(reading.configuration, table.plan().find_block(reading.place()));
    return table.known_ohms(reading.configuration, net);
}

bool predictions_known(const PredictionTable& table, const std::vector<Reading>& readings) {
    return std::all_of(readings.begin(), readings.end(), [&](const Reading& reading) {
        if (!counts(reading, table.plan()) || reading.kind() == ReadingKind::look)
            return true;
        if (is_unpowered(reading.kind()))
            return known_number_column(table, reading) != nullptr;
        return table.known_powered(reading.configuration) != nullptr;
    });
}

bool prepare(PredictionTable& table, const std::vector<Reading>& readings, const std::function<bool()>& stop,
             const std::function<void(double)>& progress) {
    const double share = readings.empty() ? 1.0 : 1.0 / static_cast<double>(readings.size());
    for (std::size_t i = 0; i < readings.size(); ++i) {
        if (!counts(readings[i], table.plan()) || readings[i].kind() == ReadingKind::look)
            continue;
        const double from = share * static_cast<double>(i);
        const auto inner = [&](double part) {
            if (progress)
                progress(from + share * part);
        };
        const bool there = is_unpowered(readings[i].kind())
                               ? number_column(table, readings[i], stop) != nullptr
                               : table.powered(readings[i].configuration, stop, inner) != nullptr;
        if (!there)
            return false;
    }
    return true;
}

namespace {

// Weighs reading by reading, in their order: log of prior times likelihood so far. The differences are what
// each reading adds to what is known already, and they add up.
class Weighing {
  public:
    Weighing(PredictionTable& table, const std::vector<double>& priors, const std::vector<Reading>& readings,
             const AccuracyOptions& accuracy, const std::function<bool()>& stop)
        : table_(table),
          priors_(priors),
          accuracy_(accuracy),
          stop_(stop),
          count_(table.hypotheses().size()) {
        std::vector<ReadingTerms> terms;
        for (const Reading& reading : readings) {
            if (stopped())
                return;
            if (!counts(reading, table.plan()))
                continue;
            fits_.push_back(fit_of(table, reading, accuracy));
            if (const Reading* before = taken_before(used_, reading))
                take_again(fits_.back(), reading, *before, accuracy);
            before_.push_back(same_as_before(used_, reading, accuracy));
            used_.push_back(&reading);
            terms.push_back(fits_.back().terms);
        }
        quirks_ = QuirkBook(count_, static_cast<std::size_t>(table.options().samples), terms, accuracy);
        channels_.reserve(terms.size());
        for (const ReadingTerms& of_reading : terms)
            channels_.push_back({quirks_.shift_channel(of_reading.channels[0]),
                                 quirks_.shift_channel(of_reading.channels[1]),
                                 quirks_.doubt_channel(of_reading.word_channel)});
        joint_.assign(used_.size() + 1, std::vector<double>(count_));
        strange_.fill(std::vector<std::vector<double>>(used_.size()));
        odd_share_.assign(used_.size(), std::vector<double>(count_, 1.0));
        const auto samples = static_cast<std::size_t>(table.options().samples);
        for (const double shows : accuracy_.unknown_shows)
            strange_machines_.emplace_back(shows, used_.size(), samples);
        for (auto& of_share : strange_)
            for (auto& of_reading : of_share)
                of_reading.reserve(count_);
        machine_brings_.reserve(used_.size());
        for (const Reading* reading : used_)
            machine_brings_.push_back(comes_again(*reading, accuracy_));
        odd_.resize(used_.size() * samples);
        own_.resize(used_.size() * samples);
        meant_.resize(samples);
        same_.resize(samples);
    }

    Ranking run() {
        Ranking ranking;
        for (std::size_t h = 0; h < count_; ++h) {
            if (stopped())
                return {};
            ranking.sample_weights.push_back(weigh(h));
        }
        weigh_none_of_these();
        add_suspicions(ranking);
        ranking.parts = sum_by_part(ranking, table_.hypotheses(), table_.plan().knowledge().catalogue);
        add_odd_readings(ranking);
        ranking.quirks = std::move(quirks_);
        return ranking;
    }

  private:
    // Fills the joint of one hypothesis; returns how well each of its samples fits, summing to 1.
    std::vector<double> weigh(std::size_t h) {
        joint_[0][h] = std::log(priors_[h]);
        if (is_none(h))
            return {};
        std::vector<double> weights = table_.sample_weights(h);
        leave_out_unsolved(h, weights);
        const std::size_t samples = weights.size();
        for (UnknownEffect& strange : strange_machines_)
            strange.begin(weights, joint_[0][h]);
        for (std::size_t r = 0; r < used_.size(); ++r) {
            const ReadingTerms& terms = fits_[r].terms;
            const std::vector<SampleTerms>& of_samples = *fits_[r].samples[h];
            double* const odd = &odd_[r * samples];
            double* const own = &own_[r * samples];
            const double* const own_before =
                before_[r] < 0 ? nullptr : &own_[static_cast<std::size_t>(before_[r]) * samples];
            double total = 0.0;
            double solved = 0.0;  // weight of the samples that say something
            for (std::size_t s = 0; s < samples; ++s) {
                const SampleTerms& sample = of_samples[s];
                if (!sample.known)
                    continue;
                double seen =
                    density(terms, sample,
                            {quirks_.shift(h, s, channels_[r][0]), quirks_.shift(h, s, channels_[r][1])},
                            quirks_.doubt(h, s, channels_[r][2]), accuracy_);
                double by_oddness = accuracy_.odd_reading * terms.broad;
                meant_[s] = std::max(0.0, seen - by_oddness) / (1.0 - accuracy_.odd_reading);
                double by_machine = machine_brings_[r] * by_oddness;
                if (own_before != nullptr) {
                    same_[s] = repeat_density(sample);
                    // What the machine brings about comes again as it was.
                    const double again = own_before[s];
                    by_machine = (1.0 - again) * by_machine + again * same_[s];
                    by_oddness = (1.0 - again) * by_oddness + again * same_[s];
                    seen = (1.0 - again) * seen + again * same_[s];
                }
                own[s] = std::min(1.0, by_machine / seen);
                odd[s] = std::min(1.0, by_oddness / seen);
                solved += weights[s];
                weights[s] *= seen;
                total += weights[s];
            }
            // A reading that no sample was solved for says nothing.
            const double like = solved > 0.0 ? total / solved : terms.broad;
            for (std::size_t s = 0; s < samples; ++s) {
                if (of_samples[s].known)
                    continue;
                meant_[s] = same_[s] = like;
                own[s] = odd[s] = 0.0;
                weights[s] *= like;
                total += weights[s];
            }
            for (std::size_t i = 0; i < strange_machines_.size(); ++i)
                strange_[i][r].push_back(
                    strange_machines_[i].with(r, {meant_.data(), samples}, terms.broad, before_[r], same_));
            const double scale = 1.0 / total;
            for (double& weight : weights)
                weight *= scale;
            joint_[r + 1][h] = joint_[r][h] + std::log(total);
        }
        for (std::size_t r = 0; r < used_.size(); ++r)
            odd_share_[r][h] = std::inner_product(weights.begin(), weights.end(), &odd_[r * samples], 0.0);
        return weights;
    }

    // What could not be solved for one of the readings counts for none of them: it neither gains nor loses,
    // in whichever order they come.
    void leave_out_unsolved(std::size_t h, std::vector<double>& weights) const {
        std::vector<double> solved = weights;
        for (const ReadingFit& fit : fits_) {
            const std::vector<SampleTerms>& terms = *fit.samples[h];
            const bool any = std::any_of(terms.begin(), terms.end(),
                                         [](const SampleTerms& sample) { return sample.known; });
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

    [[nodiscard]] bool is_none(std::size_t h) const {
        return table_.hypotheses()[h].kind == HypothesisKind::none_of_these;
    }

    // A machine with an effect that the catalogue does not hold is like one of the known hypotheses, but for
    // some readings, in which it shows anything.
    void weigh_none_of_these() {
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

    void add_suspicions(Ranking& ranking) const {
        std::vector<double> totals;
        totals.reserve(joint_.size());
        for (const auto& so_far : joint_)
            totals.push_back(log_sum_exp(so_far));
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
        std::stable_sort(
            ranking.suspicions.begin(), ranking.suspicions.end(),
            [](const Suspicion& a, const Suspicion& b) { return a.probability > b.probability; });
    }

    void add_odd_readings(Ranking& ranking) const {
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
    bool stopped() {
        stopped_ = stopped_ || (stop_ && stop_());
        return stopped_;
    }

    PredictionTable& table_;
    const std::vector<double>& priors_;
    const AccuracyOptions& accuracy_;
    const std::function<bool()>& stop_;
    bool stopped_ = false;
    std::size_t count_;
    std::vector<const Reading*> used_;
    std::vector<int> before_;       // by reading: the one before that showed the same, -1 if there is none
    std::vector<ReadingFit> fits_;  // by reading that counts
    std::vector<std::array<int, 3>> channels_;  // of the quirk book, likewise
    QuirkBook quirks_;
    // By share of readings in which an unknown effect shows, reading, known hypothesis: log of the joint of a
    // machine like that hypothesis with such an effect.
    std::array<std::vector<std::vector<double>>, std::tuple_size_v<decltype(AccuracyOptions::unknown_shows)>>
        strange_;
    std::vector<std::vector<double>> joint_;  // [readings so far][hypothesis]
    // Share of a reading's density that comes from "it means nothing": [reading][hypothesis].
    std::vector<std::vector<double>> odd_share_;
    std::vector<double> machine_brings_;  // by reading: share of odd ones that the machine brings about

    // Of the hypothesis at hand, by reading and sample: share that is odd, and of that what the machine
    // brings about; by sample: density where it is not odd, and of the number coming again.
    std::vector<double> odd_;
    std::vector<double> own_;
    std::vector<double> meant_;
    std::vector<double> same_;
    std::vector<UnknownEffect> strange_machines_;  // by share of readings in which an unknown effect shows
};

}  // namespace

Ranking rank(PredictionTable& table, const std::vector<double>& priors, const std::vector<Reading>& readings,
             const AccuracyOptions& accuracy, const std::function<bool()>& stop) {
    assert(priors.size() == table.hypotheses().size() && "rank: one prior a hypothesis");
    return Weighing(table, priors, readings, accuracy, stop).run();
}

std::vector<std::vector<double>> likelihood_table(PredictionTable& table,
                                                  const std::vector<Reading>& readings,
                                                  const AccuracyOptions& accuracy,
                                                  const std::function<bool()>& stop) {
    std::vector<std::vector<double>> rows;
    for (const Reading& reading : readings) {
        if (stop && stop())
            break;
        if (!counts(reading, table.plan()))
            continue;
        const ReadingFit fit = fit_of(table, reading, accuracy);
        std::vector<double>& row = rows.emplace_back();
        for (std::size_t h = 0; h < fit.samples.size(); ++h) {
            const auto& samples = *fit.samples[h];
            double sum = samples.empty() ? fit.terms.broad : 0.0;
            for (std::size_t s = 0; s < samples.size(); ++s) {
                Doubt doubt{accuracy.model_wrong_word};
                sum += table.sample_weights(h)[s] *
                       density(fit.terms, samples[s], {nullptr, nullptr}, &doubt, accuracy);
            }
            row.push_back(std::log(sum));
        }
    }
    return rows;
}

std::vector<std::size_t> unexplained_readings(PredictionTable& table, const std::vector<Reading>& readings,
                                              const AccuracyOptions& accuracy) {
    constexpr double far = 4.0;           // widths
    constexpr double hardly_ever = 0.02;  // probability of a word
    const auto is_unexplained = [](const SampleTerms& terms) {
        if (terms.given < hardly_ever)
            return true;
        return std::any_of(terms.residuals.begin(), terms.residuals.begin() + terms.count,
                           [](const Residual& residual) {
                               return std::abs(residual.deviation) >
                                      far * std::hypot(residual.common_width, residual.own_width);
                           });
    };
    std::vector<std::vector<std::size_t>> by_sample(table.hypotheses().size());
    std::size_t counted = 0;
    for (const Reading& reading : readings) {
        if (!counts(reading, table.plan()))
            continue;
        ++counted;
        const ReadingFit fit = fit_of(table, reading, accuracy);
        for (std::size_t h = 0; h < by_sample.size(); ++h) {
            by_sample[h].resize(fit.samples[h]->size());
            for (std::size_t s = 0; s < by_sample[h].size(); ++s)
                by_sample[h][s] += is_unexplained((*fit.samples[h])[s]) ? 1 : 0;
        }
    }
    std::vector<std::size_t> fewest;
    fewest.reserve(by_sample.size());
    for (const auto& counts_by_sample : by_sample) {
        const auto least = std::min_element(counts_by_sample.begin(), counts_by_sample.end());
        fewest.push_back(least == counts_by_sample.end() ? counted : *least);
    }
    return fewest;
}

Work work_for(const FaultInstance& fault, const FaultCatalogue& catalogue) {
    return kind_of_work(catalogue.find(fault.fault)->remedies.front().act);
}

double suspicion_of(const Ranking& ranking, const std::string& block) {
    double sum = 0.0;
    for (const PartSuspicion& part : ranking.parts) {
        if (part.kind == HypothesisKind::fault && part.block == block)
            sum += part.probability;
    }
    return std::min(sum, 1.0);
}

FaultInstance fault_to_remedy(const Ranking& ranking, const PredictionTable& table, const std::string& block,
                              Work work, const std::vector<std::string>& replaced) {
    struct Way {
        FaultInstance fault;
        Work act = Work::none;
        double probability = 0.0;
    };
    std::vector<Way> ways;
    const FaultCatalogue& catalogue = table.plan().knowledge().catalogue;
    const bool changed = std::find(replaced.begin(), replaced.end(), block) != replaced.end();
    for (const Suspicion& suspicion : ranking.suspicions) {
        for (const FaultInstance& fault : table.hypotheses()[suspicion.hypothesis].faults) {
            const FaultSpec& spec = *catalogue.find(fault.fault);
            if (fault.block == block && spec.refit == changed && work_for(fault, catalogue) == work)
                ways.push_back({fault, spec.remedies.front().act, suspicion.probability});
        }
    }
    assert(!ways.empty() && "fault_to_remedy: no such part");
    const auto put_right = [&](const Way& by) {
        double sum = 0.0;
        for (const Way& way : ways)
            sum += does_the_work_of(by.act, way.act) ? way.probability : 0.0;
        return sum;
    };
    // The first of equals is the more probable one: suspicions are in that order.
    std::size_t best = 0;
    for (std::size_t w = 1; w < ways.size(); ++w) {
        if (ways[w].act != ways[best].act && put_right(ways[w]) > put_right(ways[best]))
            best = w;
    }
    return ways[best].fault;
}

std::vector<double> priors_of(const std::vector<Hypothesis>& hypotheses) {
    std::vector<double> priors;
    priors.reserve(hypotheses.size());
    for (const Hypothesis& hypothesis : hypotheses)
        priors.push_back(hypothesis.prior);
    return priors;
}

}  // namespace eh
