// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/injection_reading.h"

#include <array>

#include "core/base/text.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

using Heat = Traits<HotPartReading>;

}  // namespace

using InjectionTraits = Traits<InjectionReading>;

InjectionReading InjectionTraits::at(const std::string& place) {
    InjectionReading value;
    value.hottest.part = place;
    return value;
}

std::string InjectionTraits::value_text(const InjectionReading& value, const Topology& topology) {
    return format_quantity(value.supply.volts, Unit::volts) + ", " +
           format_quantity(value.supply.amps, Unit::amps) + ", " + Heat::value_text(value.hottest, topology);
}

std::string InjectionTraits::subject(const InjectionReading&, const BenchConfiguration& bench,
                                     const Topology& topology) {
    return describe(bench, topology);
}

void InjectionTraits::write(const InjectionReading& value, nlohmann::json& file) {
    file["volts"] = value.supply.volts;
    file["amps"] = value.supply.amps;
    Heat::write(value.hottest, file);
}

InjectionReading InjectionTraits::read(const JsonReader& field) {
    InjectionReading value;
    value.supply.volts = kinds::plausible_number(field, "volts", Unit::volts);
    value.supply.amps = kinds::plausible_number(field, "amps", Unit::amps);
    value.hottest = Heat::read(field);
    return value;
}

Outcome InjectionTraits::plausible(const InjectionReading& value, const std::string& where) {
    if (auto volts = check_plausible(value.supply.volts, Unit::volts, where); !volts)
        return volts;
    if (auto amps = check_plausible(value.supply.amps, Unit::amps, where); !amps)
        return amps;
    return Heat::plausible(value.hottest, where);
}

Outcome InjectionTraits::fits(const InjectionReading& value, const BenchConfiguration& bench,
                              const MachinePlan& plan, const std::string& where) {
    if (!value.hottest.part.empty() && plan.topology().find_block(value.hottest.part) == nullptr)
        return refused("this machine has no part “" + value.hottest.part + "”", where);
    if (!bench.injection)
        return refused(
            "a reading by injection names the net, volts and limit of the bench supply, others none", where);
    return kinds::has_net(plan.topology(), bench.injection->net, where);
}

std::string InjectionTraits::bench_conflict(const BenchConfiguration& bench) {
    if (bench.charger_connected)
        return "Inject with the charger unplugged: the bench says it is plugged in.";
    if (bench.battery_in)
        return "Inject with the battery disconnected: the bench says it is in.";
    return {};
}

Result<InjectionReading> InjectionTraits::from_quick(QuickInput& typed) {
    const Topology& topology = typed.topology;
    const std::string example = "; write for instance inject " + topology.ports.front().vbus +
                                " 1v 3a 0.3v 3a " + topology.blocks.front().id + " +30";
    InjectionReading value;
    const bool nothing_warm = take_word(typed.words, "none") || take_word(typed.words, "nothing");
    for (const Block& block : topology.blocks) {
        if (!nothing_warm && take_word(typed.words, lower_case(block.id)))
            value.hottest.part = block.id;
    }
    const auto found = find_net_and_values(typed.words, topology);
    if (!found)
        return refused("name the net that the supply feeds" + example);
    const std::size_t wanted = value.hottest.part.empty() ? 4 : 5;
    if (found->values.size() != wanted)
        return refused(
            "an injection has the volts and limit that were set, the volts and amps that came, and "
            "the hottest part with its rise, or none" +
            example);
    constexpr std::array units{Unit::volts, Unit::amps, Unit::volts, Unit::amps, Unit::kelvin};
    for (std::size_t i = 0; i < wanted; ++i) {
        const Quantity& quantity = found->values[i].quantity;
        if (quantity.over_limit || (quantity.unit != Unit::none && quantity.unit != units[i]))
            return refused("“" + found->values[i].text + "” does not stand where it should" + example);
        if (auto plausible = check_plausible(quantity.value, units[i], {}); !plausible)
            return plausible.error();
    }
    const auto number = [&](std::size_t i) { return found->values[i].quantity.value; };
    typed.bench.injection = Injection{found->net->id, number(0), number(1)};
    value.supply.volts = number(2);
    value.supply.amps = number(3);
    if (!value.hottest.part.empty())
        value.hottest.rise_kelvin = number(4);
    return value;
}

double InjectionTraits::background(const InjectionReading& value) {
    return kinds::broad_ohms(false) * Heat::background(value.hottest);
}

void InjectionTraits::bring(const InjectionReading& value, const BenchConfiguration& bench,
                            const Topology& topology, ReadingTerms& terms) {
    if (bench.injection)
        terms.channels[0] = kinds::ohms_quirk(value.supply.volts / std::max(value.supply.amps, 1e-9),
                                              bench.injection->net, topology);
    terms.channels[1] = value.hottest.part.empty() ? "" : "heat of " + value.hottest.part;
    terms.word = Heat::part_number(value.hottest.part, topology);
    terms.word_channel = "hottest by injection";
    terms.broad_first = kinds::broad_ohms(false);
}

std::size_t InjectionTraits::outcome_count(const MachinePlan& plan) {
    return Heat::outcome_count(plan);
}

std::string InjectionTraits::outcome_text(int outcome, const MachinePlan& plan) {
    return Heat::outcome_text(outcome, plan);
}

}  // namespace eh
