// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/likelihood.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace eh {
namespace {

// Broad spread: what a bench can show at all.
constexpr double broad_volts_span = 22.0;
constexpr double broad_mean_amps = 1.0;
constexpr double broad_ol_share = 0.4;
constexpr double broad_ln_ohms_span = 19.0;  // 0.05 Ω to 10 MΩ
constexpr double broad_drop_span = 2.0;
constexpr double broad_percent_span = 100.0;
constexpr double broad_mean_rise = 30.0;
constexpr double broad_nothing_warm = 0.3;
constexpr int meter_patterns = 4;
constexpr int parts_in_sight = 20;  // of a camera

double square(double x) {
    return x * x;
}

// Student's t with 16 degrees of freedom: four widths off is seen now and then, eight widths off does not
// fit; the heavier tail is that of odd readings.
double student16(double deviation, double width) {
    const double x = 1.0 + square(deviation / width) / 16.0;
    return 0.39276 / (width * square(square(square(x))) * std::sqrt(x));
}

bool lit(MeterPattern pattern) {
    return pattern == MeterPattern::steady || pattern == MeterPattern::cycling;
}

double broad_meter_values(const Reading& reading) {
    if (!lit(reading.meter.pattern))
        return 1.0;
    double density = 1.0 / broad_volts_span;
    if (reading.amps_known)
        density *= std::exp(-std::abs(reading.meter.amps) / broad_mean_amps) / broad_mean_amps;
    return density;
}

// Of a rise where a part is named, as one of the parts in sight.
double broad_heat(const Reading& reading) {
    if (reading.place.empty())
        return broad_nothing_warm * parts_in_sight;
    if (!reading.rise_known)
        return 1.0 - broad_nothing_warm;
    return (1.0 - broad_nothing_warm) * std::exp(-std::abs(reading.value) / broad_mean_rise) /
           broad_mean_rise;
}

double broad_values(const Reading& reading) {
    switch (reading.kind) {
        case ReadingKind::injection:
            return (1.0 - broad_ol_share) / broad_ln_ohms_span * broad_heat(reading);
        case ReadingKind::meter:
            return broad_meter_values(reading);
        case ReadingKind::net_volts:
            return 1.0 / broad_volts_span;
        case ReadingKind::net_ohms:
            return reading.over_limit ? broad_ol_share : (1.0 - broad_ol_share) / broad_ln_ohms_span;
        case ReadingKind::through:
            return (reading.over_limit ? broad_ol_share : (1.0 - broad_ol_share) / broad_ln_ohms_span) *
                   (reading.pushed ? 0.5 : 1.0);
        case ReadingKind::diode:
            return reading.over_limit ? broad_ol_share : (1.0 - broad_ol_share) / broad_drop_span;
        case ReadingKind::hot_part:
            return broad_heat(reading);
        case ReadingKind::firmware:
            return reading.percent ? 1.0 / broad_percent_span : 1.0;
        case ReadingKind::look:
        case ReadingKind::talk:
            return 1.0;
        case ReadingKind::wiggle:
            return 0.5;
    }
    return 1.0;
}

int words_of(ReadingKind kind) {
    switch (kind) {
        case ReadingKind::meter:
            return meter_patterns;
        case ReadingKind::firmware:
            return firmware_message_count;
        case ReadingKind::hot_part:
        case ReadingKind::injection:
            return parts_in_sight;
        case ReadingKind::look:
            return look_count;
        case ReadingKind::talk:
            return negotiation_end_count;
        case ReadingKind::net_volts:
        case ReadingKind::net_ohms:
        case ReadingKind::wiggle:
        case ReadingKind::through:
        case ReadingKind::diode:
            break;
    }
    return 1;
}

// The word of a thermal reading is the part's number, 0 for none.
int word_of_part(const Reading& reading, const Topology& topology) {
    for (std::size_t b = 0; b < topology.blocks.size(); ++b) {
        if (topology.blocks[b].id == reading.place)
            return static_cast<int>(b) + 1;
    }
    return 0;
}

// Probability that `seen` is written down for `real`.
double written_down(int seen, int real, int words, const AccuracyOptions& o) {
    return seen == real ? 1.0 - o.misread_word : o.misread_word / (words - 1);
}

double pattern_written_down(MeterPattern seen, MeterPattern real, const AccuracyOptions& o) {
    // Who looks late sees only the dark after a flash.
    constexpr double flash_missed = 0.2;
    const auto plain = [&](MeterPattern pattern) {
        return written_down(static_cast<int>(seen), static_cast<int>(pattern), meter_patterns, o);
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

// Nets that one cause moves together: those of a stage, and of a port where the stage has one for each.
std::string branch_of(const std::string& id, const Topology& topology) {
    const Net* net = topology.find_net(id);
    // A line off the charge path is like no other.
    if (net == nullptr || net->stage.empty())
        return id;
    return net->stage == "inlet" ? net->stage + " " + net->port : net->stage;
}

std::vector<double> log_densities(const Reading& reading, const std::vector<SampleTerms>& terms,
                                  const AccuracyOptions& o) {
    const ReadingTerms of_reading = reading_terms(reading, {});
    std::vector<double> logs;
    logs.reserve(terms.size());
    for (const SampleTerms& of_sample : terms) {
        Doubt doubt{o.model_wrong_word};
        logs.push_back(std::log(density(of_reading, of_sample, {nullptr, nullptr}, &doubt, o)));
    }
    return logs;
}

}  // namespace

double log_broad(const Reading& reading, const AccuracyOptions&) {
    return std::log(broad_values(reading) / words_of(reading.kind));
}

double broad_open_share(bool over_limit) {
    return over_limit ? broad_ol_share : 1.0 - broad_ol_share;
}

ReadingTerms reading_terms(const Reading& reading, const Topology& topology) {
    ReadingTerms terms;
    terms.words = words_of(reading.kind);
    terms.broad_values = broad_values(reading);
    terms.broad = terms.broad_values / terms.words;
    const bool own_charger = reading.configuration.charger == Owner::bench;
    switch (reading.kind) {
        case ReadingKind::meter: {
            terms.word = static_cast<int>(reading.meter.pattern);
            terms.word_channel = "pattern " + reading.configuration.port;
            // What draws at 5 V is not what draws after the contract.
            terms.channels = {
                own_charger ? "charger of the shop" : "charger of the customer",
                reading.meter.volts < shown_above_default_volts ? "amps at 5 V" : "amps above 5 V"};
            break;
        }
        case ReadingKind::firmware:
            terms.word = static_cast<int>(reading.firmware);
            terms.word_channel = "firmware";
            break;
        case ReadingKind::talk:
            terms.word = static_cast<int>(reading.talk);
            terms.word_channel = "talk " + reading.configuration.port;
            break;
        case ReadingKind::net_volts:
            terms.channels[0] = "volts of " + branch_of(reading.place, topology);
            break;
        case ReadingKind::net_ohms:
            terms.channels[0] = "ohms of " + branch_of(reading.place, topology);
            break;
        case ReadingKind::injection:
            if (const auto& injection = reading.configuration.injection)
                terms.channels[0] = "ohms of " + branch_of(injection->net, topology);
            terms.channels[1] = reading.place.empty() ? "" : "heat of " + reading.place;
            terms.word = word_of_part(reading, topology);
            terms.word_channel = "hottest by injection";
            terms.broad_first = (1.0 - broad_ol_share) / broad_ln_ohms_span;
            break;
        case ReadingKind::hot_part:
            terms.channels[0] = "heat of " + reading.place;
            terms.word = word_of_part(reading, topology);
            terms.word_channel = "hottest under power";
            break;
        case ReadingKind::look:
            terms.word = static_cast<int>(reading.look);
            break;
        case ReadingKind::through:
            terms.channels[0] = "ohms through " + reading.place;
            break;
        case ReadingKind::diode:
            terms.channels[0] = "drop of " + branch_of(reading.place, topology);
            break;
        case ReadingKind::wiggle:
            break;
    }
    return terms;
}

namespace {

// What the terms of a reading under power are made of, and where they go: one entry a sample.
struct PoweredTerms {
    const Reading& reading;
    const std::vector<PoweredView>& samples;
    const AccuracyOptions& o;
    const KnownExpectations& known;
    std::vector<SampleTerms> list;

    void add(std::size_t s, const Residual& one) {
        list[s].residuals[static_cast<std::size_t>(list[s].count++)] = one;
    }
    void add_meter();
    void add_net_volts(int net);
    void add_injection();
    void add_hottest(int block);
    void add_firmware();
    void add_talk();
    void add_wiggle();
};

void PoweredTerms::add_meter() {
    std::vector<Expected> own_volts;
    std::vector<Expected> own_amps;
    const auto& volts =
        known_or(known.number, own_volts, [&] { return expected_meter_volts(samples, o, known.counted); });
    const auto& amps =
        known_or(known.amps, own_amps, [&] { return expected_meter_amps(samples, o, known.counted); });
    const double seen = ln_amps(reading.meter.amps, o);
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const MeterPattern pattern = samples[s].meter.pattern;
        list[s].given = pattern_written_down(reading.meter.pattern, pattern, o);
        if (!lit(reading.meter.pattern))
            continue;
        // A meter that should have been dark shows something, if anything at all.
        if (!lit(pattern)) {
            list[s].given *= broad_meter_values(reading);
            continue;
        }
        add(s, residual(reading.meter.volts, volts[s]));
        if (reading.amps_known)
            add(s, residual(seen, amps[s], std::exp(-seen)));
    }
}

void PoweredTerms::add_net_volts(int net) {
    std::vector<Expected> own_volts;
    const auto& volts =
        known_or(known.number, own_volts, [&] { return expected_net_volts(samples, net, o, known.counted); });
    for (std::size_t s = 0; s < samples.size(); ++s)
        add(s, residual(reading.value, volts[s]));
}

void PoweredTerms::add_injection() {
    const auto ohms = expected_injection_ohms(samples, o, known.counted);
    const double seen = ln_ohms(reading.meter.volts / std::max(reading.meter.amps, 1e-9), o);
    for (std::size_t s = 0; s < samples.size(); ++s)
        add(s, residual(seen, ohms[s]));
}

void PoweredTerms::add_hottest(int block) {
    const auto rise = block < 0 ? std::vector<Expected>{} : expected_rise(samples, block, o);
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double nothing_warm = nothing_warm_probability(hottest_part(samples[s]).kelvin, o);
        list[s].given = nothing_warm;
        if (block < 0)
            continue;
        // Who is not sure of the part may as well have meant any other.
        const double named = hottest_shares(samples[s], o)[static_cast<std::size_t>(block)];
        const double any = 1.0 / static_cast<double>(samples[s].rise_kelvin.size());
        list[s].given = (1.0 - nothing_warm) * (reading.certainty * named + (1.0 - reading.certainty) * any);
        if (reading.rise_known)
            add(s, residual(reading.value, rise[s]));
    }
}

void PoweredTerms::add_firmware() {
    for (std::size_t s = 0; s < samples.size(); ++s) {
        list[s].given = written_down(static_cast<int>(reading.firmware),
                                     static_cast<int>(samples[s].firmware), firmware_message_count, o);
        // One message is taken for another; a screen that stays dark is taken for none.
        const bool should_be_dark = samples[s].firmware == FirmwareMessage::none;
        if (should_be_dark && reading.firmware != FirmwareMessage::none) {
            constexpr double lights_up_after_all = 0.05;
            list[s].given *= lights_up_after_all;
            list[s].else_factor = lights_up_after_all;
        }
    }
    for (std::size_t s = 0; s < samples.size() && reading.percent; ++s)
        add(s, {*reading.percent - samples[s].battery_percent.value, 0.0, samples[s].battery_percent.width});
}

void PoweredTerms::add_talk() {
    for (std::size_t s = 0; s < samples.size(); ++s)
        list[s].given = written_down(static_cast<int>(reading.talk), static_cast<int>(samples[s].talk),
                                     negotiation_end_count, o);
}

void PoweredTerms::add_wiggle() {
    for (std::size_t s = 0; s < samples.size(); ++s) {
        const double drops = samples[s].drop_probability;
        list[s].given = reading.drops_out ? drops : 1.0 - drops;
    }
}

}  // namespace

