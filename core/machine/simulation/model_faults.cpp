// SPDX-License-Identifier: GPL-3.0-or-later
// What faults do to a drawn machine: how strong each is, what it adds to the circuit, and what it changes in
// a configuration.
#include <algorithm>
#include <cmath>

#include "core/base/random.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/model/net_index.h"
#include "core/machine/simulation/machine_model.h"

namespace eh {
namespace {

// From what shorts to ground are drawn alike: wide enough for those of all parts, from some milliohms to some
// tens of ohms.
constexpr Spread short_to_ground{0.8, 7.0};

double lognormal(double median, double factor, double deviate) {
    return median * std::pow(factor, deviate);
}

double normal_density(double value, const Spread& spread) {
    const double sigma = std::log(spread.factor);
    const double z = std::log(value / spread.median) / sigma;
    return std::exp(-0.5 * z * z) / sigma;
}

}  // namespace

bool drawn_alike(const Effect& effect) {
    constexpr double furthest = 2.4;  // of the logarithm of the median
    return effect.type == EffectType::shunt && effect.to == "gnd" && effect.ohms.factor > 1.0 &&
           std::abs(std::log(effect.ohms.median / short_to_ground.median)) < furthest;
}

// The stream of one fault: what its effects amount to in this draw, and what the draw then weighs.
class EffectDraw {
  public:
    EffectDraw(const PartDraw& draw, int stream)
        : draw_(draw),
          random_(draw.seed * 2 + static_cast<std::uint64_t>(stream) * apart),
          first_(stream == 0),
          knee_(first_ ? draw.knee : std::nullopt) {}

    [[nodiscard]] bool alike(const Effect& effect) const {
        return draw_.alike_punching_through && first_ && drawn_alike(effect);
    }
    // The first of stream 0 is the draw's severity.
    double drawn(const Spread& spread) {
        double deviate = draw_.typical ? 0.0 : random_.normal();
        if (first_ && !draw_.typical) {
            deviate = normal_quantile(std::clamp(draw_.severity, edge, 1.0 - edge));
        }
        first_ = false;
        return lognormal(spread.median, spread.factor, deviate);
    }
    double knee(const Spread& spread) {
        if (!knee_ || draw_.typical)
            return drawn(spread);
        const double deviate = normal_quantile(std::clamp(*knee_, edge, 1.0 - edge));
        knee_.reset();
        return lognormal(spread.median, spread.factor, deviate);
    }
    double shunt_ohms(const Effect& effect, double& weight) {
        if (!alike(effect))
            return drawn(effect.ohms);
        const double ohms = drawn(short_to_ground);
        weight *= normal_density(ohms, effect.ohms) / normal_density(ohms, short_to_ground);
        return ohms;
    }
    // `was_alike`: whether its ohms were drawn alike.
    bool punches_through(const Effect& effect, bool was_alike, double& weight) {
        // Punching through is the rule for the typical case only when it is more likely than not.
        const double chance = draw_.typical ? 0.5 : random_.uniform();
        if (!was_alike || effect.punch_through_share <= 0.0)
            return chance < effect.punch_through_share;
        // What never punches through is the same short in both halves of the draws: all of them count.
        const bool does = *draw_.alike_punching_through;
        weight *= 2.0 * (does ? effect.punch_through_share : 1.0 - effect.punch_through_share);
        return does;
    }

