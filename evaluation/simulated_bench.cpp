// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/simulated_bench.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <numeric>

#include "core/base/text.h"
#include "core/inference/board_look.h"
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

std::size_t SimulatedBench::net_under_probe(const std::string& net) {
    const Topology& topology = model_.plan().topology();
    const bool slips = slip_share_ > 0.0 && noise_.uniform() < slip_share_;
    return static_cast<std::size_t>(slips ? noise_.below(static_cast<int>(topology.nets.size()))
                                          : net_index(topology, net));
}

HotPartReading SimulatedBench::hottest_of(const PoweredView& view) {
    constexpr double camera_share = 0.2;
    constexpr double camera_kelvin = 1.0;
    constexpr double highest_kelvin = 500.0;
    const HottestPart hottest = hottest_part(view);
    const double rise = std::clamp(noisy(hottest.kelvin, camera_share, camera_kelvin), 0.0, highest_kelvin);
    if (rise < AccuracyOptions{}.warm_kelvin)
        return {};
    return {model_.plan().blocks[hottest.block].id, rise, 1.0};
}

SettingsPage SimulatedBench::page_of(const PoweredView& view) {
    constexpr double opened = 0.25;          // estimates
    constexpr double given_as_it_is = 0.75;  // other pages know no watts
    constexpr double most_percent = 105.0;
    const bool shows_page = view.adapter_watts >= 0.0F && noise_factor_ > 0.0;
    if (!shows_page || noise_.uniform() > opened)
        return {};
    SettingsPage page;
    page.adapter_watts = noise_.uniform() < given_as_it_is ? double{view.adapter_watts} : 0.0;
    page.health_percent =
        std::clamp(std::round(double{view.pack_health} + double{view.pack_health_width} * noise_.normal()),
                   0.0, most_percent);
    return page;
}

std::optional<double> SimulatedBench::ohms_shown(double ohms) {
    const AccuracyOptions accuracy;
    if (!std::isfinite(ohms) || ohms > accuracy.over_limit_ohms)
        return std::nullopt;
    return std::max(0.0, noisy(ohms, 0.02, accuracy.lead_ohms));
}

// The instruments, one a kind of reading: what each shows of the machine as it stands in `bench`.
struct SimulatedBench::Instruments {
    SimulatedBench& self;
    const BenchConfiguration& bench;
    const AccuracyOptions accuracy{};

    [[nodiscard]] PoweredView view() const { return look_at(self.model_, bench, self.solver_); }
    void switch_off() const { self.model_.configure(electrical_part(unpowered(bench))); }
    // What the bench supply holds stands there, whatever the maker.
    [[nodiscard]] double volts_factor(std::size_t net) const {
        return self.nets_.volts.empty() || bench.injection ? 1.0 : self.nets_.volts[net];
    }
    [[nodiscard]] double ohms_factor(std::size_t net) const {
        return self.nets_.ohms.empty() ? 1.0 : self.nets_.ohms[net];
    }
    [[nodiscard]] double meter_volts(double volts) const {
        return std::max(0.0, self.noisy(volts, accuracy.meter_volts_share, accuracy.meter_volts_digit));
    }
    [[nodiscard]] double meter_amps(double amps) const {
        return std::max(0.0, self.noisy(amps, accuracy.meter_amps_share, accuracy.meter_amps_digit));
    }

    // An entry, as often as its share says.
    template <typename Shares>
    [[nodiscard]] std::size_t drawn_of(const Shares& shares) const {
        double left = self.noise_.uniform();
        std::size_t entry = 0;
        while (entry + 1 < shares.size() && left >= double{shares[entry]})
            left -= double{shares[entry++]};
        return entry;
    }

