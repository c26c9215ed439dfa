// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/foresight.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/inference/likelihood.h"

namespace eh {
namespace {

constexpr double negligible_weight = 1e-4;  // of a sample

}  // namespace

Foresight::Foresight(const PredictionTable& table, const Ranking& ranking, const std::vector<Reading>& taken,
                     const AccuracyOptions& accuracy)
    : table_(table), ranking_(ranking), accuracy_(accuracy), edges_(outcome_edges(accuracy, table.plan())) {
    for (const Reading& reading : taken) {
        const auto* meter = reading.as<MeterReading>();
        if (reading.set_aside || meter == nullptr || !meter->amps_known ||
            !feeds_machine(reading.configuration))
            continue;
        if (const auto column = table.known_powered(reading.configuration))
            seen_.push_back({column, *meter, reading.configuration.second_instruments});
    }
}

const Foresight::SeenMeter* Foresight::seen_alike(const Asked& asked, std::size_t hypothesis,
                                                  std::size_t sample, const MeterSummary& expected) const {
    constexpr double same_share = 0.01;
    constexpr double same_amps = 0.005;
    const auto alike = [](double a, double b, double least) {
        return std::abs(a - b) <= std::max(least, same_share * std::max(std::abs(a), std::abs(b)));
    };
    for (auto seen = seen_.rbegin(); seen != seen_.rend(); ++seen) {
        const Views& then = (*seen->column)[hypothesis];
        if (seen->second_instruments != asked.second_instruments || sample >= then.size())
            continue;
        const MeterSummary& shown = then[sample].meter;
        if (shown.pattern == expected.pattern && shown.pattern == seen->reading.meter.pattern &&
            alike(shown.volts, expected.volts, 0.0) && alike(shown.amps, expected.amps, same_amps))
            return &*seen;
    }
    return nullptr;
}

Foreseen Foresight::shifted(const Expected& expected, std::size_t hypothesis, std::size_t sample,
                            int channel) const {
    const Shift shift = ranking_.quirks.shift_of(hypothesis, sample, channel);
    return {expected.value + expected.common_width * shift.mean,
            std::sqrt(expected.common_width * expected.common_width * shift.variance +
                      expected.own_width * expected.own_width)};
}

Foresight::Asked Foresight::asked(const Reading& reading) const {
    // Which channels a number belongs to depends on the number.
    Reading low = reading;
    Reading high = reading;
    double high_from = 0.0;
    if (reading.kind() == ReadingKind::meter) {
        std::get<MeterReading>(low.value).meter.volts = 5.0;
        std::get<MeterReading>(high.value).meter.volts = 20.0;
        high_from = shown_above_default_volts;
    } else if (reading.kind() == ReadingKind::net_volts) {
        std::get<NetVoltsReading>(low.value).volts = 0.0;
        std::get<NetVoltsReading>(high.value).volts = 20.0;
        high_from = strays_below_volts;
    } else if (reading.kind() == ReadingKind::net_ohms) {
        std::get<NetOhmsReading>(low.value).ohms = 1.0;
        std::get<NetOhmsReading>(high.value).ohms = 1e4;
        high_from = ln_ohms(few_ohms, accuracy_);
    }
    const QuirkBook& quirks = ranking_.quirks;
    const auto channels = [&](const ReadingTerms& terms) {
        return std::array{quirks.shift_channel(terms.channels[0]), quirks.shift_channel(terms.channels[1])};
    };
    const ReadingTerms at_low = reading_terms(low, table_.plan().topology());
    return {reading.kind(),
            channels(at_low),
            channels(reading_terms(high, table_.plan().topology())),
            high_from,
            quirks.doubt_channel(at_low.word_channel),
            reading.configuration.second_instruments,
            reading.kind() == ReadingKind::meter && !seen_.empty()};
}

double Foresight::weight(std::size_t hypothesis, std::size_t sample, const Views& views) const {
    if (views[sample].repeats)
        return 0.0;
    const auto& weights = ranking_.sample_weights[hypothesis];
    double sum = weights[sample];
    for (std::size_t s = sample + 1; s < views.size() && views[s].repeats; ++s)
        sum += weights[s];
    return sum;
}

void Foresight::add_meter(const Asked& asked, std::size_t hypothesis, const PoweredColumn& column,
                          OutcomeShares& shares) const {
    const Views& views = column[hypothesis];
    const auto& volts = (*column.meter_volts())[hypothesis];
    const auto& amps = (*column.meter_amps())[hypothesis];
    for (std::size_t s = 0; s < views.size(); ++s) {
        double share = weight(hypothesis, s, views);
        if (share <= negligible_weight)
            continue;
        // A machine that showed something else than its model will show that again.
        const Doubt doubt = ranking_.quirks.doubt_of(hypothesis, s, asked.doubt_channel);
        const auto again = static_cast<MeterPattern>(doubt.last_word);
        if (doubt.last_word >= 0 && (again == MeterPattern::dark || again == MeterPattern::flash)) {
            shares[static_cast<std::size_t>(doubt.last_word)] += share * doubt.wrong;
            share *= 1.0 - doubt.wrong;
        }
        if (const SeenMeter* seen = seen_alike(asked, hypothesis, s, views[s].meter)) {
            constexpr double repeats_volts = 0.05;  // widths within which a meter comes back to its number
            constexpr double repeats_ln_amps = 0.1;
            add_meter_outcomes(seen->reading.meter.pattern, {seen->reading.meter.volts, repeats_volts},
                               {ln_amps(seen->reading.meter.amps, accuracy_), repeats_ln_amps}, share, edges_,
                               shares);
            continue;
        }
        const auto& channels = asked.at(volts[s].value);
        add_meter_outcomes(views[s].meter.pattern, shifted(volts[s], hypothesis, s, channels[0]),
                           shifted(amps[s], hypothesis, s, channels[1]), share, edges_, shares);
    }
}

OutcomeShares Foresight::outcomes(const Asked& asked, int net, std::size_t hypothesis,
                                  const PoweredColumn& column) const {
    OutcomeShares shares(outcome_count(asked.kind, table_.plan()), 0.0);
    if (asked.kind == ReadingKind::meter) {
        add_meter(asked, hypothesis, column, shares);
        return shares;
    }
    const Views& views = column[hypothesis];
    if (asked.kind == ReadingKind::net_volts) {
        const auto& volts = (*column.net_volts(net))[hypothesis];
        for (std::size_t s = 0; s < views.size(); ++s) {
            if (const double share = weight(hypothesis, s, views); share > negligible_weight)
                add_volts_outcomes(shifted(volts[s], hypothesis, s, asked.at(volts[s].value)[0]), share,
                                   shares);
        }
        return shares;
    }
    for (std::size_t s = 0; s < views.size(); ++s) {
        const double share = weight(hypothesis, s, views);
        if (share <= negligible_weight)
            continue;
        const Doubt doubt = ranking_.quirks.doubt_of(hypothesis, s, asked.doubt_channel);
        const double again = doubt.last_word < 0 ? 0.0 : doubt.wrong;
        if (again > 0.0)
            shares[static_cast<std::size_t>(doubt.last_word)] += share * again;
        add_word_outcomes(asked.kind, views[s], share * (1.0 - again), accuracy_, shares);
    }
    return shares;
}

OutcomeShares Foresight::outcomes(const Asked& asked, std::size_t hypothesis, std::size_t shown,
                                  const NumberColumn& column) const {
    OutcomeShares shares(outcome_count(asked.kind, table_.plan()), 0.0);
    const auto& ohms = column[shown];
    const auto& expected = column.expected()[shown];
    const auto& weights = ranking_.sample_weights[hypothesis];
    // What is shown may have been looked at in fewer designs.
    const std::size_t common = std::min(weights.size(), ohms.size());
    const double held = std::accumulate(weights.begin(), weights.begin() + static_cast<long>(common), 0.0);
    for (std::size_t s = 0; s < common; ++s) {
        const double share = held > 0.0 ? weights[s] / held : 1.0 / static_cast<double>(common);
        if (share <= negligible_weight)
            continue;
        const Foreseen number = shifted(expected[s], hypothesis, s, asked.at(expected[s].value)[0]);
        if (asked.kind == ReadingKind::pack)
            add_pack_outcomes(number, share, edges_, shares);
        else
            add_ohms_outcomes(number, share, edges_, shares);
    }
    return shares;
}

}  // namespace eh
