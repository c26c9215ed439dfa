// SPDX-License-Identifier: GPL-3.0-or-later
// Which machines in which configurations show the same, so that they are simulated once.
#include <algorithm>
#include <optional>
#include <tuple>

#include "core/machine/model/fault_reach.h"
#include "core/prediction/prediction_store.h"

namespace eh {
namespace {

// A net, and how shorts of parts on it punch through.
using ShortedNet = std::tuple<int, double, double>;

// Where a fault is nothing but a short to ground that is drawn alike for all parts.
std::optional<ShortedNet> plain_short(const FaultSpec& fault, const PlanBlock& block) {
    if (fault.effects.size() != 1 || !drawn_alike(fault.effects.front()))
        return std::nullopt;
    const Effect& effect = fault.effects.front();
    return ShortedNet{block.pin_nodes.at(effect.pin), effect.knee_volts.median, effect.knee_volts.factor};
}

}  // namespace

bool PredictionStore::changes_when_held(const std::vector<FaultInstance>& faults) const {
    return std::any_of(faults.begin(), faults.end(), [&](const FaultInstance& fault) {
        const auto& effects = plan_->knowledge().catalogue.find(fault.fault)->effects;
        return std::any_of(effects.begin(), effects.end(),
                           [](const Effect& effect) { return effect.at_rest; });
    });
}

PredictionStore::Scene PredictionStore::scene(MachineNumber number, const BenchConfiguration& asked,
                                              bool powered) const {
    Scene scene{number, powered ? electrical_part(asked) : electrical_part(unpowered(asked))};
    BenchConfiguration& configuration = scene.configuration;
    std::vector<FaultInstance> showing;
    std::vector<int> streams;
    bool of_charger = false;
    bool of_lead = false;
    bool of_instruments = false;
    std::vector<std::string> replaced;
    std::vector<std::string> lent;
    for (std::size_t f = 0; f < machines_[number].faults.size(); ++f) {
        const FaultInstance& fault = machines_[number].faults[f];
        if (!fault_can_show(*plan_, fault, configuration, powered))
            continue;
        showing.push_back(fault);
        streams.push_back(machines_[number].streams[f]);
        const PlanBlock& block = plan_->blocks[static_cast<std::size_t>(plan_->find_block(fault.block))];
        const bool outside = !block.family.empty();
        const bool is_lead = outside && block.id == lead_block_id(block.family);
        of_lead = of_lead || is_lead;
        of_charger = of_charger || (outside && !is_lead);
        of_instruments = of_instruments || block.is_instrument();
        const auto keep = [&](const std::vector<std::string>& from, std::vector<std::string>& to) {
            if (std::binary_search(from.begin(), from.end(), fault.block))
                insert_block(to, fault.block);
        };
        keep(configuration.replaced, replaced);
        keep(configuration.lent, lent);
    }
    // By the faults that show: a scene of a scene is itself.
    configuration.plug_held = configuration.plug_held && changes_when_held(showing);
    configuration.replaced = std::move(replaced);
    // What they put right is not among the faults that show any more.
    configuration.handled.clear();
    configuration.power_was_cut = false;
    configuration.lent = std::move(lent);
    configuration.second_instruments = configuration.second_instruments && of_instruments;
    if (!of_charger)
        configuration.charger = Owner::bench;
    if (!of_lead)
        configuration.lead = Owner::bench;
    scene.machine = showing.size() == machines_[number].faults.size()
                        ? number
                        : number_of({std::move(showing), std::move(streams), machines_[number].depth});
    return scene;
}

PredictionStore::Scene PredictionStore::twin_of(const Scene& scene) const {
    const Machine machine = machines_[scene.machine];
    const BenchConfiguration& configuration = scene.configuration;
    const auto stands = [&](const std::string& block) {
        const auto listed = [&](const std::vector<std::string>& list) {
            return std::binary_search(list.begin(), list.end(), block);
        };
        return !listed(configuration.removed) && !listed(configuration.replaced) &&
               !listed(configuration.lent);
    };
    if (machine.faults.empty() || machine.streams.front() != 0 || !stands(machine.faults.front().block))
        return scene;
    const FaultInstance& own = machine.faults.front();
    const auto short_at = [&](const FaultSpec& spec, const PlanBlock& block) -> std::optional<ShortedNet> {
        return spec.refit ? std::nullopt : plain_short(spec, block);
    };
    const auto& catalogue = plan_->knowledge().catalogue;
    const auto wanted = own.ohms || own.knee_volts
                            ? std::nullopt
                            : short_at(*catalogue.find(own.fault),
                                       plan_->blocks[static_cast<std::size_t>(plan_->find_block(own.block))]);
    if (!wanted)
        return scene;
    for (const PlanBlock& block : plan_->blocks) {
        const bool taken = std::any_of(machine.faults.begin() + 1, machine.faults.end(),
                                       [&](const FaultInstance& other) { return other.block == block.id; });
        if (taken || !stands(block.id) || block.is_outside())
            continue;
        for (const FaultSpec& spec : catalogue.faults) {
            if (spec.kind != block.kind->id || short_at(spec, block) != wanted)
                continue;
            std::vector<FaultInstance> faults = machine.faults;
            faults.front() = {spec.id, block.id, {}, {}, own.severity};
            return {number_of({std::move(faults), machine.streams, machine.depth}), scene.configuration};
        }
    }
    return scene;
}

Views PredictionStore::moved_heat(const Views& views, MachineNumber from, MachineNumber to) const {
    const std::lock_guard lock(mutex_);
    const auto block_of = [&](MachineNumber machine) {
        return static_cast<std::size_t>(plan_->find_block(machines_[machine].faults.front().block));
    };
    const std::size_t source = block_of(from);
    const std::size_t target = block_of(to);
    Views moved = views;
    for (PoweredView& view : moved) {
        const auto rise = [&](std::size_t block) {
            return view.first_shunt_watts *
                   static_cast<float>(plan_->blocks[block].kind->heat_kelvin_per_watt);
        };
        std::vector<float>& rises = view.rise_kelvin.own();
        const auto moved_by = [&](std::size_t block, float kelvin) {
            const double linear = unsettled_rise(double{rises[block]}) + double{kelvin};
            rises[block] = static_cast<float>(settled_rise(std::max(0.0, linear)));
        };
        moved_by(source, -rise(source));
        moved_by(target, rise(target));
    }
    return moved;
}

PredictionStore::Scene PredictionStore::before_plugging(const Scene& at) const {
    BenchConfiguration before = at.configuration;
    before.charger_connected = false;
    return scene(at.machine, before, true);
}

bool PredictionStore::is_mirrored(const Scene& scene) const {
    const BenchConfiguration& configuration = scene.configuration;
    if (!configuration.charger_connected || configuration.side != PlugSide::b)
        return false;
    const auto twins = plug_side_nodes(*plan_, plan_->port_index(configuration.port));
    const auto& faults = machines_[scene.machine].faults;
    return !twins.empty() && std::none_of(faults.begin(), faults.end(), [&](const FaultInstance& fault) {
        return std::any_of(twins.begin(), twins.end(), [&](const auto& pair) {
            return fault_touches(*plan_, fault, pair.first) || fault_touches(*plan_, fault, pair.second);
        });
    });
}

}  // namespace eh
