// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/simulation/known_ohms.h"

#include <algorithm>
#include <cmath>

#include "core/machine/simulation/machine_model.h"

namespace eh {
namespace {

constexpr double known_tolerance = 0.1;  // from one machine to the next of its kind
constexpr int most_rounds = 12;

double shown_ohms(const MachinePlan& plan, std::size_t net) {
    MachineModel model(plan, {}, {});
    DcSolver solver;
    BenchConfiguration off;
    model.configure(electrical_part(unpowered(off)));
    return model.ohms_to_ground(static_cast<int>(net), solver);
}

std::vector<PlanElement*> resistors_to_ground(MachinePlan& plan, int node) {
    std::vector<PlanElement*> list;
    for (PlanElement& element : plan.elements) {
        const bool here =
            (element.from == node && element.to == 0) || (element.to == node && element.from == 0);
        if (here && element.type == ElementType::resistor && element.when == ElementCondition::always)
            list.push_back(&element);
    }
    return list;
}

double& ohms_of(MachinePlan& plan, PlanElement& element) {
    PlanValue& value = element.values[value_ohms];
    return value.slot < 0 ? value.number : plan.slot_values[static_cast<std::size_t>(value.slot)];
}

}  // namespace

void fit_known_ohms(MachinePlan& plan) {
    const auto& nets = plan.topology().nets;
    // Nets touch each other through what stands between them, so that all are gone over again.
    for (int round = 0; round < most_rounds; ++round) {
        bool settled = true;
        for (std::size_t n = 0; n < nets.size(); ++n) {
            const auto resistors = nets[n].known_ohms ? resistors_to_ground(plan, plan.net_nodes[n])
                                                      : std::vector<PlanElement*>{};
            if (resistors.empty())
                continue;
            double own = 0.0;
            for (PlanElement* element : resistors)
                own += 1.0 / ohms_of(plan, *element);
            const double shown = shown_ohms(plan, n);
            const double wanted = own + 1.0 / *nets[n].known_ohms - 1.0 / shown;
            constexpr double least_share = 1e-3;  // of its conductance that a resistor keeps
            const double factor = own / std::max(wanted, least_share * own);
            for (PlanElement* element : resistors) {
                ohms_of(plan, *element) *= factor;
                element->tolerance = std::min(element->tolerance, known_tolerance);
            }
            constexpr double close = 1e-3;
            settled = settled && std::abs(std::log(factor)) < close;
        }
        if (settled)
            return;
    }
}

std::vector<int> known_ohms_misses(const MachinePlan& plan) {
    constexpr double share = 0.1;
    std::vector<int> misses;
    const auto& nets = plan.topology().nets;
    for (std::size_t n = 0; n < nets.size(); ++n) {
        if (nets[n].known_ohms && !(std::abs(shown_ohms(plan, n) / *nets[n].known_ohms - 1.0) <= share))
            misses.push_back(static_cast<int>(n));
    }
    return misses;
}

}  // namespace eh
