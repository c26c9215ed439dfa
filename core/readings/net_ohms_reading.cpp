// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/net_ohms_reading.h"

#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"

namespace eh {

using Self = Traits<NetOhmsReading>;

NetOhmsReading Self::at(const std::string& place) {
    return {place, std::nullopt};
}

std::string Self::value_text(const NetOhmsReading& value, const Topology&) {
    return value.ohms ? format_quantity(*value.ohms, Unit::ohms) : "OL";
}

std::string Self::subject(const NetOhmsReading& value, const BenchConfiguration& bench,
                          const Topology& topology) {
    return net_and_work(value.net, bench, topology);
}

void Self::write(const NetOhmsReading& value, nlohmann::json& file) {
    kinds::write_value_or_ol(file, value.ohms, "ohm");
}

NetOhmsReading Self::read(const JsonReader& field) {
    const auto ohms = kinds::read_value_or_ol(field, Unit::ohms, "ohm");
    return {kinds::place_of(field), ohms};
}

Outcome Self::plausible(const NetOhmsReading& value, const std::string& where) {
    return kinds::plausible_or_ol(value.ohms, Unit::ohms, where);
}

Outcome Self::fits(const NetOhmsReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                   const std::string& where) {
    if (auto net = kinds::has_net(plan.topology(), value.net, where); !net)
        return net;
    return kinds::without_supply(bench, where);
}

std::string Self::bench_conflict(const BenchConfiguration& bench) {
    return kinds::must_be_off(bench);
}

double Self::background(const NetOhmsReading& value) {
    return kinds::broad_ohms(!value.ohms);
}

void Self::bring(const NetOhmsReading& value, const BenchConfiguration&, const Topology& topology,
                 ReadingTerms& terms) {
    terms.channels[0] = "ohms of " + kinds::branch_of(value.net, topology);
}

bool Self::shows_the_same(const NetOhmsReading& a, const NetOhmsReading& b, const AccuracyOptions& o) {
    return kinds::agree_or_ol(a.ohms, b.ohms, o.dmm_ohms_share, o.lead_ohms);
}

std::size_t Self::outcome_count(const MachinePlan&) {
    return edges.size() + 1;
}

std::string Self::outcome_text(int outcome, const MachinePlan&) {
    return outcome == static_cast<int>(edges.size()) ? "OL" : kinds::range_text(edges, outcome, Unit::ohms);
}

}  // namespace eh