    ReadingValue operator()(MeterReading seen) const {
        seen.meter = view().meter;
        if (seen.meter.pattern == MeterPattern::steady || seen.meter.pattern == MeterPattern::cycling) {
            seen.meter.volts = meter_volts(seen.meter.volts);
            seen.meter.amps = meter_amps(seen.meter.amps);
        }
        return seen;
    }
    ReadingValue operator()(NetVoltsReading seen) const {
        const std::size_t net = self.net_under_probe(seen.net);
        seen.volts = self.noisy(view().net_volts[net] * volts_factor(net), accuracy.dmm_volts_share,
                                accuracy.dmm_volts_digit);
        return seen;
    }
    ReadingValue operator()(InjectionReading seen) const {
        const PoweredView fed = view();
        seen.supply = fed.meter;
        seen.supply.volts =
            std::max(0.0, self.noisy(fed.meter.volts, accuracy.dmm_volts_share, accuracy.dmm_volts_digit));
        seen.supply.amps = meter_amps(fed.meter.amps);
        seen.hottest = self.hottest_of(fed);
        return seen;
    }
    ReadingValue operator()(const HotPartReading&) const { return self.hottest_of(view()); }
    ReadingValue operator()(FirmwareReading seen) const {
        const PoweredView shown = view();
        seen.message = static_cast<FirmwareMessage>(drawn_of(message_shares(shown)));
        seen.trend = shown.trend;
        if (shown.firmware != FirmwareMessage::none && shown.firmware != FirmwareMessage::no_battery)
            seen.percent = std::clamp(
                std::round(shown.battery_percent.value + shown.battery_percent.width * self.noise_.normal()),
                0.0, 100.0);
        seen.page = self.page_of(shown);
        return seen;
    }
    ReadingValue operator()(SignReading seen) const {
        seen.sign = static_cast<MachineSign>(drawn_of(view().signs));
        return seen;
    }
    ReadingValue operator()(TalkReading seen) const {
        seen.end = view().talk;
        return seen;
    }
    ReadingValue operator()(WiggleReading seen) const {
        const double drops = view().drop_probability;
        seen.drops_out = self.noise_.uniform() < drops;
        return seen;
    }
    ReadingValue operator()(LookReading seen) const {
        const LookShares shares = look_shares(self.model_.plan(), self.faults_, seen.part, bench);
        seen.seen = static_cast<Look>(drawn_of(shares));
        return seen;
    }
    ReadingValue operator()(BoardLookReading seen) const {
        const MachinePlan& plan = self.model_.plan();
        const std::size_t outcome = drawn_of(board_look_shares(plan, self.faults_, bench));
        if (outcome == 0)
            return seen;
        const std::string& part = plan.blocks[outcome - 1].id;
        LookShares odd = look_shares(plan, self.faults_, part, bench);
        odd[static_cast<std::size_t>(Look::sound)] = 0.0;
        const double sum = std::accumulate(odd.begin(), odd.end(), 0.0);
        for (double& share : odd)
            share /= sum;
        seen.found.push_back({part, static_cast<Look>(drawn_of(odd))});
        return seen;
    }
    ReadingValue operator()(NetOhmsReading seen) const {
        switch_off();
        const std::size_t net = self.net_under_probe(seen.net);
        const double ohms = self.model_.ohms_to_ground(static_cast<int>(net), self.solver_);
        seen.ohms = self.ohms_shown(ohms * ohms_factor(net));
        return seen;
    }
    ReadingValue operator()(ThroughReading seen) const {
        const MachinePlan& plan = self.model_.plan();
        switch_off();
        seen.ohms = self.ohms_shown(self.model_.through_ohms(plan.find_block(seen.part)));
        seen.changes_when_pushed =
            self.noise_.uniform() < push_probability(plan, self.faults_, seen.part, bench);
        return seen;
    }
    ReadingValue operator()(BetweenReading seen) const {
        switch_off();
        const std::size_t net = self.net_under_probe(seen.net);
        const int other = net_index(self.model_.plan().topology(), seen.other);
        seen.ohms = self.ohms_shown(self.model_.ohms_between(static_cast<int>(net), other, self.solver_));
        return seen;
    }
    ReadingValue operator()(PackReading seen) const {
        switch_off();
        const double volts = self.model_.pack_alone_volts();
        seen.volts = std::max(0.0, self.noisy(volts, accuracy.dmm_volts_share, accuracy.dmm_volts_digit));
        return seen;
    }
    ReadingValue operator()(DiodeReading seen) const {
        switch_off();
        const std::size_t net = self.net_under_probe(seen.net);
        const double volts = self.model_.diode_drop(static_cast<int>(net), self.solver_);
        if (std::isfinite(volts))
            seen.volts = self.noisy(volts, 0.05, accuracy.dmm_drop_digit);
        return seen;
    }
};

Reading SimulatedBench::take(const NextAct& act) {
    assert(!act.repair && "take: a repair is not a reading");
    Reading reading;
    reading.id = "s" + integer_text(++serial_);
    reading.configuration = act.configuration;
    reading.source = "simulated";
    reading.value = std::visit(Instruments{*this, act.configuration}, blank_value(act.reading, act.place));
    return reading;
}

}  // namespace eh
