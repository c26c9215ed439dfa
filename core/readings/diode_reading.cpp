// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/diode_reading.h"

#include "core/machine/model/net_index.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/quick_words.h"

namespace eh {

using DiodeTraits = Traits<DiodeReading>;

DiodeReading DiodeTraits::at(const std::string& place) {
    return {place, std::nullopt};
}

std::string DiodeTraits::value_text(const DiodeReading& value, const Topology&) {
    return value.volts ? format_quantity(*value.volts, Unit::volts) : "OL";
}

std::string DiodeTraits::subject(const DiodeReading& value, const BenchConfiguration& bench,
                                 const Topology& topology) {
    return net_and_work(value.net, bench, topology) + ", diode mode";
}

void DiodeTraits::write(const DiodeReading& value, nlohmann::json& file) {
    kinds::write_value_or_ol(file, value.volts, "V");
}

DiodeReading DiodeTraits::read(const JsonReader& field) {
    const auto volts = kinds::read_value_or_ol(field, Unit::volts, "V");
    return {kinds::place_of(field), volts};
}

Outcome DiodeTraits::plausible(const DiodeReading& value, const std::string& where) {
    return kinds::plausible_or_ol(value.volts, Unit::volts, where);
}

Outcome DiodeTraits::fits(const DiodeReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                          const std::string& where) {
    return kinds::fits_net(value.net, bench, plan.topology(), where);
}

OffQuestion DiodeTraits::asks(const DiodeReading& value, const MachinePlan& plan) {
    return {OffQuestion::Of::diode_drop, net_index(plan.topology(), value.net)};
}

std::string DiodeTraits::bench_conflict(const BenchConfiguration& bench) {
    return kinds::must_be_off(bench);
}

Result<DiodeReading> DiodeTraits::from_quick(QuickInput& typed) {
    const auto found = find_net_and_values(typed.words, typed.topology);
    if (!found || found->values.size() != 1)
        return refused("name the net and what diode mode shows, red on ground; write for instance diode " +
                       typed.topology.ports.front().vbus + " 0.52, or ol");
    const Quantity& q = found->values.front().quantity;
    if (!q.over_limit && q.unit != Unit::volts && q.unit != Unit::none)
        return refused("“" + found->values.front().text + "” is not volts");
    return DiodeReading{found->net->id, q.over_limit ? std::nullopt : std::optional(q.value)};
}

double DiodeTraits::background(const DiodeReading& value) {
    return value.volts ? (1.0 - broad_ol_share) / kinds::broad_drop_span : broad_ol_share;
}

void DiodeTraits::bring(const DiodeReading& value, const BenchConfiguration&, const Topology& topology,
                        ReadingTerms& terms) {
    terms.channels[0] = "drop of " + kinds::branch_of(value.net, topology);
}

bool DiodeTraits::shows_the_same(const DiodeReading& a, const DiodeReading& b, const AccuracyOptions& o) {
    return kinds::agree_or_ol(a.volts, b.volts, 0.0, o.dmm_drop_digit);
}

std::size_t DiodeTraits::outcome_count(const MachinePlan&) {
    return edges.size() + 1;
}

std::string DiodeTraits::outcome_text(int outcome, const MachinePlan&) {
    return outcome == static_cast<int>(edges.size()) ? "OL" : kinds::range_text(edges, outcome, Unit::volts);
}

}  // namespace eh
