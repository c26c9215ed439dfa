// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/meter_reading.h"

#include <array>
#include <cmath>

#include "core/base/json_fields.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"

namespace eh {
namespace {

constexpr std::array<const char*, 7> volt_names{"below 4.4 V", "about 5 V",  "about 9 V",     "about 12 V",
                                                "about 15 V",  "17 to 18 V", "18.5 V or more"};
constexpr std::array<const char*, 8> amp_names{"almost no current", "0.03 to 0.09 A", "0.09 to 0.2 A",
                                               "0.2 to 0.4 A",      "0.4 to 0.9 A",   "0.9 to 1.6 A",
                                               "1.6 to 2.6 A",      "over 2.6 A"};
constexpr int volt_count = static_cast<int>(volt_names.size());
constexpr int amp_count = static_cast<int>(amp_names.size());
constexpr int first_level = 4;  // after the patterns without a level

bool lit(MeterPattern pattern) {
    return pattern == MeterPattern::steady || pattern == MeterPattern::cycling;
}

}  // namespace

using MeterTraits = Traits<MeterReading>;

int MeterTraits::lit_outcome(int volt_bin, int amp_bin, bool cycling) {
    return first_level + (volt_bin * amp_count + amp_bin) * 2 + (cycling ? 1 : 0);
}

std::string MeterTraits::value_text(const MeterReading& value, const Topology&) {
    const MeterSummary& meter = value.meter;
    if (meter.pattern == MeterPattern::dark)
        return "meter dark";
    if (meter.pattern == MeterPattern::flash)
        return "meter lit for a moment, then dark";
    std::string text = format_quantity(meter.volts, Unit::volts);
    if (value.amps_known)
        text += ", " + format_quantity(meter.amps, Unit::amps);
    if (meter.pattern == MeterPattern::steady)
        return text + ", steady";
    text += ", coming and going";
    return meter.period_s > 0.0 ? text + " every " + format_quantity(meter.period_s, Unit::seconds, 2) : text;
}

std::string MeterTraits::subject(const MeterReading&, const BenchConfiguration& bench,
                                 const Topology& topology) {
    return describe(bench, topology);
}

void MeterTraits::write(const MeterReading& value, nlohmann::json& file) {
    file["pattern"] = to_text(value.meter.pattern);
    file["volts"] = value.meter.volts;
    if (value.amps_known)
        file["amps"] = value.meter.amps;
    file["volts_spread"] = value.meter.volts_spread;
    file["amps_spread"] = value.meter.amps_spread;
    file["peak_amps"] = value.meter.peak_amps;
    file["period_s"] = value.meter.period_s;
}

MeterReading MeterTraits::read(const JsonReader& field) {
    MeterReading value;
    MeterSummary& meter = value.meter;
    meter.pattern =
        field.has("pattern") ? read_word(field.at("pattern"), &meter_pattern_from) : MeterPattern::steady;
    if (lit(meter.pattern) || field.has("volts"))
        meter.volts = kinds::plausible_number(field, "volts", Unit::volts);
    value.amps_known = field.has("amps");
    if (value.amps_known)
        meter.amps = kinds::plausible_number(field, "amps", Unit::amps);
    meter.volts_spread = field.number("volts_spread", 0.0);
    meter.amps_spread = field.number("amps_spread", 0.0);
    meter.peak_amps = field.number("peak_amps", 0.0);
    meter.period_s = field.number("period_s", 0.0);
    return value;
}

Outcome MeterTraits::plausible(const MeterReading& value, const std::string& where) {
    if (auto volts = check_plausible(value.meter.volts, Unit::volts, where); !volts)
        return volts;
    return check_plausible(value.meter.amps, Unit::amps, where);
}

Outcome MeterTraits::fits(const MeterReading&, const BenchConfiguration& bench, const MachinePlan&,
                          const std::string& where) {
    if (!bench.charger_connected)
        return refused("a reading at the plug needs the charger connected", where);
    return kinds::without_supply(bench, where);
}

double MeterTraits::background(const MeterReading& value) {
    if (!lit(value.meter.pattern))
        return 1.0;
    double density = 1.0 / kinds::broad_volts_span;
    if (value.amps_known)
        density *= std::exp(-std::abs(value.meter.amps) / kinds::broad_mean_amps) / kinds::broad_mean_amps;
    return density;
}

void MeterTraits::bring(const MeterReading& value, const BenchConfiguration& bench, const Topology&,
                        ReadingTerms& terms) {
    terms.word = static_cast<int>(value.meter.pattern);
    terms.word_channel = "pattern " + bench.port;
    // What draws at 5 V is not what draws after the contract.
    terms.channels = {bench.charger == Owner::bench ? "charger of the shop" : "charger of the customer",
                      value.meter.volts < shown_above_default_volts ? "amps at 5 V" : "amps above 5 V"};
}

bool MeterTraits::shows_the_same(const MeterReading& a, const MeterReading& b, const AccuracyOptions& o) {
    return a.meter.pattern == b.meter.pattern && a.amps_known == b.amps_known &&
           kinds::agree(a.meter.volts, b.meter.volts, o.meter_volts_share, o.meter_volts_digit) &&
           kinds::agree(a.meter.amps, b.meter.amps, o.meter_amps_share, o.meter_amps_digit);
}

std::size_t MeterTraits::outcome_count(const MachinePlan&) {
    return static_cast<std::size_t>(first_level + volt_count * amp_count * 2);
}

std::string MeterTraits::outcome_text(int outcome, const MachinePlan&) {
    if (outcome == static_cast<int>(MeterPattern::dark))
        return "meter dark";
    if (outcome == static_cast<int>(MeterPattern::flash))
        return "lit for a moment, then dark";
    const int level = (outcome - first_level) / 2;
    const bool cycling = (outcome - first_level) % 2 != 0;
    return std::string(volt_names[static_cast<std::size_t>(level / amp_count)]) + ", " +
           amp_names[static_cast<std::size_t>(level % amp_count)] + (cycling ? ", coming and going" : "");
}

}  // namespace eh
