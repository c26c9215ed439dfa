// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/drawn_machines.h"

#include <algorithm>
#include <cmath>

#include "core/inference/complaint.h"
#include "evaluation/simulated_bench.h"

namespace eh {
namespace {

bool is_brought_in(const MachinePlan& plan, const DrawnMachine& machine, const Perturbation& perturbation) {
    if (machine.faults.empty())
        return true;
    SimulatedBench faulty(plan, machine.faults, machine.seed, 0.0, perturbation.tolerance_factor);
    SimulatedBench sound(plan, {}, machine.seed, 0.0, perturbation.tolerance_factor);
    const auto ways = ways_to_plug_in(plan.topology());
    return std::any_of(ways.begin(), ways.end(), [&](const BenchConfiguration& way) {
        return is_noticed(faulty.view(way), sound.view(way));
    });
}

bool ever_worked(const MachinePlan& plan, const DrawnMachine& machine, const Perturbation& perturbation) {
    SimulatedBench sound(plan, {}, machine.seed, 0.0, perturbation.tolerance_factor);
    NextAct act;
    act.configuration = as_brought_in(plan.topology(), {});
    return std::all_of(plan.topology().ports.begin(), plan.topology().ports.end(), [&](const Port& port) {
        act.configuration.port = port.id;
        act.reading = ReadingKind::firmware;
        return sound.take(act).as<FirmwareReading>()->message == FirmwareMessage::charging;
    });
}

// Everything that can be read of a machine without taking it apart further than its case, without noise.
std::vector<Reading> everything_read(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                                     const DrawnMachine& machine, double tolerance_factor) {
    SimulatedBench bench(plan, faults, machine.seed, 0.0, tolerance_factor);
    std::vector<Reading> readings;
    const auto take = [&](ReadingKind kind, const std::string& place, const BenchConfiguration& standing) {
        NextAct act;
        act.reading = kind;
        act.place = place;
        act.configuration = standing;
        readings.push_back(bench.take(act));
    };
    const auto& nets = plan.topology().nets;
    for (const BenchConfiguration& way : ways_to_plug_in(plan.topology())) {
        take(ReadingKind::meter, "", way);
        take(ReadingKind::firmware, "", way);
        take(ReadingKind::talk, "", way);
        for (const Net& net : nets)
            take(ReadingKind::net_volts, net.id, way);
    }
    for (const Net& net : nets)
        take(ReadingKind::net_ohms, net.id, unpowered(as_brought_in(plan.topology(), {})));
    return readings;
}

bool differ(double a, double b) {
    constexpr double share = 0.1;
    constexpr double least = 0.1;
    return std::abs(a - b) > least + share * std::max(std::abs(a), std::abs(b));
}

// Whether a reading came out differently: one function for each kind that everything_read() takes.
struct Changed {
    const Reading& other;

    bool operator()(const MeterReading& seen) const {
        const MeterSummary& meter = other.as<MeterReading>()->meter;
        return seen.meter.pattern != meter.pattern || differ(seen.meter.volts, meter.volts) ||
               differ(seen.meter.amps, meter.amps);
    }
    bool operator()(const FirmwareReading& seen) const {
        return seen.message != other.as<FirmwareReading>()->message;
    }
    bool operator()(const TalkReading& seen) const { return seen.end != other.as<TalkReading>()->end; }
    bool operator()(const NetVoltsReading& seen) const {
        return differ(seen.volts, other.as<NetVoltsReading>()->volts);
    }
    bool operator()(const NetOhmsReading& seen) const {
        const auto& ohms = other.as<NetOhmsReading>()->ohms;
        return seen.ohms.has_value() != ohms.has_value() || (ohms && differ(*seen.ohms, *ohms));
    }
    template <typename Value>
    bool operator()(const Value&) const {
        return false;
    }
};

// Requires the same readings, taken in the same order.
std::size_t changed_readings(const std::vector<Reading>& one, const std::vector<Reading>& other) {
    std::size_t count = 0;
    for (std::size_t r = 0; r < one.size(); ++r)
        count += std::visit(Changed{other[r]}, one[r].value) ? 1 : 0;
    return count;
}

bool held_in_all_but_name(const MachinePlan& generating, const DrawnMachine& machine,
                          const Reasoner& reasoner, const Perturbation& perturbation) {
    constexpr double share_left = 0.25;  // of the readings that the effect changed
    const auto faulty = everything_read(generating, machine.faults, machine, perturbation.tolerance_factor);
    const auto sound = everything_read(generating, {}, machine, perturbation.tolerance_factor);
    PredictionTable table(reasoner.store(), make_hypotheses(reasoner.store()->plan(), {machine.facts, {}}));
    const auto of_sound = unexplained_readings(table, sound);
    const auto of_faulty = unexplained_readings(table, faulty);
    // What perturbed parts alone leave unexplained is not the effect's doing.
    const auto allowed = static_cast<double>(*std::min_element(of_sound.begin(), of_sound.end())) +
                         share_left * static_cast<double>(changed_readings(faulty, sound));
    return static_cast<double>(*std::min_element(of_faulty.begin(), of_faulty.end())) <= allowed;
}

}  // namespace

std::vector<DrawnMachine> drawn_machines(const MachinePlan& generating, const Reasoner& reasoner,
                                         const EvaluationOptions& options) {
    const Perturbation& perturbation = options.perturbation;
    MachineSource source(generating, perturbation, options.seed);
    std::vector<DrawnMachine> machines;
    while (static_cast<int>(machines.size()) < options.machines) {
        DrawnMachine machine = source.next();
        if (ever_worked(generating, machine, perturbation) &&
            is_brought_in(generating, machine, perturbation) &&
            !(perturbation.unknown_effects &&
              held_in_all_but_name(generating, machine, reasoner, perturbation)))
            machines.push_back(std::move(machine));
    }
    return machines;
}

}  // namespace eh
