// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/net_expectation.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double twin_spread_ln = 0.25;
constexpr double twin_spread_volts = 0.015;
constexpr double few_spread_ln = 0.25;
constexpr double few_spread_volts = 0.04;
constexpr double few_degrees = 2.0;
constexpr double model_spread_ln = 0.7;
constexpr double model_spread_volts = 0.08;
constexpr double open_ohms = 2.0e6;  // where an ohmmeter of the trade is said to show OL, or about it
constexpr double open_volts = 2.0;
constexpr double open_spread_ln = 1.5;  // what is open on one board may be megohms on the next
constexpr double meter_share = 0.01;
constexpr double meter_ohms = 0.02;
constexpr double meter_volts = 0.003;
constexpr double least_ohms = 1e-3;

constexpr double normal_widths = 2.0;
constexpr double sure_widths = 3.0;
constexpr double short_share = 0.2;  // of what is expected
constexpr double short_below_ohms = 50.0;
constexpr double short_below_volts = 0.05;
constexpr double too_wide_ln = 1.6;  // a factor of five either way says nothing
constexpr double too_wide_volts = 0.3;
constexpr double of_95 = 1.96;

double infinity() {
    return std::numeric_limits<double>::infinity();
}

// What is on the net without the leads.
double value_of(NetQuantity quantity, const NetValue& reading) {
    if (reading.open)
        return quantity == NetQuantity::ohms ? open_ohms : open_volts;
    if (quantity == NetQuantity::drop)
        return reading.value;
    return std::max(reading.value - reading.lead_ohms, least_ohms);
}

// What the instrument leaves open.
double width_of(NetQuantity quantity, const NetValue& reading) {
    const double value = value_of(quantity, reading);
    if (quantity == NetQuantity::drop)
        return std::hypot(meter_volts, meter_share * value);
    return std::sqrt(meter_ohms * meter_ohms + meter_share * meter_share * value * value +
                     reading.lead_sigma * reading.lead_sigma);
}

// Ohms as logarithms, volts as they are.
double scaled(NetQuantity quantity, double value) {
    return quantity == NetQuantity::ohms ? std::log(std::max(value, least_ohms)) : value;
}
double unscaled(NetQuantity quantity, double scale) {
    return quantity == NetQuantity::ohms ? std::exp(scale) : scale;
}

struct Expectation {
    double middle = 0.0;  // scaled
    double spread = 0.0;
    bool open = false;
    bool known = false;
};

Expectation combine(NetQuantity quantity, const std::vector<NetEvidence>& evidence) {
    Expectation sum;
    double weight = 0.0;
    const auto middle_of = [&](const NetEvidence& one) {
        return one.open ? scaled(quantity, quantity == NetQuantity::ohms ? open_ohms : open_volts)
                        : scaled(quantity, one.value);
    };
    double open_weight = 0.0;
    for (const NetEvidence& one : evidence) {
        if (!(one.spread > 0.0))
            continue;
        const double own = 1.0 / (one.spread * one.spread);
        sum.middle += own * middle_of(one);
        weight += own;
        open_weight += one.open ? own : 0.0;
    }
    if (weight <= 0.0)
        return sum;
    sum.middle /= weight;
    double apart = 0.0;
    int count = 0;
    for (const NetEvidence& one : evidence) {
        if (!(one.spread > 0.0))
            continue;
        apart += std::pow((middle_of(one) - sum.middle) / one.spread, 2);
        ++count;
    }
    // The Birge ratio: sources that contradict each other are all less exact than they say.
    const double birge = count > 1 ? std::max(1.0, std::sqrt(apart / (count - 1))) : 1.0;
    sum.spread = birge / std::sqrt(weight);
    sum.open = open_weight > 0.5 * weight;
    sum.known = true;
    return sum;
}

// How many widths of both have to be allowed for until reading and expectation meet: the expectation is wide
// on its own scale, the reading on the instrument's.
double widths_apart(NetQuantity quantity, const NetValue& reading, const Expectation& expected) {
    const double value = value_of(quantity, reading);
    const double width = width_of(quantity, reading);
    const bool below = scaled(quantity, value) < expected.middle;
    const auto still_apart = [&](double widths) {
        const double sound =
            unscaled(quantity, expected.middle + (below ? -widths : widths) * expected.spread);
        return below ? value + widths * width < sound : value - widths * width > sound;
    };
    double low = 0.0;
    double high = 64.0;
    if (still_apart(high))
        return below ? -high : high;
    constexpr int halvings = 50;
    for (int i = 0; i < halvings; ++i) {
        const double middle = 0.5 * (low + high);
        (still_apart(middle) ? low : high) = middle;
    }
    return below ? -low : low;
}