  private:
    static constexpr std::uint64_t apart = 0x9E3779B97F4A7C15U;
    static constexpr double edge = 1e-4;  // of a quantile
    const PartDraw& draw_;
    Random random_;
    bool first_;
    std::optional<double> knee_;  // of stream 0, until it is taken
};

void MachineModel::add_effects(const std::vector<FaultInstance>& faults, const PartDraw& draw) {
    std::size_t number = 0;
    for (const FaultInstance& fault : faults) {
        const int stream = number < draw.streams.size() ? draw.streams[number] : static_cast<int>(number);
        ++number;
        const FaultSpec* spec = plan_->knowledge().catalogue.find(fault.fault);
        const int block = plan_->find_block(fault.block);
        if (spec == nullptr || block < 0)
            continue;
        EffectDraw drawing(draw, stream);
        for (const Effect& effect : spec->effects) {
            AppliedEffect applied;
            applied.block = block;
            applied.fault = spec;
            applied.of_first = stream == 0;
            applied.effect = effect;
            add_effect(std::move(applied), fault, drawing);
        }
    }
}

void MachineModel::add_effect(AppliedEffect applied, const FaultInstance& fault, EffectDraw& drawing) {
    const Effect& effect = applied.effect;
    const PlanBlock& block = plan_->blocks[static_cast<std::size_t>(applied.block)];
    const bool alike = drawing.alike(effect);
    if (effect.type == EffectType::series)
        applied.ohms = fault.ohms ? *fault.ohms : drawing.drawn(effect.ohms);
    if (effect.type == EffectType::gives_up_to)
        applied.amps = drawing.drawn(effect.amps);
    if (effect.type == EffectType::shunt) {
        applied.ohms = fault.ohms ? *fault.ohms : drawing.shunt_ohms(effect, weight_);
        if (drawing.punches_through(effect, alike, weight_))
            applied.knee_volts = drawing.knee(effect.knee_volts);
        if (fault.ohms && !fault.knee_volts)
            applied.knee_volts = 0.0;
        if (fault.knee_volts)
            applied.knee_volts = *fault.knee_volts;
        if (!add_shunt(applied))
            return;
    }
    if (!effect.element.empty()) {
        for (int i = 0; i < block.element_count; ++i) {
            if (plan_->elements[static_cast<std::size_t>(block.first_element + i)].name == effect.element)
                applied.element = block.first_element + i;
        }
    }
    effects_.push_back(std::move(applied));
}

// False where the part has no such pin in this machine.
bool MachineModel::add_shunt(AppliedEffect& applied) {
    const PlanBlock& block = plan_->blocks[static_cast<std::size_t>(applied.block)];
    const auto node_at = [&](const std::string& pin) {
        return pin == "gnd" ? ground : NodeId{block.pin_nodes.at(pin)};
    };
    const NodeId a = node_at(applied.effect.pin);
    const NodeId b = node_at(applied.effect.to);
    if (a.index < 0 || b.index < 0)
        return false;
    applied.ohms = std::max(applied.ohms, smallest_ohms);
    const std::string name = "fault." + block.id;
    applied.shunt = applied.knee_volts > 0.0
                        ? circuit_.add(name, PunchThrough{a, b, open_ohms, applied.knee_volts})
                        : circuit_.add(name, Resistor{a, b, open_ohms});
    return true;
}

bool MachineModel::effect_counts(const AppliedEffect& effect) const {
    if (effect.effect.at_rest && configuration_.plug_held)
        return false;
    return part_in_play(plan_->blocks[static_cast<std::size_t>(effect.block)], *effect.fault, configuration_);
}

// Whether a pin is on the VBUS of the port that the charger is in.
bool MachineModel::is_at_plugged_port(const PlanBlock& block, const std::string& pin) const {
    if (plugged_port_ < 0)
        return false;
    const Topology& topology = plan_->topology();
    const int net = net_index(topology, topology.ports[static_cast<std::size_t>(plugged_port_)].vbus);
    const auto at = block.pin_nodes.find(pin);
    return net >= 0 && at != block.pin_nodes.end() &&
           at->second == plan_->net_nodes[static_cast<std::size_t>(net)];
}

// Applies an effect, or takes its shunt out where its part is not in play.
void MachineModel::put_effect(const AppliedEffect& applied) {
    const bool counts = effect_counts(applied);
    if (applied.shunt.index >= 0) {
        const double ohms = counts ? applied.ohms : open_ohms;
        if (applied.knee_volts > 0.0)
            circuit_.get<PunchThrough>(applied.shunt).ohms = ohms;
        else
            circuit_.get<Resistor>(applied.shunt).ohms = ohms;
    }
    if (!counts)
        return;
    BlockCondition& condition = conditions_[static_cast<std::size_t>(applied.block)];
    const PlanBlock& block = plan_->blocks[static_cast<std::size_t>(applied.block)];
    switch (applied.effect.type) {
        case EffectType::shunt:
        case EffectType::play:
            break;
        case EffectType::series:
            if (applied.element >= 0)
                added_ohms_[static_cast<std::size_t>(applied.element)] += applied.ohms;
            if (applied.effect.in_return && plugged_port_ >= 0 &&
                (block.port == plugged_port_ || !block.family.empty()))
                return_ohms_ += applied.ohms;
            break;
        case EffectType::open:
            if (applied.element >= 0)
                opened_[static_cast<std::size_t>(applied.element)] = 1;
            break;
        case EffectType::dead:
            condition.dead = true;
            break;
        case EffectType::param:
            slots_[static_cast<std::size_t>(block.param_slots.at(applied.effect.name))] =
                applied.effect.value;
            break;
        case EffectType::contract_limit:
            if (applied.effect.pin.empty() || is_at_plugged_port(block, applied.effect.pin))
                condition.contract_limit_volts = applied.effect.value;
            break;
        case EffectType::holds_path_open:
            condition.holds_path_open = true;
            break;
        case EffectType::offers_up_to:
            condition.offers_up_to_volts = applied.effect.value;
            break;
        case EffectType::carries_up_to:
            condition.carries_up_to_amps = applied.effect.value;
            break;
        case EffectType::gives_up_to:
            condition.gives_up_to_amps = applied.amps;
            break;
        case EffectType::never_talks:
            condition.never_talks = true;
            break;
        case EffectType::asleep:
            condition.asleep_probability = applied.effect.value;
            break;
        case EffectType::says:
            firmware_says_ = applied.effect.name;
            break;
        case EffectType::reads:
            put_error(condition.error, applied.effect);
            break;
    }
}

void MachineModel::put_error(InstrumentError& error, const Effect& effect) {
    if (effect.name == "volts")
        error.volts_factor = effect.value;
    else if (effect.name == "amps")
        error.amps_factor = effect.value;
    else if (effect.name == "lead_ohms")
        error.lead_ohms = effect.value;
    else
        error.shows_nothing = true;
}

}  // namespace eh
