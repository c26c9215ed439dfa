#include "core/diagnosis/ranking.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <map>
#include <numeric>

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

double log_sum_exp(const std::vector<double>& logs) {
    const double top = *std::max_element(logs.begin(), logs.end());
    if (!std::isfinite(top))
        return top;
    double sum = 0.0;
    for (const double value : logs)
        sum += std::exp(value - top);
    return top + std::log(sum);
}

// Log likelihood of one reading under every hypothesis.
std::vector<double> column_for(PredictionTable& table, const Reading& reading,
                               const AccuracyOptions& accuracy) {
    const Topology& topology = table.plan().topology();
    const std::size_t count = table.hypotheses().size();
    std::vector<double> logs(count);
    const double broad = log_broad(reading, accuracy);
    const auto fill = [&](auto&& of_hypothesis) {
        for (std::size_t h = 0; h < count; ++h)
            logs[h] = table.hypotheses()[h].kind == HypothesisKind::none_of_these ? broad : of_hypothesis(h);
    };
    if (reading.kind == ReadingKind::net_ohms) {
        const auto column = table.ohms(reading.configuration, net_index(topology, reading.place));
        fill([&](std::size_t h) { return log_likelihood(reading, (*column)[h], accuracy); });
    } else {
        const auto column = table.powered(reading.configuration);
        const int net = net_index(topology, reading.place);
        const int block = table.plan().find_block(reading.place);
        fill([&](std::size_t h) { return log_likelihood(reading, (*column)[h], net, block, accuracy); });
    }
    return logs;
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
        const std::string block = hypothesis.faults.empty() ? "" : hypothesis.faults.front().block;
        const std::string key = block.empty() ? std::to_string(static_cast<int>(hypothesis.kind)) : block;
        const auto [place, fresh] = known.emplace(key, parts.size());
        if (fresh)
            parts.push_back({block, hypothesis.kind, 0.0, i});
        parts[place->second].probability += suspicion.probability;
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
    if (reading.kind == ReadingKind::hot_part && topology.find_block(reading.place) == nullptr)
        return refused("this machine has no part “" + reading.place + "”", where);
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
    std::vector<std::vector<double>> logs;
    logs.reserve(used.size());
    for (const Reading* reading : used)
        logs.push_back(column_for(table, *reading, accuracy));

    std::vector<double> joint(count);
    for (std::size_t h = 0; h < count; ++h) {
        joint[h] = std::log(priors[h]);
        for (const auto& column : logs)
            joint[h] += column[h];
    }
    const double total = log_sum_exp(joint);

    // What each reading was expected to be once all the others are known.
    std::vector<double> expected(used.size());
    for (std::size_t r = 0; r < used.size(); ++r) {
        std::vector<double> without(count);
        for (std::size_t h = 0; h < count; ++h)
            without[h] = joint[h] - logs[r][h];
        expected[r] = total - log_sum_exp(without);
    }

    Ranking ranking;
    for (std::size_t h = 0; h < count; ++h) {
        Suspicion suspicion{h, priors[h], std::exp(joint[h] - total), {}};
        for (std::size_t r = 0; r < used.size(); ++r)
            suspicion.evidence.push_back({used[r]->id, logs[r][h], logs[r][h] - expected[r]});
        ranking.suspicions.push_back(std::move(suspicion));
    }
    std::stable_sort(ranking.suspicions.begin(), ranking.suspicions.end(),
                     [](const Suspicion& a, const Suspicion& b) { return a.probability > b.probability; });
    ranking.parts = sum_by_part(ranking, table.hypotheses());

    for (std::size_t r = 0; r < used.size(); ++r) {
        // Share of the likelihood that comes from "this reading means nothing".
        const double odd = std::log(accuracy.odd_reading) + log_broad(*used[r], accuracy);
        double share = 0.0;
        for (const Suspicion& suspicion : ranking.suspicions)
            share +=
                suspicion.probability * std::min(1.0, std::exp(odd - suspicion.evidence[r].log_likelihood));
        if (share > 0.5)
            ranking.odd.push_back({used[r]->id, share});
    }
    return ranking;
}

std::vector<double> priors_of(const std::vector<Hypothesis>& hypotheses) {
    std::vector<double> priors;
    priors.reserve(hypotheses.size());
    for (const Hypothesis& hypothesis : hypotheses)
        priors.push_back(hypothesis.prior);
    return priors;
}

}  // namespace eh
