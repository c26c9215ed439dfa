// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/foresight.h"

#include <algorithm>
#include <cmath>

#include "core/inference/likelihood.h"

namespace eh {
namespace {

constexpr double negligible_weight = 1e-4;  // of a sample

}  // namespace

Foreseen Foresight::shifted(const Expected& expected, std::size_t hypothesis, std::size_t sample,
                            int channel) const {
    const Shift shift = ranking_.quirks.shift_of(hypothesis, sample, channel);
    return {expected.value + expected.common_width * shift.mean,
            std::sqrt(expected.common_width * expected.common_width * shift.variance +
                      expected.own_width * expected.own_width)};
}

Foresight::Asked Foresight::asked(const Reading& reading) const {
    const Topology& topology = table_.plan().topology();
    const QuirkBook& quirks = ranking_.quirks;
    // The channel of the meter's amps depends on the volts that are seen.
    Reading low = reading;
    Reading high = reading;
    if (reading.kind() == ReadingKind::meter) {
        std::get<MeterReading>(low.value).meter.volts = 5.0;
        std::get<MeterReading>(high.value).meter.volts = 20.0;
    }
    const ReadingTerms at_five_volts = reading_terms(low, topology);
    return {reading.kind(), quirks.shift_channel(at_five_volts.channels[0]),
            quirks.shift_channel(at_five_volts.channels[1]),
            quirks.shift_channel(reading_terms(high, topology).channels[1]),
            quirks.doubt_channel(at_five_volts.word_channel)};
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
        const int amps_channel =
            volts[s].value < shown_above_default_volts ? asked.low_channel : asked.high_channel;
        add_meter_outcomes(views[s].meter.pattern, shifted(volts[s], hypothesis, s, asked.channel),
                           shifted(amps[s], hypothesis, s, amps_channel), share, edges_, shares);
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
                add_volts_outcomes(shifted(volts[s], hypothesis, s, asked.channel), share, shares);
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
    OutcomeShares shares(outcome_count(ReadingKind::net_ohms, table_.plan()), 0.0);
    const auto& ohms = column[shown];
    const auto& expected = column.expected()[shown];
    const auto& weights = ranking_.sample_weights[hypothesis];
    for (std::size_t s = 0; s < ohms.size(); ++s) {
        if (weights[s] > negligible_weight)
            add_ohms_outcomes(shifted(expected[s], hypothesis, s, asked.channel), weights[s], edges_, shares);
    }
    return shares;
}

}  // namespace eh