std::string value_text(NetQuantity quantity, double value) {
    return format_quantity(value, quantity == NetQuantity::ohms ? Unit::ohms : Unit::volts, 2);
}

NetVerdict verdict_of(NetQuantity quantity, const NetValue& reading, const Expectation& expected,
                      double widths) {
    const double too_wide = quantity == NetQuantity::ohms ? too_wide_ln : too_wide_volts;
    const double value = value_of(quantity, reading);
    const double middle = unscaled(quantity, expected.middle);
    if (widths < -sure_widths) {
        const bool is_short = quantity == NetQuantity::ohms
                                  ? value < short_below_ohms && value < short_share * middle
                                  : value < short_below_volts;
        return is_short ? NetVerdict::short_ : NetVerdict::low;
    }
    if (widths < -normal_widths)
        return NetVerdict::low;
    if (expected.spread > too_wide)
        return NetVerdict::not_enough_known;
    return widths > sure_widths ? NetVerdict::high : NetVerdict::normal;
}

std::string sentence(NetQuantity quantity, const NetJudgement& judgement) {
    const std::string range = judgement.expected_open
                                  ? "sound boards read open, or above " + value_text(quantity, judgement.low)
                                  : "sound boards read " + value_text(quantity, judgement.low) + " to " +
                                        (std::isfinite(judgement.high) ? value_text(quantity, judgement.high)
                                                                       : std::string("open"));
    switch (judgement.verdict) {
        case NetVerdict::normal:
            return "Normal for this net: " + range + ".";
        case NetVerdict::low:
            return "Low: " + range + ". Measure again with the leads nulled; something on the net leaks.";
        case NetVerdict::short_:
            return "Short: " + range + ".";
        case NetVerdict::high:
            return "High: " + range +
                   ". Something that should hang on this net does not, or the probe has no "
                   "contact.";
        case NetVerdict::not_enough_known:
            break;
    }
    return "What is known leaves all open. Measure the same net of another port or of a sound board.";
}

}  // namespace

std::optional<double> without_leads(const NetValue& reading) {
    return reading.open ? std::nullopt : std::optional(std::max(0.0, reading.value - reading.lead_ohms));
}

NetEvidence twin_evidence(NetQuantity quantity, const NetValue& reading, std::string from) {
    NetEvidence evidence{EvidenceSource::twin_net, std::move(from), value_of(quantity, reading), reading.open,
                         0.0};
    if (quantity == NetQuantity::drop)
        evidence.spread = reading.open ? 0.5 : std::hypot(twin_spread_volts, width_of(quantity, reading));
    else
        evidence.spread = reading.open
                              ? open_spread_ln
                              : std::hypot(twin_spread_ln, width_of(quantity, reading) / evidence.value);
    return evidence;
}

std::optional<NetEvidence> own_evidence(NetQuantity quantity, const std::vector<NetValue>& sound_boards) {
    if (sound_boards.empty())
        return std::nullopt;
    const auto n = static_cast<double>(sound_boards.size());
    double mean = 0.0;
    double instrument = 0.0;
    int open = 0;
    for (const NetValue& reading : sound_boards) {
        const double value = value_of(quantity, reading);
        mean += scaled(quantity, value) / n;
        const double width = width_of(quantity, reading) / (quantity == NetQuantity::ohms ? value : 1.0);
        instrument += width * width / n;
        open += reading.open ? 1 : 0;
    }
    double squares = 0.0;
    for (const NetValue& reading : sound_boards)
        squares += std::pow(scaled(quantity, value_of(quantity, reading)) - mean, 2);
    NetEvidence evidence;
    evidence.source = EvidenceSource::own_readings;
    evidence.from = sound_boards.size() == 1 ? "one sound board like this"
                                             : integer_text(sound_boards.size()) + " sound boards like this";
    evidence.value = unscaled(quantity, mean);
    evidence.open = 2 * open > static_cast<int>(sound_boards.size());
    const double prior = quantity == NetQuantity::drop ? few_spread_volts
                         : evidence.open               ? open_spread_ln
                                                       : few_spread_ln;
    const double variance = (few_degrees * prior * prior + squares) / (few_degrees + n - 1.0);
    // The mean of few is itself not exact, and the instruments' errors are in it.
    evidence.spread = std::sqrt(variance * (1.0 + 1.0 / n) + instrument / n);
    return evidence;
}