std::vector<SampleTerms> sample_terms(const Reading& reading, const std::vector<PoweredView>& samples,
                                      int net, int block, const AccuracyOptions& o,
                                      const KnownExpectations& known) {
    PoweredTerms terms{reading, samples, o, known, std::vector<SampleTerms>(samples.size())};
    for (std::size_t s = 0; s < samples.size(); ++s)
        terms.list[s].known =
            samples[s].valid && !is_unpowered(reading.kind) && reading.kind != ReadingKind::look;
    switch (reading.kind) {
        case ReadingKind::meter:
            terms.add_meter();
            break;
        case ReadingKind::net_volts:
            terms.add_net_volts(net);
            break;
        case ReadingKind::injection:
            terms.add_injection();
            terms.add_hottest(block);
            break;
        case ReadingKind::hot_part:
            terms.add_hottest(block);
            break;
        case ReadingKind::firmware:
            terms.add_firmware();
            break;
        case ReadingKind::talk:
            terms.add_talk();
            break;
        case ReadingKind::wiggle:
            terms.add_wiggle();
            break;
        case ReadingKind::net_ohms:
        case ReadingKind::look:
        case ReadingKind::through:
        case ReadingKind::diode:
            break;
    }
    return std::move(terms.list);
}
std::vector<SampleTerms> sample_terms(const Reading& reading, const std::vector<double>& samples,
                                      const AccuracyOptions& o, const KnownExpectations& known) {
    const bool of_diode = reading.kind == ReadingKind::diode;
    std::vector<SampleTerms> list(samples.size());
    std::vector<Expected> own;
    const auto& expected = known_or(known.number, own, [&] {
        return of_diode ? expected_drops(samples, o, known.counted)
                        : expected_ohms(samples, o, known.counted);
    });
    const double seen = of_diode ? reading.value : ln_ohms(reading.value, o);
    for (std::size_t s = 0; s < samples.size(); ++s) {
        list[s].known = !std::isnan(samples[s]);
        double open = over_limit_probability(samples[s], o);
        if (of_diode)
            open = std::isfinite(samples[s]) ? o.misread_word : 1.0 - o.misread_word;
        list[s].given = reading.over_limit ? open : 1.0 - open;
        if (!reading.over_limit && std::isfinite(samples[s]))
            list[s].residuals[static_cast<std::size_t>(list[s].count++)] = residual(seen, expected[s]);
    }
    return list;
}

