#include "core/diagnosis/ranking.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <limits>
#include <map>
#include <numeric>

#include "core/diagnosis/bayes.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

int net_index(const Topology& topology, const std::string& id) {
    for (std::size_t i = 0; i < topology.nets.size(); ++i) {
        if (topology.nets[i].id == id)
            return static_cast<int>(i);
    }
    return -1;
}

// One reading against every sample: [hypothesis][sample]; "none of these" has none.
struct ReadingFit {
    ReadingTerms terms;
    std::vector<std::vector<SampleTerms>> samples;
};

ReadingFit fit_of(PredictionTable& table, const Reading& reading, const AccuracyOptions& accuracy) {
    const Topology& topology = table.plan().topology();
    const std::size_t count = table.hypotheses().size();
    ReadingFit fit{reading_terms(reading, topology), {}};
    fit.samples.reserve(count);
    if (reading.kind == ReadingKind::net_ohms) {
        const auto column = table.ohms(reading.configuration, net_index(topology, reading.place));
        for (std::size_t h = 0; h < count; ++h)
            fit.samples.push_back(sample_terms(reading, (*column)[h], accuracy));
    } else {
        const auto column = table.powered(reading.configuration);
        const int net = net_index(topology, reading.place);
        const int block = table.plan().find_block(reading.place);
        for (std::size_t h = 0; h < count; ++h)
            fit.samples.push_back(sample_terms(reading, (*column)[h], net, block, accuracy));
    }
    return fit;
}

bool counts(const Reading& reading, const Topology& topology) {
    return !reading.set_aside && check_reading(reading, topology).ok();
}

std::vector<PartSuspicion> sum_by_part(const Ranking& ranking, const std::vector<Hypothesis>& hypotheses) {
    std::vector<PartSuspicion> parts;
    std::map<std::string, std::size_t> known;
    for (std::size_t i = 0; i < ranking.suspicions.size(); ++i) {
        const Suspicion& suspicion = ranking.suspicions[i];
        const Hypothesis& hypothesis = hypotheses[suspicion.hypothesis];
        const auto count_for = [&](const std::string& block, const std::string& key) {
            const auto [place, fresh] = known.emplace(key, parts.size());
            if (fresh)
                parts.push_back({block, hypothesis.kind, 0.0, i});
            parts[place->second].probability += suspicion.probability;
        };
        if (hypothesis.faults.empty())
            count_for("", std::to_string(static_cast<int>(hypothesis.kind)));
        for (auto fault = hypothesis.faults.begin(); fault != hypothesis.faults.end(); ++fault) {
            // A part that was at fault and then fitted badly is one part all the same.
            const bool counted = std::any_of(hypothesis.faults.begin(), fault, [&](const FaultInstance& before) {
                return before.block == fault->block;
            });
            if (!counted)
                count_for(fault->block, fault->block);
        }
    }
    std::stable_sort(parts.begin(), parts.end(), [](const PartSuspicion& a, const PartSuspicion& b) {
        return a.probability > b.probability;
    });
    return parts;
}

}  // namespace

Outcome check_reading(const Reading& reading, const Topology& topology) {
    const std::string where = "reading " + reading.id;
    const auto& configuration = reading.configuration;
    if (configuration.charger_connected && topology.find_port(configuration.port) == nullptr)
        return refused("this machine has no port “" + configuration.port + "”", where);
    const bool of_net = reading.kind == ReadingKind::net_volts || reading.kind == ReadingKind::net_ohms;
    if (of_net && topology.find_net(reading.place) == nullptr)
        return refused("this machine has no net “" + reading.place + "”", where);
    const bool of_part = reading.kind == ReadingKind::hot_part || reading.kind == ReadingKind::injection;
    if (of_part && !reading.place.empty() &&
        topology.find_block(reading.place) == nullptr)
        return refused("this machine has no part “" + reading.place + "”", where);
    if ((reading.kind == ReadingKind::injection) != configuration.injection.has_value())
        return refused("a reading by injection names the net, volts and limit of the bench supply, others none",
                       where);
    if (configuration.injection && topology.find_net(configuration.injection->net) == nullptr)
        return refused("this machine has no net “" + configuration.injection->net + "”", where);
    const bool needs_charger = reading.kind == ReadingKind::meter || reading.kind == ReadingKind::wiggle;
    if (needs_charger && !configuration.charger_connected)
        return refused("a reading at the plug needs the charger connected", where);
    switch (reading.kind) {
        case ReadingKind::meter:
            if (auto volts = check_plausible(reading.meter.volts, Unit::volts, where); !volts)
                return volts;
            return check_plausible(reading.meter.amps, Unit::amps, where);
        case ReadingKind::net_volts:
            return check_plausible(reading.value, Unit::volts, where);
        case ReadingKind::net_ohms:
            return reading.over_limit ? Outcome(Done{}) : check_plausible(reading.value, Unit::ohms, where);
        case ReadingKind::injection:
            if (auto volts = check_plausible(reading.meter.volts, Unit::volts, where); !volts)
                return volts;
            if (auto amps = check_plausible(reading.meter.amps, Unit::amps, where); !amps)
                return amps;
            return check_plausible(reading.value, Unit::kelvin, where);
        case ReadingKind::hot_part:
            return check_plausible(reading.value, Unit::kelvin, where);
        case ReadingKind::firmware:
        case ReadingKind::wiggle:
            break;
    }
    return Done{};
}