std::optional<NetEvidence> model_evidence(NetQuantity quantity, const std::vector<double>& samples) {
    std::vector<double> known;
    for (const double sample : samples)
        if (!std::isnan(sample))
            known.push_back(std::min(sample, quantity == NetQuantity::ohms ? open_ohms : open_volts));
    if (known.empty())
        return std::nullopt;
    std::sort(known.begin(), known.end());
    const auto quantile = [&](double share) {
        return known[static_cast<std::size_t>(share * static_cast<double>(known.size() - 1))];
    };
    NetEvidence evidence;
    evidence.source = EvidenceSource::machine_model;
    evidence.from = "the model of this kind of machine";
    evidence.value = quantile(0.5);
    evidence.open = evidence.value >= (quantity == NetQuantity::ohms ? open_ohms : open_volts);
    constexpr double low_sixth = 0.1587;
    const double own =
        0.5 * (scaled(quantity, quantile(1.0 - low_sixth)) - scaled(quantity, quantile(low_sixth)));
    const double model = quantity == NetQuantity::drop ? model_spread_volts
                         : evidence.open               ? open_spread_ln
                                                       : model_spread_ln;
    evidence.spread = std::hypot(own, model);
    return evidence;
}

NetJudgement judge_net(NetQuantity quantity, const NetValue& reading,
                       const std::vector<NetEvidence>& evidence) {
    NetJudgement judgement;
    const Expectation expected = combine(quantity, evidence);
    if (!expected.known || !std::isfinite(reading.value)) {
        judgement.says =
            "Nothing is known of this net. Measure its twin: the same net of another port, or of a "
            "sound board of this kind.";
        return judgement;
    }
    judgement.expected = unscaled(quantity, expected.middle);
    judgement.expected_open = expected.open;
    judgement.low = unscaled(quantity, expected.middle - of_95 * expected.spread);
    judgement.high =
        expected.open ? infinity() : unscaled(quantity, expected.middle + of_95 * expected.spread);
    const bool both_open = reading.open && expected.open;
    judgement.widths = both_open ? 0.0 : widths_apart(quantity, reading, expected);
    judgement.verdict =
        both_open ? NetVerdict::normal : verdict_of(quantity, reading, expected, judgement.widths);
    judgement.says = sentence(quantity, judgement);
    return judgement;
}

std::string to_text(NetVerdict verdict) {
    constexpr std::array<const char*, 5> names{"not enough known", "normal", "low", "short", "high"};
    return names[static_cast<std::size_t>(verdict)];
}

std::optional<RemovalForecast> removal_forecast(const NetValue& before,
                                                const std::vector<NetEvidence>& evidence,
                                                const std::string& part) {
    const Expectation sound = combine(NetQuantity::ohms, evidence);
    if (!sound.known)
        return std::nullopt;
    RemovalForecast forecast;
    forecast.if_it_was = sound.open ? infinity() : unscaled(NetQuantity::ohms, sound.middle);
    forecast.if_not = value_of(NetQuantity::ohms, before);
    forecast.says = "With " + part + " off: about " +
                    (sound.open ? std::string("open") : value_text(NetQuantity::ohms, forecast.if_it_was)) +
                    " if it was the short, still " + value_text(NetQuantity::ohms, forecast.if_not) +
                    " if not.";
    return forecast;
}

RemovalJudgement judge_removal(const NetValue& before, const NetValue& after,
                               const std::vector<NetEvidence>& evidence, const std::string& part) {
    const double was = value_of(NetQuantity::ohms, before);
    const double is = value_of(NetQuantity::ohms, after);
    const double width = std::hypot(width_of(NetQuantity::ohms, before), width_of(NetQuantity::ohms, after));
    const NetJudgement judged = judge_net(NetQuantity::ohms, after, evidence);
    const bool rose = is - was > sure_widths * width;
    if (!rose)
        return {RemovalVerdict::it_was_not,
                part + " was not the short: the net reads as before. Refit it or a sound one, and go on."};
    if (judged.verdict == NetVerdict::normal || judged.verdict == NetVerdict::high)
        return {RemovalVerdict::it_was,
                "The short is gone with " + part + ": it was the part. " + judged.says};
    if (judged.verdict == NetVerdict::not_enough_known)
        return {RemovalVerdict::cannot_tell,
                "The net reads higher without " + part +
                    ", and it is not known what a sound one reads: " + "measure its twin."};
    return {RemovalVerdict::one_of_several,
            "Better without " + part + ", and not sound yet: a second part on this net is shorted too."};
}

}  // namespace eh
