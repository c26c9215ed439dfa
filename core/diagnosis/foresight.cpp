#include "core/diagnosis/foresight.h"

#include <algorithm>
#include <cmath>

namespace eh {

Foreseen Foresight::shifted(const Expected& expected, std::size_t hypothesis, std::size_t sample,
                          int channel) const {
    const Shift shift = ranking_.quirks.shift_of(hypothesis, sample, channel);
    return {expected.value + expected.common_width * shift.mean,
            std::hypot(expected.common_width * std::sqrt(shift.variance), expected.own_width)};
}

void Foresight::add_meter(const Reading& reading, std::size_t hypothesis, const Views& views,
                          OutcomeShares& shares) const {
    const auto volts = expected_meter_volts(views, accuracy_);
    const auto amps = expected_meter_amps(views, accuracy_);
    // The amps' channel depends on the volts that are seen.
    Reading at_five_volts = reading;
    at_five_volts.meter.volts = 5.0;
    Reading above = reading;
    above.meter.volts = 20.0;
    const Topology& topology = table_.plan().topology();
    const auto low = reading_terms(at_five_volts, topology).channels;
    const auto high = reading_terms(above, topology).channels;
    const int doubt_channel =
        ranking_.quirks.doubt_channel(reading_terms(reading, topology).word_channel);
    const int volts_channel = ranking_.quirks.shift_channel(low[0]);
    const int low_channel = ranking_.quirks.shift_channel(low[1]);
    const int high_channel = ranking_.quirks.shift_channel(high[1]);
    for (std::size_t s = 0; s < views.size(); ++s) {
        double weight = ranking_.sample_weights[hypothesis][s];
        // A machine that showed something else than its model will show that again.
        const Doubt doubt = ranking_.quirks.doubt_of(hypothesis, s, doubt_channel);
        const auto again = static_cast<MeterPattern>(doubt.last_word);
        if (doubt.last_word >= 0 && (again == MeterPattern::dark || again == MeterPattern::flash)) {
            shares[static_cast<std::size_t>(doubt.last_word)] += weight * doubt.wrong;
            weight *= 1.0 - doubt.wrong;
        }
        constexpr double above_default_volts = 6.0;
        const int amps_channel = volts[s].value < above_default_volts ? low_channel : high_channel;
        add_meter_outcomes(views[s].meter.pattern, shifted(volts[s], hypothesis, s, volts_channel),
                           shifted(amps[s], hypothesis, s, amps_channel),
                           weight, accuracy_, shares);
    }
}

OutcomeShares Foresight::outcomes(const Reading& reading, int net, std::size_t hypothesis,
                                  const Views& views) const {
    OutcomeShares shares(outcome_count(reading.kind, table_.plan()), 0.0);
    const auto& weights = ranking_.sample_weights[hypothesis];
    if (reading.kind == ReadingKind::meter) {
        add_meter(reading, hypothesis, views, shares);
    } else if (reading.kind == ReadingKind::net_volts) {
        const auto volts = expected_net_volts(views, net, accuracy_);
        const int channel =
            ranking_.quirks.shift_channel(reading_terms(reading, table_.plan().topology()).channels[0]);
        for (std::size_t s = 0; s < views.size(); ++s)
            add_volts_outcomes(shifted(volts[s], hypothesis, s, channel), weights[s], shares);
    } else {
        const int channel =
            ranking_.quirks.doubt_channel(reading_terms(reading, table_.plan().topology()).word_channel);
        for (std::size_t s = 0; s < views.size(); ++s) {
            const Doubt doubt = ranking_.quirks.doubt_of(hypothesis, s, channel);
            const double again = doubt.last_word < 0 ? 0.0 : doubt.wrong;
            if (again > 0.0)
                shares[static_cast<std::size_t>(doubt.last_word)] += weights[s] * again;
            add_word_outcomes(reading.kind, views[s], weights[s] * (1.0 - again), accuracy_, shares);
        }
    }
    return shares;
}

OutcomeShares Foresight::outcomes(const Reading& reading, std::size_t hypothesis,
                                  const std::vector<double>& ohms) const {
    OutcomeShares shares(outcome_count(ReadingKind::net_ohms, table_.plan()), 0.0);
    const auto expected = expected_ohms(ohms, accuracy_);
    const int channel =
        ranking_.quirks.shift_channel(reading_terms(reading, table_.plan().topology()).channels[0]);
    for (std::size_t s = 0; s < ohms.size(); ++s)
        add_ohms_outcomes(over_limit_probability(ohms[s], accuracy_), shifted(expected[s], hypothesis, s, channel),
                          ranking_.sample_weights[hypothesis][s], accuracy_, shares);
    return shares;
}

}  // namespace eh
