// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/ranking.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <map>

#include "core/base/text.h"
#include "core/inference/reading_fit.h"
#include "core/inference/weighing.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/model/net_index.h"

namespace eh {
namespace {

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
    if (const auto question = off_question(reading, table.plan()))
        return table.known_number(reading.configuration, *question);
    return table.known_ohms(reading.configuration, net_index(table.plan().topology(), reading.place()));
}

bool predictions_known(const PredictionTable& table, const std::vector<Reading>& readings) {
    return std::all_of(readings.begin(), readings.end(), [&](const Reading& reading) {
        if (!counts(reading, table.plan()) || is_by_eye(reading.kind()))
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
        if (!counts(readings[i], table.plan()) || is_by_eye(readings[i].kind()))
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

Ranking rank(PredictionTable& table, const std::vector<double>& priors, const std::vector<Reading>& readings,
             const AccuracyOptions& accuracy, const std::function<bool()>& stop) {
    assert(priors.size() == table.hypotheses().size() && "rank: one prior a hypothesis");
    Ranking ranking = Weighing(table, priors, readings, accuracy, stop).run();
    ranking.parts = sum_by_part(ranking, table.hypotheses(), table.plan().knowledge().catalogue);
    return ranking;
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
                              Work work, const BenchConfiguration& now) {
    struct Way {
        FaultInstance fault;
        Work act = Work::none;
        double probability = 0.0;
    };
    std::vector<Way> ways;
    const FaultCatalogue& catalogue = table.plan().knowledge().catalogue;
    for (const Suspicion& suspicion : ranking.suspicions) {
        for (const FaultInstance& fault : table.hypotheses()[suspicion.hypothesis].faults) {
            const FaultSpec& spec = *catalogue.find(fault.fault);
            if (fault.block == block && still_there(block, spec, now) && work_for(fault, catalogue) == work)
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
