// SPDX-License-Identifier: GPL-3.0-or-later
// Readings against samples, kind by kind.
#include <algorithm>
#include <cmath>

#include "core/inference/likelihood.h"
#include "core/inference/page_fit.h"

namespace eh {
namespace {

bool lit(MeterPattern pattern) {
    return pattern == MeterPattern::steady || pattern == MeterPattern::cycling;
}

// Probability that `seen` is written down for `real`.
double written_down(int seen, int real, int words, const AccuracyOptions& o) {
    return seen == real ? 1.0 - o.misread_word : o.misread_word / (words - 1);
}

// Of what a share of the machines that stand so shows.
double written_down(double share, int words, const AccuracyOptions& o) {
    return (1.0 - o.misread_word) * share + o.misread_word * (1.0 - share) / (words - 1);
}

// Over minutes a slow rise, a rise with breaks and a standstill are taken for each other (estimate).
double trend_written_down(ChargeTrend seen, const std::optional<ChargeTrend>& real,
                          const AccuracyOptions& o) {
    constexpr double hardly_told_apart = 0.3;
    if (!real)
        return 1.0 / charge_trend_count;
    const auto faint = [](ChargeTrend trend) {
        return trend != ChargeTrend::rising && trend != ChargeTrend::falling;
    };
    double share = seen == *real ? 1.0 : 0.0;
    if (faint(*real) && faint(seen))
        share = seen == *real ? 1.0 - hardly_told_apart : 0.5 * hardly_told_apart;
    return written_down(share, charge_trend_count, o);
}

double pattern_written_down(MeterPattern seen, MeterPattern real, const AccuracyOptions& o) {
    // Who looks late sees only the dark after a flash.
    constexpr double flash_missed = 0.2;
    const auto plain = [&](MeterPattern pattern) {
        return written_down(static_cast<int>(seen), static_cast<int>(pattern), Traits<MeterReading>::words,
                            o);
    };
    if (real != MeterPattern::flash)
        return plain(real);
    return flash_missed * plain(MeterPattern::dark) + (1.0 - flash_missed) * plain(MeterPattern::flash);
}

template <typename Work>
const std::vector<Expected>& known_or(const std::vector<Expected>* known, std::vector<Expected>& own,
                                      Work work) {
    if (known != nullptr)
        return *known;
    own = work();
    return own;
}

Residual residual(double seen, const Expected& expected, double scale = 1.0) {
    return {seen - expected.value, expected.common_width, expected.own_width, scale};
}

// What the terms of a reading under power are made of, and where they go: one entry a sample. One function a
// kind; kinds that are not compared with a machine under power know nothing of the samples.
struct PoweredTerms {
    int net = -1;    // index of the reading's place
    int block = -1;  // the same
    const std::vector<PoweredView>& samples;
    const AccuracyOptions& o;
    const KnownExpectations& known;
    std::vector<SampleTerms> list;

