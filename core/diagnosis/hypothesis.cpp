#include "core/diagnosis/hypothesis.h"

#include <algorithm>

namespace eh {

std::vector<Hypothesis> make_hypotheses(const MachinePlan& plan, const std::vector<std::string>& facts) {
    const FaultCatalogue& catalogue = plan.knowledge().catalogue;
    std::vector<Hypothesis> hypotheses;
    double total = 0.0;
    const auto add = [&](HypothesisKind kind, std::vector<FaultInstance> faults, double shipped,
                         double weight) {
        hypotheses.push_back({kind, std::move(faults), weight, shipped});
        total += weight;
    };
    for (const PlanBlock& block : plan.blocks) {
        for (const FaultSpec& fault : catalogue.faults) {
            if (fault.kind != block.kind->id)
                continue;
            double weight = fault.rate;
            for (const auto& [fact, factor] : fault.multipliers) {
                if (std::find(facts.begin(), facts.end(), fact) != facts.end())
                    weight *= factor;
            }
            add(HypothesisKind::fault, {{fault.id, block.id}}, fault.rate, weight);
        }
    }
    add(HypothesisKind::nothing_wrong, {}, catalogue.nothing_wrong_rate, catalogue.nothing_wrong_rate);
    const double none_share = catalogue.none_of_these_share;
    add(HypothesisKind::none_of_these, {}, none_share, total * none_share / (1.0 - none_share));
    for (Hypothesis& hypothesis : hypotheses)
        hypothesis.prior /= total;
    return hypotheses;
}

std::string hypothesis_title(const Hypothesis& hypothesis, const MachinePlan& plan) {
    switch (hypothesis.kind) {
        case HypothesisKind::nothing_wrong:
            return "Nothing wrong";
        case HypothesisKind::none_of_these:
            return "None of these";
        case HypothesisKind::fault:
            break;
    }
    std::string title;
    for (const FaultInstance& fault : hypothesis.faults)
        title += (title.empty() ? "" : ", and ") + fault_title(plan.knowledge(), plan.topology(), fault);
    return title;
}

}  // namespace eh
