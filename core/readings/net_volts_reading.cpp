// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/net_volts_reading.h"

#include "core/base/json_fields.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"

namespace eh {

using NetVoltsTraits = Traits<NetVoltsReading>;

NetVoltsReading NetVoltsTraits::at(const std::string& place) {
    return {place, 0.0, std::nullopt};
}

std::string NetVoltsTraits::value_text(const NetVoltsReading& value, const Topology&) {
    if (value.falls_to)
        return "rises and falls between " + format_quantity(*value.falls_to, Unit::volts) + " and " +
               format_quantity(value.volts, Unit::volts);
    return format_quantity(value.volts, Unit::volts);
}

std::string NetVoltsTraits::subject(const NetVoltsReading& value, const BenchConfiguration& bench,
                                    const Topology& topology) {
    return title_of_net(topology, value.net) + " (" + describe(bench, topology) + ")";
}

void NetVoltsTraits::write(const NetVoltsReading& value, nlohmann::json& file) {
    file["value"] = value.volts;
    file["unit"] = "V";
    put_if(file, "falls_to", value.falls_to);
}

NetVoltsReading NetVoltsTraits::read(const JsonReader& field) {
    kinds::check_unit(field, "V");
    const double volts = kinds::plausible_number(field, "value", Unit::volts);
    NetVoltsReading value{kinds::place_of(field), volts, std::nullopt};
    if (field.has("falls_to"))
        value.falls_to = kinds::plausible_number(field, "falls_to", Unit::volts);
    return value;
}

Outcome NetVoltsTraits::plausible(const NetVoltsReading& value, const std::string& where) {
    if (value.falls_to) {
        if (!(*value.falls_to < value.volts))
            return refused("a net that rises and falls has two numbers, the lower one second", where);
        if (auto lower = check_plausible(*value.falls_to, Unit::volts, where); !lower)
            return lower;
    }
    return check_plausible(value.volts, Unit::volts, where);
}

Outcome NetVoltsTraits::fits(const NetVoltsReading& value, const BenchConfiguration& bench,
                             const MachinePlan& plan, const std::string& where) {
    return kinds::fits_net(value.net, bench, plan.topology(), where);
}

std::string NetVoltsTraits::bench_conflict(const BenchConfiguration& bench) {
    return kinds::must_be_powered(bench);
}

double NetVoltsTraits::background(const NetVoltsReading& value) {
    const double broad = 1.0 / kinds::broad_volts_span;
    if (value.falls_to)
        return alternates_anyhow * broad * broad;
    return broad;
}

void NetVoltsTraits::bring(const NetVoltsReading& value, const BenchConfiguration& bench,
                           const Topology& topology, ReadingTerms& terms) {
    // How far off two ends are is not told; nothing is learnt of the net by them.
    if (value.falls_to)
        return;
    terms.channels[0] = kinds::volts_quirk(value.volts, value.net, bench, topology);
}

bool NetVoltsTraits::shows_the_same(const NetVoltsReading& a, const NetVoltsReading& b,
                                    const AccuracyOptions& o) {
    return a.falls_to.has_value() == b.falls_to.has_value() &&
           kinds::agree(a.volts, b.volts, o.dmm_volts_share, o.dmm_volts_digit);
}

std::size_t NetVoltsTraits::outcome_count(const MachinePlan&) {
    return edges.size() + 1;
}

std::string NetVoltsTraits::outcome_text(int outcome, const MachinePlan&) {
    return kinds::range_text(edges, outcome, Unit::volts);
}

}  // namespace eh