    void add(std::size_t s, const Residual& one) {
        list[s].residuals[static_cast<std::size_t>(list[s].count++)] = one;
    }
    void operator()(const MeterReading& reading);
    void operator()(const NetVoltsReading& reading);
    void operator()(const InjectionReading& reading);
    void operator()(const HotPartReading& reading);
    void operator()(const FirmwareReading& reading);
    void operator()(const TalkReading& reading);
    void operator()(const SignReading& reading);
    void operator()(const WiggleReading& reading);
    void operator()(const LookReading&) { know_nothing(); }
    void operator()(const BoardLookReading&) { know_nothing(); }
    template <typename Value>
    requires(Traits<Value>::unpowered) void operator()(const Value&) { know_nothing(); }
    void know_nothing() {
        for (SampleTerms& terms : list)
            terms.known = false;
    }
};

void PoweredTerms::operator()(const MeterReading& reading) {
    std::vector<Expected> own_volts;
    std::vector<Expected> own_amps;
    const auto& volts =
        known_or(known.number, own_volts, [&] { return expected_meter_volts(samples, o, known.counted); });
    const auto& amps = known_or(
        known.amps, own_amps, [&] { return expected_meter_amps(samples, o, known.counted, known.amps_ln); });
    const double seen = ln_amps(reading.meter.amps, o);
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const MeterPattern pattern = samples[s].meter.pattern;
        list[s].given = pattern_written_down(reading.meter.pattern, pattern, o);
        if (!lit(reading.meter.pattern))
            continue;
        // A meter that should have been dark shows something, if anything at all.
        if (!lit(pattern)) {
            list[s].given *= Traits<MeterReading>::background(reading);
            continue;
        }
        add(s, residual(reading.meter.volts, volts[s]));
        if (reading.amps_known)
            add(s, residual(seen, amps[s], std::exp(-seen)));
    }
}

// Volts that rise and fall. A machine that does not come to rest shows them, with its mean between the ends;
// on one that does, a converter that tries again and again is taken for one that stays down (estimates).
double alternation_probability(const NetVoltsReading& reading, double mean_volts, bool comes_to_rest) {
    constexpr double noted_on_one_that_cycles = 0.6;
    constexpr double mean_outside = 0.1;
    constexpr double tries_again = 0.15;
    constexpr double on_its_own = 0.02;
    const double slack = 0.3 + 0.05 * reading.volts;
    const double low = *reading.falls_to;
    if (!comes_to_rest) {
        const bool within = mean_volts > low - slack && mean_volts < reading.volts + slack;
        return noted_on_one_that_cycles * (within ? 1.0 : mean_outside);
    }
    return std::abs(mean_volts - low) < slack ? tries_again : on_its_own;
}

void PoweredTerms::operator()(const NetVoltsReading& reading) {
    if (reading.falls_to) {
        const double both_ends =
            Traits<NetVoltsReading>::background(reading) / Traits<NetVoltsReading>::alternates_anyhow;
        for (std::size_t s = 0; s < samples.size(); ++s) {
            const MeterPattern pattern = samples[s].meter.pattern;
            const bool rests = pattern == MeterPattern::steady || pattern == MeterPattern::dark;
            const double mean = double{samples[s].net_volts[static_cast<std::size_t>(net)]};
            list[s].given = both_ends * alternation_probability(reading, mean, rests);
        }
        return;
    }
    std::vector<Expected> own_volts;
    const auto& volts = known_or(known.number, own_volts, [&] {
        return expected_net_volts(samples, net, o, known.counted, known.variety);
    });
    for (std::size_t s = 0; s < samples.size(); ++s) {
        add(s, residual(reading.volts, volts[s]));
        list[s].anything =
            o.stray_anything * stray_share(double{samples[s].net_ohms[static_cast<std::size_t>(net)]}, o);
    }
}

void PoweredTerms::operator()(const InjectionReading& reading) {
    const auto ohms = expected_injection_ohms(samples, o, known.counted, known.amps_ln);
    const double seen = ln_ohms(reading.supply.volts / std::max(reading.supply.amps, 1e-9), o);
    for (std::size_t s = 0; s < samples.size(); ++s)
        add(s, residual(seen, ohms[s]));
    (*this)(reading.hottest);
}

void PoweredTerms::operator()(const HotPartReading& reading) {
    // Of small parts side by side a camera of a few pixels a part shows the wrong one at times (estimate).
    const double mistaken = known.sisters.empty() ? 0.0 : 0.15;
    const auto rise_of = [&](int which) {
        return which < 0 ? std::vector<Expected>{} : expected_rise(samples, which, o);
    };
    const auto rise = rise_of(block);
    std::vector<std::vector<Expected>> of_sisters;
    for (const int sister : known.sisters)
        of_sisters.push_back(rise_of(sister));
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double nothing_warm = nothing_warm_probability(hottest_part(samples[s]).kelvin, o);
        list[s].given = nothing_warm;
        if (block < 0)
            continue;
        // Who is not sure of the part may as well have meant any other.
        const auto shares = hottest_shares(samples[s], o);
        double named = (1.0 - mistaken) * shares[static_cast<std::size_t>(block)];
        const Expected* warm = &rise[s];
        for (std::size_t i = 0; i < of_sisters.size(); ++i) {
            const double taken_for_it = mistaken / static_cast<double>(of_sisters.size()) *
                                        shares[static_cast<std::size_t>(known.sisters[i])];
            if (taken_for_it > named)
                warm = &of_sisters[i][s];
            named += taken_for_it;
        }
        const double any = 1.0 / static_cast<double>(samples[s].rise_kelvin.size());
        list[s].given = (1.0 - nothing_warm) * (reading.certainty * named + (1.0 - reading.certainty) * any);
        if (reading.rise_kelvin)
            add(s, residual(*reading.rise_kelvin, *warm));
    }
}

void PoweredTerms::operator()(const FirmwareReading& reading) {
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double said = message_shares(samples[s])[static_cast<std::size_t>(reading.message)];
        list[s].given = written_down(said, firmware_message_count, o);
        // One message is taken for another; a screen that stays dark is taken for none.
        const bool should_be_dark = samples[s].firmware == FirmwareMessage::none;
        if (should_be_dark && reading.message != FirmwareMessage::none) {
            constexpr double lights_up_after_all = 0.05;
            list[s].given *= lights_up_after_all;
            list[s].else_factor = lights_up_after_all;
        }
    }
    for (std::size_t s = 0; s < samples.size() && reading.trend; ++s)
        list[s].given *= trend_written_down(*reading.trend, samples[s].trend, o);
    for (std::size_t s = 0; s < samples.size() && !reading.page.empty(); ++s)
        list[s].given *= page_density(reading.page, samples[s]);
    for (std::size_t s = 0; s < samples.size() && reading.percent; ++s)
        add(s, {*reading.percent - samples[s].battery_percent.value, 0.0, samples[s].battery_percent.width});
}

void PoweredTerms::operator()(const TalkReading& reading) {
    for (std::size_t s = 0; s < samples.size(); ++s)
        list[s].given = written_down(static_cast<int>(reading.end), static_cast<int>(samples[s].talk),
                                     negotiation_end_count, o);
}

