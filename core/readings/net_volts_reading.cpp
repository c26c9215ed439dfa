// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/net_volts_reading.h"

#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"

namespace eh {

using NetVoltsTraits = Traits<NetVoltsReading>;

NetVoltsReading NetVoltsTraits::at(const std::string& place) {
    return {place, 0.0};
}

std::string NetVoltsTraits::value_text(const NetVoltsReading& value, const Topology&) {
    return format_quantity(value.volts, Unit::volts);
}

std::string NetVoltsTraits::subject(const NetVoltsReading& value, const BenchConfiguration& bench,
                                    const Topology& topology) {
    return title_of_net(topology, value.net) + " (" + describe(bench, topology) + ")";
}

void NetVoltsTraits::write(const NetVoltsReading& value, nlohmann::json& file) {
    file["value"] = value.volts;
    file["unit"] = "V";
}

NetVoltsReading NetVoltsTraits::read(const JsonReader& field) {
    kinds::check_unit(field, "V");
    const double volts = kinds::plausible_number(field, "value", Unit::volts);
    return {kinds::place_of(field), volts};
}

Outcome NetVoltsTraits::plausible(const NetVoltsReading& value, const std::string& where) {
    return check_plausible(value.volts, Unit::volts, where);
}

Outcome NetVoltsTraits::fits(const NetVoltsReading& value, const BenchConfiguration& bench,
                             const MachinePlan& plan, const std::string& where) {
    return kinds::fits_net(value.net, bench, plan.topology(), where);
}

std::string NetVoltsTraits::bench_conflict(const BenchConfiguration& bench) {
    return kinds::must_be_powered(bench);
}

double NetVoltsTraits::background(const NetVoltsReading&) {
    return 1.0 / kinds::broad_volts_span;
}

void NetVoltsTraits::bring(const NetVoltsReading& value, const BenchConfiguration& bench,
                           const Topology& topology, ReadingTerms& terms) {
    terms.channels[0] = kinds::volts_quirk(value.volts, value.net, bench, topology);
}

bool NetVoltsTraits::shows_the_same(const NetVoltsReading& a, const NetVoltsReading& b,
                                    const AccuracyOptions& o) {
    return kinds::agree(a.volts, b.volts, o.dmm_volts_share, o.dmm_volts_digit);
}

std::size_t NetVoltsTraits::outcome_count(const MachinePlan&) {
    return edges.size() + 1;
}

std::string NetVoltsTraits::outcome_text(int outcome, const MachinePlan&) {
    return kinds::range_text(edges, outcome, Unit::volts);
}

}  // namespace eh
