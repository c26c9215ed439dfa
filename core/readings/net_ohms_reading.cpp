// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/net_ohms_reading.h"

#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"

namespace eh {

using NetOhmsTraits = Traits<NetOhmsReading>;

NetOhmsReading NetOhmsTraits::at(const std::string& place) {
    return {place, std::nullopt};
}

std::string NetOhmsTraits::value_text(const NetOhmsReading& value, const Topology&) {
    return value.ohms ? format_quantity(*value.ohms, Unit::ohms) : "OL";
}

std::string NetOhmsTraits::subject(const NetOhmsReading& value, const BenchConfiguration& bench,
                                   const Topology& topology) {
    return net_and_work(value.net, bench, topology);
}

void NetOhmsTraits::write(const NetOhmsReading& value, nlohmann::json& file) {
    kinds::write_value_or_ol(file, value.ohms, "ohm");
}

NetOhmsReading NetOhmsTraits::read(const JsonReader& field) {
    const auto ohms = kinds::read_value_or_ol(field, Unit::ohms, "ohm");
    return {kinds::place_of(field), ohms};
}

Outcome NetOhmsTraits::plausible(const NetOhmsReading& value, const std::string& where) {
    return kinds::plausible_or_ol(value.ohms, Unit::ohms, where);
}

Outcome NetOhmsTraits::fits(const NetOhmsReading& value, const BenchConfiguration& bench,
                            const MachinePlan& plan, const std::string& where) {
    return kinds::fits_net(value.net, bench, plan.topology(), where);
}

std::string NetOhmsTraits::bench_conflict(const BenchConfiguration& bench) {
    return kinds::must_be_off(bench);
}

double NetOhmsTraits::background(const NetOhmsReading& value) {
    return kinds::broad_ohms(reads_open(value.ohms));
}

void NetOhmsTraits::bring(const NetOhmsReading& value, const BenchConfiguration&, const Topology& topology,
                          ReadingTerms& terms) {
    terms.channels[0] = kinds::ohms_quirk(value.ohms, value.net, topology);
}

bool NetOhmsTraits::shows_the_same(const NetOhmsReading& a, const NetOhmsReading& b,
                                   const AccuracyOptions& o) {
    if (reads_open(a.ohms, o) && reads_open(b.ohms, o))
        return true;
    return kinds::agree_or_ol(a.ohms, b.ohms, o.dmm_ohms_share, o.lead_ohms);
}

std::size_t NetOhmsTraits::outcome_count(const MachinePlan&) {
    return edges.size() + 1;
}

std::string NetOhmsTraits::outcome_text(int outcome, const MachinePlan&) {
    return outcome == static_cast<int>(edges.size()) ? "OL" : kinds::range_text(edges, outcome, Unit::ohms);
}

}  // namespace eh
