// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/between_reading.h"

#include "core/machine/model/net_index.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/net_ohms_reading.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

using Ohms = Traits<NetOhmsReading>;

// Two nets whose names, in this order, leave one value when they are taken out of the words.
struct TwoNets {
    const Net* net = nullptr;
    const Net* other = nullptr;
    TypedValue value;
};
std::optional<TwoNets> two_nets(const Words& words, const Topology& topology) {
    for (std::size_t cut = 1; cut + 1 < words.size(); ++cut) {
        const auto at = words.begin() + static_cast<std::ptrdiff_t>(cut);
        const auto first = find_net_and_values({words.begin(), at}, topology);
        const auto second = find_net_and_values({at, words.end()}, topology);
        if (first && second && first->values.empty() && second->values.size() == 1)
            return TwoNets{first->net, second->net, second->values.front()};
    }
    return std::nullopt;
}

}  // namespace

using BetweenTraits = Traits<BetweenReading>;

BetweenReading BetweenTraits::at(const std::string& place) {
    const std::size_t cut = place.find('>');
    return cut == std::string::npos ? BetweenReading{place, place, std::nullopt}
                                    : BetweenReading{place.substr(0, cut), place.substr(cut + 1), {}};
}

std::string BetweenTraits::value_text(const BetweenReading& value, const Topology&) {
    return value.ohms ? format_quantity(*value.ohms, Unit::ohms) : "OL";
}

std::string BetweenTraits::subject(const BetweenReading& value, const BenchConfiguration& bench,
                                   const Topology& topology) {
    return net_and_work(value.net, bench, topology) + " to " + title_of_net(topology, value.other);
}

void BetweenTraits::write(const BetweenReading& value, nlohmann::json& file) {
    file["place"] = value.net;
    file["to"] = value.other;
    kinds::write_value_or_ol(file, value.ohms, "ohm");
}

BetweenReading BetweenTraits::read(const JsonReader& field) {
    const auto ohms = kinds::read_value_or_ol(field, Unit::ohms, "ohm");
    return {kinds::place_of(field), field.text("to"), ohms};
}

Outcome BetweenTraits::plausible(const BetweenReading& value, const std::string& where) {
    return kinds::plausible_or_ol(value.ohms, Unit::ohms, where);
}

Outcome BetweenTraits::fits(const BetweenReading& value, const BenchConfiguration& bench,
                            const MachinePlan& plan, const std::string& where) {
    if (Outcome fits = kinds::fits_net(value.net, bench, plan.topology(), where); !fits)
        return fits;
    if (value.net == value.other && !bench.bare_plug)
        return refused("from a net to itself there is nothing to measure, unless a bare plug is in the port",
                       where);
    return kinds::has_net(plan.topology(), value.other, where);
}

OffQuestion BetweenTraits::asks(const BetweenReading& value, const MachinePlan& plan) {
    return {OffQuestion::Of::between_nets, net_index(plan.topology(), value.net),
            net_index(plan.topology(), value.other)};
}

std::string BetweenTraits::bench_conflict(const BenchConfiguration& bench) {
    return kinds::must_be_off(bench);
}

Result<BetweenReading> BetweenTraits::from_quick(QuickInput& typed) {
    const auto found = two_nets(typed.words, typed.topology);
    if (!found)
        return refused("name both nets and the ohms from one to the other; write for instance between " +
                       typed.topology.nets.front().id + ' ' + typed.topology.nets.back().id + " 0r02, or ol");
    const Quantity& q = found->value.quantity;
    if (!q.over_limit && q.unit != Unit::ohms && q.unit != Unit::none)
        return refused("“" + found->value.text + "” is not ohms");
    return BetweenReading{found->net->id, found->other->id,
                          q.over_limit ? std::nullopt : std::optional(q.value)};
}

double BetweenTraits::background(const BetweenReading& value) {
    return kinds::broad_ohms(reads_open(value.ohms));
}

void BetweenTraits::bring(const BetweenReading& value, const BenchConfiguration&, const Topology&,
                          ReadingTerms& terms) {
    terms.channels[0] = "ohms between " + place(value);
}

bool BetweenTraits::shows_the_same(const BetweenReading& a, const BetweenReading& b,
                                   const AccuracyOptions& o) {
    return Ohms::shows_the_same({a.net, a.ohms}, {b.net, b.ohms}, o);
}

std::size_t BetweenTraits::outcome_count(const MachinePlan& plan) {
    return Ohms::outcome_count(plan);
}

std::string BetweenTraits::outcome_text(int outcome, const MachinePlan& plan) {
    return Ohms::outcome_text(outcome, plan);
}

}  // namespace eh
