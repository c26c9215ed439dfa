// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proof/proof.h"

#include <algorithm>
#include <cmath>

#include "core/base/quantile.h"
#include "core/base/text.h"
#include "core/electrics/engineering.h"
#include "core/inference/ranking.h"
#include "core/prediction/median_of_views.h"
#include "core/readings/bench_text.h"

namespace eh {
namespace {

constexpr double cool_kelvin = 15.0;          // warm to the finger, not hot
constexpr double contract_share = 0.925;      // of the wanted volts: a supply's 5 % and the cable's drop
constexpr double charge_margin_share = 0.25;  // above what the machine alone draws, for charging to be seen

bool customers_gear_was_at_fault(const Job& job, const std::string& family) {
    return std::any_of(job.acts.begin(), job.acts.end(), [&](const Act& act) {
        return act.block == charger_block_id(family) || act.block == lead_block_id(family);
    });
}

ProofVerdict judge_meter(PredictionStore& store, const MeterReading& reading,
                         const BenchConfiguration& bench) {
    const Topology& topology = store.plan().topology();
    const Views sound = *store.sound_views(bench);
    const double expected_volts = median_of(sound, [](const PoweredView& view) { return view.meter.volts; });
    const double expected_amps = median_of(sound, [](const PoweredView& view) { return view.meter.amps; });
    const std::string expected = "a sound machine shows about " +
                                 format_quantity(expected_volts, Unit::volts) + " and " +
                                 format_quantity(expected_amps, Unit::amps) + " here";
    if (reading.meter.pattern != MeterPattern::steady)
        return {false, "The meter does not stay lit; " + expected + "."};
    const double least_volts = contract_share * std::min(topology.wanted_volts, expected_volts);
    if (reading.meter.volts < least_volts)
        return {false, format_quantity(reading.meter.volts, Unit::volts) + " is below " +
                           format_quantity(least_volts, Unit::volts) + "; " + expected + "."};
    if (!reading.amps_known)
        return {false, "The amps are missing, so charging is not shown."};
    const MachinePlan& plan = store.plan();
    double idle_watts = 0.0;
    if (plan.mainboard >= 0) {
        const PlanBlock& board = plan.blocks[static_cast<std::size_t>(plan.mainboard)];
        idle_watts = plan.slot_values[static_cast<std::size_t>(board.param_slots.at("run_watts"))];
    }
    const double watts = reading.meter.volts * reading.meter.amps;
    if (bench.battery_in && watts < idle_watts * (1.0 + charge_margin_share))
        return {false, format_quantity(watts, Unit::watts) +
                           " is no more than the machine itself draws, so charging is not shown; " +
                           expected + "."};
    return {true, format_quantity(reading.meter.volts, Unit::volts) + ", " +
                      format_quantity(reading.meter.amps, Unit::amps) + ": " + expected + "."};
}

// What a reading proves: one function for each kind that can prove something.
struct Judge {
    PredictionStore& store;
    const BenchConfiguration& bench;