bool predictions_known(const PredictionTable& table, const std::vector<Reading>& readings) {
    const Topology& topology = table.plan().topology();
    return std::all_of(readings.begin(), readings.end(), [&](const Reading& reading) {
        if (!counts(reading, topology))
            return true;
        if (reading.kind == ReadingKind::net_ohms)
            return table.known_ohms(reading.configuration, net_index(topology, reading.place)) != nullptr;
        return table.known_powered(reading.configuration) != nullptr;
    });
}

bool prepare(PredictionTable& table, const std::vector<Reading>& readings, const std::function<bool()>& stop,
             const std::function<void(double)>& progress) {
    const Topology& topology = table.plan().topology();
    const double share = readings.empty() ? 1.0 : 1.0 / static_cast<double>(readings.size());
    for (std::size_t i = 0; i < readings.size(); ++i) {
        if (!counts(readings[i], topology))
            continue;
        const double from = share * static_cast<double>(i);
        const auto inner = [&](double part) {
            if (progress)
                progress(from + share * part);
        };
        const bool there = readings[i].kind == ReadingKind::net_ohms
                               ? table.ohms(readings[i].configuration, net_index(topology, readings[i].place),
                                            stop) != nullptr
                               : table.powered(readings[i].configuration, stop, inner) != nullptr;
        if (!there)
            return false;
    }
    return true;
}

