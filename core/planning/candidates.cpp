// SPDX-License-Identifier: GPL-3.0-or-later
// Where readings can be taken from here, and the columns that choosing among them needs.
#include <algorithm>

#include "core/inference/complaint.h"
#include "core/machine/model/source_pieces.h"
#include "core/planning/injections.h"
#include "core/planning/next_act.h"
#include "core/planning/off_numbers.h"
#include "core/planning/tried_work.h"

namespace eh {

std::vector<BenchConfiguration> reachable_configurations(const BenchConfiguration& now,
                                                         const MachinePlan& plan) {
    const Topology& topology = plan.topology();
    std::vector<BenchConfiguration> list;
    const BenchConfiguration base = plugged_into(topology, now);
    const auto with_sides = [&](BenchConfiguration configuration) {
        for (const Port& port : topology.ports) {
            configuration.port = port.id;
            configuration.side = PlugSide::a;
            list.push_back(configuration);
            if (port.family == "usb-c") {
                configuration.side = PlugSide::b;
                list.push_back(configuration);
            }
        }
    };
    list.push_back(base);
    with_sides(base);
    const Kit& kit = plan.knowledge().kit;
    const std::string& family = topology.find_port(base.port)->family;
    const auto other_owner = [](Owner owner) {
        return owner == Owner::bench ? Owner::customer : Owner::bench;
    };
    BenchConfiguration other = base;
    set_owner(other, SourcePiece::charger, other_owner(now.charger), kit, family);
    list.push_back(other);
    other = base;
    set_owner(other, SourcePiece::lead, other_owner(now.lead), kit, family);
    list.push_back(other);
    other = base;
    other.second_instruments = !now.second_instruments;
    list.push_back(other);
    for (const PlanBlock& block : plan.blocks) {
        if (!block.kind->lend_minutes || block.is_outside())
            continue;
        other = base;
        other.case_open = true;
        insert_block(other.lent, block.id);
        list.push_back(other);
    }
    std::vector<BenchConfiguration> unique;
    for (const BenchConfiguration& configuration : list) {
        if (std::find(unique.begin(), unique.end(), configuration) == unique.end())
            unique.push_back(configuration);
    }
    return unique;
}

std::vector<BenchConfiguration> occasional_configurations(const BenchConfiguration& now,
                                                          const MachinePlan& plan,
                                                          const std::vector<Reading>& taken) {
    constexpr double at_rest_amps = 0.3;
    constexpr double above_five_volts = 8.5;
    const BenchConfiguration base = plugged_into(plan.topology(), now);
    const auto any_taken = [&](auto shows) {
        return std::any_of(taken.begin(), taken.end(), [&](const Reading& reading) {
            return !reading.set_aside && feeds_machine(reading.configuration) &&
                   reading.configuration.moment == Moment::settled &&
                   reading.configuration.port == base.port && shows(reading);
        });
    };
    std::vector<BenchConfiguration> list;
    const bool rests = any_taken([&](const Reading& reading) {
        const auto* meter = reading.as<MeterReading>();
        return meter != nullptr && meter->meter.pattern == MeterPattern::steady && meter->amps_known &&
               meter->meter.volts > above_five_volts && meter->meter.amps < at_rest_amps;
    });
    if (rests) {
        list.push_back(base);
        list.back().button = Button::pressed;
    }
    const bool loose = any_taken([](const Reading& reading) {
        const auto* meter = reading.as<MeterReading>();
        const auto* wiggle = reading.as<WiggleReading>();
        constexpr double nothing_amps = 0.01;
        const bool nothing_flows =
            meter != nullptr && (meter->meter.pattern == MeterPattern::dark ||
                                 (meter->amps_known && meter->meter.amps < nothing_amps));
        return nothing_flows || (wiggle != nullptr && wiggle->drops_out);
    });
    if (loose) {
        list.push_back(base);
        list.back().plug_held = true;
    }
    if (base.charger == Owner::customer || base.lead == Owner::customer) {
        list.push_back(base);
        list.back().tester = Tester::loaded;
    }
    return list;
}

std::vector<BenchConfiguration> usual_configurations(const MachinePlan& plan) {
    std::vector<BenchConfiguration> list;
    const Kit& kit = plan.knowledge().kit;
    for (const BenchConfiguration& way : ways_to_plug_in(plan.topology())) {
        for (const bool battery_in : {true, false}) {
            for (const Owner charger : {Owner::customer, Owner::bench}) {
                for (const Owner lead : {Owner::customer, Owner::bench}) {
                    if (charger != lead && has_fixed_lead(kit, plan.topology().find_port(way.port)->family))
                        continue;
                    list.push_back(way);
                    list.back().battery_in = battery_in;
                    list.back().charger = charger;
                    list.back().lead = lead;
                }
            }
        }
    }
    return list;
}

bool prepare_candidates(PredictionTable& table, const Ranking& ranking, const std::vector<Reading>& taken,
                        const BenchConfiguration& now, const std::function<bool()>& stop,
                        const std::function<void(double)>& progress) {
    const Topology& topology = table.plan().topology();
    const auto configurations = reachable_configurations(now, table.plan());
    const double steps = static_cast<double>(configurations.size() + topology.nets.size());
    double done = 0.0;
    const auto advance = [&] {
        done += 1.0;
        if (progress)
            progress(done / steps);
    };
    const BenchConfiguration off = measured_off(now);
    for (std::size_t n = 0; n < topology.nets.size(); ++n) {
        if (table.ohms(off, static_cast<int>(n), stop) == nullptr)
            return false;
        advance();
    }
    BenchConfiguration other = off;
    other.second_instruments = !other.second_instruments;
    for (std::size_t n = 0; n < topology.nets.size(); ++n) {
        if (table.ohms(other, static_cast<int>(n), stop) == nullptr)
            return false;
    }
    for (const OffNumber& number : off_numbers(table.plan(), ranking, now)) {
        if (table.number(number.configuration, number.question, stop) == nullptr)
            return false;
    }
    for (const BenchConfiguration& configuration : configurations) {
        if (table.powered(configuration, stop) == nullptr)
            return false;
        advance();
    }
    for (const BenchConfiguration& configuration : occasional_configurations(now, table.plan(), taken)) {
        if (table.powered(configuration, stop) == nullptr)
            return false;
    }
    for (const BenchConfiguration& configuration : tried_work(table, ranking, now)) {
        if (table.powered(configuration, stop) == nullptr)
            return false;
    }
    for (const BenchConfiguration& configuration : injection_configurations(table, ranking, taken, now)) {
        if (table.powered(configuration, stop) == nullptr)
            return false;
    }
    return true;
}

}  // namespace eh
