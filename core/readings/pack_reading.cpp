// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/pack_reading.h"

#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

double nominal_volts(const MachinePlan& plan) {
    if (plan.pack < 0)
        return 1.0;
    const PlanBlock& pack = plan.blocks[static_cast<std::size_t>(plan.pack)];
    return plan.slot_values[static_cast<std::size_t>(pack.param_slots.at("open_circuit_volts"))];
}

}  // namespace

using PackTraits = Traits<PackReading>;

std::string PackTraits::value_text(const PackReading& value, const Topology&) {
    return format_quantity(value.volts.value_or(0.0), Unit::volts);
}

std::string PackTraits::subject(const PackReading&, const BenchConfiguration& bench, const Topology&) {
    return bench.lent.empty() ? "Battery pack, unplugged" : "Lent battery pack, unplugged";
}

void PackTraits::write(const PackReading& value, nlohmann::json& file) {
    file["unit"] = "V";
    file["value"] = value.volts.value_or(0.0);
}

PackReading PackTraits::read(const JsonReader& field) {
    kinds::check_unit(field, "V");
    return {kinds::plausible_number(field, "value", Unit::volts)};
}

Outcome PackTraits::plausible(const PackReading& value, const std::string& where) {
    return kinds::plausible_or_ol(value.volts, Unit::volts, where);
}

Outcome PackTraits::fits(const PackReading&, const BenchConfiguration& bench, const MachinePlan& plan,
                         const std::string& where) {
    if (plan.pack < 0)
        return refused("this machine has no battery pack that can be unplugged", where);
    return kinds::without_supply(bench, where);
}

OffQuestion PackTraits::asks(const PackReading&, const MachinePlan&) {
    return {OffQuestion::Of::pack_volts};
}

std::string PackTraits::bench_conflict(const BenchConfiguration& bench) {
    return kinds::must_be_off(bench);
}

Result<PackReading> PackTraits::from_quick(QuickInput& typed) {
    const auto values = take_values(typed.words);
    if (values.size() != 1 || !typed.words.empty())
        return refused("the volts of the unplugged pack are wanted; write for instance pack 7.42");
    const Quantity& q = values.front().quantity;
    if (q.over_limit || (q.unit != Unit::volts && q.unit != Unit::none))
        return refused("“" + values.front().text + "” is not volts");
    return PackReading{q.value};
}

double PackTraits::background(const PackReading&) {
    return 1.0 / kinds::broad_volts_span;
}

void PackTraits::bring(const PackReading&, const BenchConfiguration&, const Topology&, ReadingTerms& terms) {
    terms.channels[0] = "volts of the pack alone";
}

bool PackTraits::shows_the_same(const PackReading& a, const PackReading& b, const AccuracyOptions& o) {
    return kinds::agree_or_ol(a.volts, b.volts, o.dmm_volts_share, o.dmm_volts_digit);
}

std::size_t PackTraits::outcome_count(const MachinePlan&) {
    return edges.size() + 1;
}

std::array<double, PackTraits::edges.size()> PackTraits::edge_volts(const MachinePlan& plan) {
    std::array<double, edges.size()> volts = edges;
    for (double& share : volts)
        share *= nominal_volts(plan);
    return volts;
}

std::string PackTraits::outcome_text(int outcome, const MachinePlan& plan) {
    return kinds::range_text(edge_volts(plan), outcome, Unit::volts);
}

}  // namespace eh
