// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/simulated_bench.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "core/base/text.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/model/net_index.h"

namespace eh {
namespace {

PartDraw drawn_machine(std::uint64_t seed, double tolerance_factor) {
    Random random(seed);
    PartDraw draw;
    draw.typical = false;
    draw.seed = random.next();
    draw.severity = random.uniform();
    draw.tolerance_factor = tolerance_factor;
    return draw;
}

}  // namespace

SimulatedBench::SimulatedBench(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                               std::uint64_t seed, double noise_factor, double tolerance_factor)
    : model_(plan, faults, drawn_machine(seed, tolerance_factor)),
      faults_(faults),
      noise_(~seed),
      noise_factor_(noise_factor) {}

double SimulatedBench::noisy(double value, double share, double digit) {
    const double width = std::hypot(share * value, digit) * 0.5 * noise_factor_;
    return value + width * noise_.normal();
}

void SimulatedBench::look_for_heat(const PoweredView& view, Reading& reading) {
    constexpr double camera_share = 0.2;
    constexpr double camera_kelvin = 1.0;
    constexpr double highest_kelvin = 500.0;
    const HottestPart hottest = hottest_part(view);
    const double rise = std::clamp(noisy(hottest.kelvin, camera_share, camera_kelvin), 0.0, highest_kelvin);
    reading.place.clear();
    if (rise < AccuracyOptions{}.warm_kelvin)
        return;
    reading.place = model_.plan().blocks[hottest.block].id;
    reading.value = rise;
}

void SimulatedBench::measure_unpowered(const NextAct& act, Reading& reading) {
    const AccuracyOptions accuracy;
    const MachinePlan& plan = model_.plan();
    model_.configure(electrical_part(unpowered(act.configuration)));
    const int net = net_index(plan.topology(), act.place);
    if (act.reading == ReadingKind::diode) {
        const double volts = model_.diode_drop(net, solver_);
        reading.over_limit = !std::isfinite(volts);
        reading.value = reading.over_limit ? 0.0 : noisy(volts, 0.05, accuracy.dmm_drop_digit);
        return;
    }
    const bool through = act.reading == ReadingKind::through;
    const double ohms =
        through ? model_.through_ohms(plan.find_block(act.place)) : model_.ohms_to_ground(net, solver_);
    reading.over_limit = !std::isfinite(ohms) || ohms > accuracy.over_limit_ohms;
    reading.value = reading.over_limit ? 0.0 : std::max(0.0, noisy(ohms, 0.02, accuracy.lead_ohms));
    reading.pushed = through;
    if (through)
        reading.drops_out = noise_.uniform() < push_probability(plan, faults_, act.place, act.configuration);
}

void SimulatedBench::look_at_part(const NextAct& act, Reading& reading) {
    const LookShares shares = look_shares(model_.plan(), faults_, act.place, act.configuration);
    double left = noise_.uniform();
    int seen = 0;
    for (int i = 0; i < look_count && left >= shares[static_cast<std::size_t>(i)]; ++i) {
        left -= shares[static_cast<std::size_t>(i)];
        seen = std::min(i + 1, look_count - 1);
    }
    reading.look = static_cast<Look>(seen);
}

Reading SimulatedBench::take(const NextAct& act) {
    assert(!act.repair && "take: a repair is not a reading");
    const AccuracyOptions accuracy;
    const MachinePlan& plan = model_.plan();
    Reading reading;
    reading.id = "s" + integer_text(++serial_);
    reading.kind = act.reading;
    reading.place = act.place;
    reading.configuration = act.configuration;
    reading.source = "simulated";
    if (is_unpowered(act.reading)) {
        measure_unpowered(act, reading);
        return reading;
    }
    if (act.reading == ReadingKind::look) {
        look_at_part(act, reading);
        return reading;
    }
    const PoweredView view = look_at(model_, act.configuration, solver_);
    switch (act.reading) {
        case ReadingKind::meter:
            reading.meter = view.meter;
            if (view.meter.pattern == MeterPattern::steady || view.meter.pattern == MeterPattern::cycling) {
                reading.meter.volts = std::max(
                    0.0, noisy(view.meter.volts, accuracy.meter_volts_share, accuracy.meter_volts_digit));
                reading.meter.amps = std::max(
                    0.0, noisy(view.meter.amps, accuracy.meter_amps_share, accuracy.meter_amps_digit));
            }
            break;
        case ReadingKind::net_volts:
            reading.value =
                noisy(view.net_volts[static_cast<std::size_t>(net_index(plan.topology(), act.place))],
                      accuracy.dmm_volts_share, accuracy.dmm_volts_digit);
            break;
        case ReadingKind::injection:
            reading.meter = view.meter;
            reading.meter.volts =
                std::max(0.0, noisy(view.meter.volts, accuracy.dmm_volts_share, accuracy.dmm_volts_digit));
            reading.meter.amps =
                std::max(0.0, noisy(view.meter.amps, accuracy.meter_amps_share, accuracy.meter_amps_digit));
            look_for_heat(view, reading);
            break;
        case ReadingKind::hot_part:
            look_for_heat(view, reading);
            break;
        case ReadingKind::firmware:
            reading.firmware = view.firmware;
            if (view.firmware != FirmwareMessage::none && view.firmware != FirmwareMessage::no_battery)
                reading.percent = std::clamp(
                    std::round(view.battery_percent.value + view.battery_percent.width * noise_.normal()),
                    0.0, 100.0);
            break;
        case ReadingKind::talk:
            reading.talk = view.talk;
            break;
        case ReadingKind::wiggle:
            reading.drops_out = noise_.uniform() < view.drop_probability;
            break;
        case ReadingKind::net_ohms:
        case ReadingKind::look:
        case ReadingKind::through:
        case ReadingKind::diode:
            break;
    }
    return reading;
}

}  // namespace eh