void PoweredTerms::operator()(const SignReading& reading) {
    const auto sign = static_cast<std::size_t>(reading.sign);
    for (std::size_t s = 0; s < samples.size(); ++s) {
        list[s].given = written_down(double{samples[s].signs[sign]}, machine_sign_count, o);
    }
}

void PoweredTerms::operator()(const WiggleReading& reading) {
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double drops = seen_drop_probability(samples[s]);
        list[s].given = reading.drops_out ? drops : 1.0 - drops;
    }
}

// Readings of the multimeter with the machine off: one function a kind.
struct OffTerms {
    const std::vector<double>& samples;
    const AccuracyOptions& o;
    const KnownExpectations& known;

    std::vector<SampleTerms> operator()(const NetOhmsReading& reading) const { return of_ohms(reading.ohms); }
    std::vector<SampleTerms> operator()(const ThroughReading& reading) const { return of_ohms(reading.ohms); }
    std::vector<SampleTerms> operator()(const BetweenReading& reading) const { return of_ohms(reading.ohms); }
    std::vector<SampleTerms> operator()(const DiodeReading& reading) const;
    std::vector<SampleTerms> operator()(const PackReading& reading) const;
    template <typename Value>
    requires(!Traits<Value>::unpowered) std::vector<SampleTerms>
    operator()(const Value&) const { return std::vector<SampleTerms>(samples.size()); }

    [[nodiscard]] std::vector<SampleTerms> of_ohms(const std::optional<double>& ohms) const;
    // `open` is the probability of OL on a sample; `seen` is on the scale of what is expected.
    template <typename Open>
    std::vector<SampleTerms> of_number(const std::optional<double>& seen,
                                       const std::vector<Expected>& expected, Open open) const;
};

template <typename Open>
std::vector<SampleTerms> OffTerms::of_number(const std::optional<double>& seen,
                                             const std::vector<Expected>& expected, Open open) const {
    std::vector<SampleTerms> list(samples.size());
    for (std::size_t s = 0; s < samples.size(); ++s) {
        list[s].known = !std::isnan(samples[s]);
        const double over_limit = open(s);
        list[s].given = seen ? 1.0 - over_limit : over_limit;
        if (seen && std::isfinite(expected[s].value))
            list[s].residuals[static_cast<std::size_t>(list[s].count++)] = residual(*seen, expected[s]);
    }
    return list;
}

std::vector<SampleTerms> OffTerms::of_ohms(const std::optional<double>& ohms) const {
    std::vector<Expected> own;
    static const std::vector<double> none;
    const auto& sound = known.sound_ohms == nullptr ? none : *known.sound_ohms;
    const auto& expected = known_or(
        known.number, own, [&] { return expected_ohms(samples, o, known.counted, known.variety, sound); });
    const auto open = [&](std::size_t s) {
        const Expected& one = expected[s];
        const bool path = std::isfinite(one.value);
        return over_limit_probability(path ? std::exp(one.value) : samples[s],
                                      std::hypot(one.common_width, one.own_width), o);
    };
    if (reads_open(ohms, o))
        return of_number(std::nullopt, expected, open);
    // Below the limit it is the number that says how likely it is.
    return of_number(ln_ohms(*ohms, o), expected,
                     [&](std::size_t s) { return std::isfinite(expected[s].value) ? 0.0 : open(s); });
}

std::vector<SampleTerms> OffTerms::operator()(const DiodeReading& reading) const {
    std::vector<Expected> own;
    const auto& expected =
        known_or(known.number, own, [&] { return expected_drops(samples, o, known.counted); });
    return of_number(reading.volts, expected, [&](std::size_t s) {
        return std::isfinite(samples[s]) ? o.misread_word : 1.0 - o.misread_word;
    });
}

std::vector<SampleTerms> OffTerms::operator()(const PackReading& reading) const {
    std::vector<Expected> own;
    const auto& expected =
        known_or(known.number, own, [&] { return expected_pack_volts(samples, o, known.counted); });
    return of_number(reading.volts, expected, [](std::size_t) { return 0.0; });
}

}  // namespace

std::vector<SampleTerms> sample_terms(const Reading& reading, const std::vector<PoweredView>& samples,
                                      int net, int block, const AccuracyOptions& o,
                                      const KnownExpectations& known) {
    PoweredTerms terms{net, block, samples, o, known, std::vector<SampleTerms>(samples.size())};
    for (std::size_t s = 0; s < samples.size(); ++s)
        terms.list[s].known = samples[s].valid;
    std::visit(terms, reading.value);
    return std::move(terms.list);
}

std::vector<SampleTerms> sample_terms(const Reading& reading, const std::vector<double>& samples,
                                      const AccuracyOptions& o, const KnownExpectations& known) {
    return std::visit(OffTerms{samples, o, known}, reading.value);
}

std::vector<SampleTerms> sample_terms(double given, std::size_t samples) {
    SampleTerms terms;
    terms.known = true;
    terms.given = given;
    return std::vector<SampleTerms>(samples, terms);
}

}  // namespace eh