Ranking rank(PredictionTable& table, const std::vector<double>& priors, const std::vector<Reading>& readings,
             const AccuracyOptions& accuracy) {
    const std::size_t count = table.hypotheses().size();
    assert(priors.size() == count && "rank: one prior a hypothesis");
    std::vector<const Reading*> used;
    for (const Reading& reading : readings) {
        if (counts(reading, table.plan().topology()))
            used.push_back(&reading);
    }
    std::vector<ReadingFit> fits;
    std::vector<ReadingTerms> terms;
    fits.reserve(used.size());
    terms.reserve(used.size());
    for (const Reading* reading : used) {
        fits.push_back(fit_of(table, *reading, accuracy));
        terms.push_back(fits.back().terms);
    }

    // Reading by reading, in their order: log of prior times likelihood so far. The differences are what each
    // reading adds to what is known already, and they add up.
    const auto samples = static_cast<std::size_t>(table.options().samples);
    Ranking ranking;
    ranking.quirks = QuirkBook(count, samples, terms, accuracy);
    std::vector<std::array<int, 3>> channels;
    channels.reserve(terms.size());
    for (const ReadingTerms& of_reading : terms)
        channels.push_back({ranking.quirks.shift_channel(of_reading.channels[0]),
                            ranking.quirks.shift_channel(of_reading.channels[1]),
                            ranking.quirks.doubt_channel(of_reading.word_channel)});
    std::vector<std::vector<double>> joint(used.size() + 1, std::vector<double>(count));
    // Share of a reading's density that comes from "it means nothing": [reading][hypothesis].
    std::vector<std::vector<double>> odd_share(used.size(), std::vector<double>(count, 1.0));
    for (std::size_t h = 0; h < count; ++h) {
        joint[0][h] = std::log(priors[h]);
        if (table.hypotheses()[h].kind == HypothesisKind::none_of_these) {
            for (std::size_t r = 0; r < used.size(); ++r)
                joint[r + 1][h] = joint[r][h] + std::log(terms[r].broad);
            ranking.sample_weights.emplace_back();
            continue;
        }
        std::vector<double> sums;  // log of weight times likelihood, by sample
        for (const double weight : table.sample_weights(h))
            sums.push_back(std::log(std::max(weight, std::numeric_limits<double>::min())));
        std::vector<std::vector<double>> odd(used.size(), std::vector<double>(samples));
        for (std::size_t r = 0; r < used.size(); ++r) {
            for (std::size_t s = 0; s < samples; ++s) {
                const double seen = density(terms[r], fits[r].samples[h][s],
                                            {ranking.quirks.shift(h, s, channels[r][0]),
                                             ranking.quirks.shift(h, s, channels[r][1])},
                                            ranking.quirks.doubt(h, s, channels[r][2]), accuracy);
                sums[s] += std::log(seen);
                odd[r][s] = std::min(1.0, accuracy.odd_reading * terms[r].broad / seen);
            }
            joint[r + 1][h] = joint[0][h] + log_sum_exp(sums);
        }
        sums = posterior(sums);
        for (std::size_t r = 0; r < used.size(); ++r)
            odd_share[r][h] = std::inner_product(sums.begin(), sums.end(), odd[r].begin(), 0.0);
        ranking.sample_weights.push_back(std::move(sums));
    }
    std::vector<double> totals;
    totals.reserve(joint.size());
    for (const auto& so_far : joint)
        totals.push_back(log_sum_exp(so_far));

    const auto probabilities = posterior(joint.back());
    for (std::size_t h = 0; h < count; ++h) {
        Suspicion suspicion{h, priors[h], probabilities[h], {}};
        for (std::size_t r = 0; r < used.size(); ++r) {
            const double likelihood = joint[r + 1][h] - joint[r][h];
            suspicion.evidence.push_back({used[r]->id, likelihood, likelihood - (totals[r + 1] - totals[r])});
        }
        ranking.suspicions.push_back(std::move(suspicion));
    }
    std::stable_sort(ranking.suspicions.begin(), ranking.suspicions.end(),
                     [](const Suspicion& a, const Suspicion& b) { return a.probability > b.probability; });
    ranking.parts = sum_by_part(ranking, table.hypotheses());

    for (std::size_t r = 0; r < used.size(); ++r) {
        double share = 0.0;
        for (const Suspicion& suspicion : ranking.suspicions)
            share += suspicion.probability * odd_share[r][suspicion.hypothesis];
        if (share > 0.5)
            ranking.odd.push_back({used[r]->id, share});
    }
    return ranking;
}

std::vector<std::vector<double>> likelihood_table(PredictionTable& table,
                                                  const std::vector<Reading>& readings,
                                                  const AccuracyOptions& accuracy) {
    std::vector<std::vector<double>> rows;
    for (const Reading& reading : readings) {
        if (!counts(reading, table.plan().topology()))
            continue;
        const ReadingFit fit = fit_of(table, reading, accuracy);
        std::vector<double>& row = rows.emplace_back();
        for (std::size_t h = 0; h < fit.samples.size(); ++h) {
            double sum = fit.samples[h].empty() ? fit.terms.broad : 0.0;
            for (std::size_t s = 0; s < fit.samples[h].size(); ++s) {
                Doubt doubt{accuracy.model_wrong_word};
                sum += table.sample_weights(h)[s] *
                       density(fit.terms, fit.samples[h][s], {nullptr, nullptr}, &doubt, accuracy);
            }
            row.push_back(std::log(sum));
        }
    }
    return rows;
}

FaultInstance fault_to_remedy(const Ranking& ranking, const PredictionTable& table, const std::string& block) {
    struct Way {
        FaultInstance fault;
        std::string act;
        double probability = 0.0;
    };
    std::vector<Way> ways;
    const FaultCatalogue& catalogue = table.plan().knowledge().catalogue;
    for (const Suspicion& suspicion : ranking.suspicions) {
        const FaultInstance* fault = fault_at(table.hypotheses()[suspicion.hypothesis], block);
        if (fault != nullptr)
            ways.push_back({*fault, catalogue.find(fault->fault)->remedies.front().act, suspicion.probability});
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