    ProofVerdict operator()(const MeterReading& seen) const { return judge_meter(store, seen, bench); }
    ProofVerdict operator()(const WiggleReading& seen) const {
        return seen.drops_out ? ProofVerdict{false, "It drops out when the plug is pushed."}
                              : ProofVerdict{true, "It holds when the plug is pushed."};
    }
    ProofVerdict operator()(const FirmwareReading& seen) const {
        if (seen.message == FirmwareMessage::charging)
            return {true, "The machine says it is charging."};
        if (seen.message == FirmwareMessage::full)
            return {true, "The machine says it is full: low current is then no fault."};
        return {false, "The machine does not say that it is charging."};
    }
    ProofVerdict operator()(const HotPartReading& seen) const {
        const double rise = seen.rise_kelvin.value_or(0.0);
        const std::string above = format_quantity(rise, Unit::kelvin, 2) + " above its surroundings.";
        return rise <= cool_kelvin ? ProofVerdict{true, "It stays cool: " + above}
                                   : ProofVerdict{false, "It is still hot: " + above};
    }
    template <typename Value>
    ProofVerdict operator()(const Value&) const {
        return {false, "This kind of reading proves nothing by itself."};
    }
};

}  // namespace

std::vector<ProofStep> plan_proof(const Topology& topology, const Job& job,
                                  const std::vector<ProofCheck>& checks) {
    std::vector<ProofStep> steps;
    BenchConfiguration base = job.bench;
    base.charger_connected = true;
    base.charger = Owner::bench;
    base.lead = Owner::bench;
    base.battery_in = true;
    base.case_open = false;
    base.board_out = false;
    base.removed.clear();
    const auto add = [&](ReadingKind kind, const BenchConfiguration& configuration,
                         const std::string& place = {}) {
        ProofStep step;
        step.id = "p" + integer_text(steps.size() + 1);
        step.kind = kind;
        step.configuration = configuration;
        step.place = place;
        steps.push_back(std::move(step));
    };
    const auto add_sides = [&](const Port& port, Owner owner) {
        BenchConfiguration at_port = base;
        at_port.charger = owner;
        at_port.lead = owner;
        at_port.port = port.id;
        at_port.side = PlugSide::a;
        add(ReadingKind::meter, at_port);
        if (port.family == "usb-c") {
            at_port.side = PlugSide::b;
            add(ReadingKind::meter, at_port);
        }
    };
    for (const Port& port : topology.ports) {
        add_sides(port, Owner::bench);
        BenchConfiguration at_port = base;
        at_port.port = port.id;
        at_port.side = PlugSide::a;
        add(ReadingKind::wiggle, at_port);
    }
    BenchConfiguration first = base;
    first.port = topology.ports.front().id;
    first.side = PlugSide::a;
    add(ReadingKind::firmware, first);
    for (const Act& act : job.acts) {
        const bool on_board = topology.find_block(act.block) != nullptr;
        const bool listed = std::any_of(steps.begin(), steps.end(), [&](const ProofStep& step) {
            return step.kind == ReadingKind::hot_part && step.place == act.block;
        });
        if (on_board && !listed)
            add(ReadingKind::hot_part, first, act.block);
    }
    for (const Port& port : topology.ports)
        if (!customers_gear_was_at_fault(job, port.family))
            add_sides(port, Owner::customer);
    const auto add_check = [&](const ProofCheck& check, const Port* port) {
        add(ReadingKind::look, first, port == nullptr ? std::string() : port->id);
        steps.back().check = check.id;
        steps.back().minutes = check.minutes;
        steps.back().says = port == nullptr ? check.says : port->title + ": " + check.says;
    };
    for (const ProofCheck& check : checks) {
        if (check.family.empty())
            add_check(check, nullptr);
        for (const Port& port : topology.ports)
            if (!check.family.empty() && port.family == check.family)
                add_check(check, &port);
    }
    return steps;
}

bool same_step(const ProofStep& a, const ProofStep& b) {
    if (a.check != b.check || a.kind != b.kind || a.place != b.place)
        return false;
    // A check does not ask how the bench stands.
    return !a.check.empty() || a.configuration == b.configuration;
}

ProofStep* step_for(std::vector<ProofStep>& steps, const Reading& reading) {
    const auto found = std::find_if(steps.begin(), steps.end(), [&](const ProofStep& step) {
        if (!step.check.empty() || step.kind != reading.kind() || step.state == ProofState::passed ||
            step.state == ProofState::waived)
            return false;
        if (step.kind == ReadingKind::hot_part && step.place != reading.place())
            return false;
        // What the machine says and whether a part is cool do not depend on which way up the plug is.
        BenchConfiguration wanted = electrical_part(step.configuration);
        BenchConfiguration given = electrical_part(reading.configuration);
        if (step.kind != ReadingKind::meter) {
            wanted.side = given.side;
            if (step.kind != ReadingKind::wiggle)
                wanted.port = given.port;
        }
        wanted.replaced = given.replaced;
        wanted.handled = given.handled;
        wanted.power_was_cut = given.power_was_cut;
        // A machine that rests until its button is pressed proves itself once it was.
        if (given.button == Button::pressed)
            given.button = Button::left_alone;
        return wanted == given;
    });
    return found == steps.end() ? nullptr : &*found;
}

ProofVerdict judge(PredictionStore& store, const Reading& reading) {
    return std::visit(Judge{store, reading.configuration}, reading.value);
}

bool proof_complete(const std::vector<ProofStep>& steps) {
    return !steps.empty() && std::all_of(steps.begin(), steps.end(), [](const ProofStep& step) {
        return step.state == ProofState::passed || step.state == ProofState::waived;
    });
}

std::string describe(const ProofStep& step, const Topology& topology) {
    if (!step.check.empty())
        return step.says;
    BenchConfiguration shown = step.configuration;
    shown.replaced.clear();
    shown.handled.clear();
    std::string stance = describe(shown, topology);
    switch (step.kind) {
        case ReadingKind::meter:
            return stance + ": volts and amps";
        case ReadingKind::wiggle:
            return stance + ": holds when pushed";
        case ReadingKind::firmware:
            return "The machine says it is charging";
        case ReadingKind::hot_part: {
            const Block* block = topology.find_block(step.place);
            return (block == nullptr ? step.place : block->title) + ": stays cool";
        }
        default:
            return stance;
    }
}

}  // namespace eh