std::vector<SampleTerms> sample_terms(const Reading& reading, const LookShares& shares, std::size_t samples) {
    SampleTerms terms;
    terms.known = true;
    terms.given = shares[static_cast<std::size_t>(reading.look)];
    return std::vector<SampleTerms>(samples, terms);
}

double repeat_density(const SampleTerms& sample) {
    double density = 1.0;
    for (int i = 0; i < sample.count; ++i) {
        const Residual& r = sample.residuals[static_cast<std::size_t>(i)];
        density *= student16(0.0, r.own_width) * r.scale;
    }
    return density;
}

double density(const ReadingTerms& reading, const SampleTerms& sample, std::array<Shift*, 2> shifts,
               Doubt* doubt, const AccuracyOptions& o) {
    if (!sample.known)
        return reading.broad;
    double fitting = sample.given;
    bool first_is_odd = false;
    for (int i = 0; i < sample.count; ++i) {
        const Residual& r = sample.residuals[static_cast<std::size_t>(i)];
        const Shift shift =
            shifts[static_cast<std::size_t>(i)] == nullptr ? Shift{} : *shifts[static_cast<std::size_t>(i)];
        const double width = std::sqrt(square(r.common_width) * shift.variance + square(r.own_width));
        double fits = student16(r.deviation - r.common_width * shift.mean, width) * r.scale;
        if (i == 0 && reading.broad_first > 0.0) {
            first_is_odd = o.odd_reading * reading.broad_first > (1.0 - o.odd_reading) * fits;
            fits = (1.0 - o.odd_reading) * fits + o.odd_reading * reading.broad_first;
        }
        fitting *= fits;
    }
    double wrong = 0.0;  // the machine's own word, by the density of what is seen
    if (reading.word >= 0 && doubt != nullptr) {
        // A machine that says something else than its model keeps saying it.
        constexpr double says_it_again = 0.85;
        double again = 1.0 / reading.words;
        if (doubt->last_word >= 0)
            again = doubt->last_word == reading.word ? says_it_again
                                                     : (1.0 - says_it_again) / (reading.words - 1);
        wrong = doubt->wrong * again * reading.broad_values * sample.else_factor;
        fitting *= 1.0 - doubt->wrong;
    }
    const double odd = o.odd_reading * reading.broad;
    const double meant = (1.0 - o.odd_reading) * (fitting + wrong);
    const double total = std::max(meant + odd, std::numeric_limits<double>::min());
    if (reading.word >= 0 && doubt != nullptr) {
        constexpr double never_sure = 1e-3;
        if (meant > odd)
            doubt->wrong = std::clamp(wrong / (fitting + wrong), never_sure, 1.0 - never_sure);
        doubt->last_word = reading.word;
    }
    if ((1.0 - o.odd_reading) * fitting < 0.5 * total)
        return total;
    for (int i = 0; i < sample.count; ++i) {
        Shift* shift = shifts[static_cast<std::size_t>(i)];
        if (shift == nullptr || (i == 0 && first_is_odd))
            continue;
        const Residual& r = sample.residuals[static_cast<std::size_t>(i)];
        const double variance = square(r.common_width) * shift->variance + square(r.own_width);
        const double gain = r.common_width * shift->variance / variance;
        shift->mean += gain * (r.deviation - r.common_width * shift->mean);
        shift->variance *= 1.0 - gain * r.common_width;
    }
    return total;
}

std::vector<double> log_likelihoods(const Reading& reading, const std::vector<PoweredView>& samples, int net,
                                    int block, const AccuracyOptions& o, const KnownExpectations& known) {
    return log_densities(reading, sample_terms(reading, samples, net, block, o, known), o);
}

std::vector<double> log_likelihoods(const Reading& reading, const std::vector<double>& samples,
                                    const AccuracyOptions& o, const KnownExpectations& known) {
    return log_densities(reading, sample_terms(reading, samples, o, known), o);
}

}  // namespace eh
