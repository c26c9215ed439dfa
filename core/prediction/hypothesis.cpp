// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/hypothesis.h"

#include <algorithm>
#include <tuple>

#include "core/machine/model/fault_reach.h"

namespace eh {
namespace {

// Whether a fault at `from` reaches `to`, in the sense of a cause.
bool reaches(const MachinePlan& plan, const PlanBlock& from, const PlanBlock& to, CauseReach reach) {
    switch (reach) {
        case CauseReach::net:
            return std::any_of(from.pin_nodes.begin(), from.pin_nodes.end(), [&](const auto& pin) {
                return pin.second > 0 &&
                       std::any_of(to.pin_nodes.begin(), to.pin_nodes.end(),
                                   [&](const auto& other) { return other.second == pin.second; });
            });
        case CauseReach::port:
            return from.port >= 0 && from.port == to.port;
        case CauseReach::machine:
            return true;
        case CauseReach::behind:
            return from.port >= 0 && to.port < 0;
        case CauseReach::outside: {
            const auto& ports = plan.topology().ports;
            return !to.family.empty() &&
                   (from.port < 0 || ports[static_cast<std::size_t>(from.port)].family == to.family);
        }
    }
    return false;
}

std::string place_of(const MachinePlan& plan, const PlanBlock& block) {
    if (block.is_outside())
        return {};
    return block.port < 0 ? board_place : plan.topology().ports[static_cast<std::size_t>(block.port)].id;
}

// Facts with the places that this machine has.
std::map<std::string, std::vector<std::string>> known_places(
    const Topology& topology, const std::map<std::string, std::vector<std::string>>& said) {
    std::map<std::string, std::vector<std::string>> known;
    for (const auto& [fact, places] : said) {
        for (const std::string& place : places) {
            if (place == board_place || topology.find_port(place) != nullptr)
                known[fact].push_back(place);
        }
    }
    return known;
}

class HypothesisMaker {
  public:
    HypothesisMaker(const MachinePlan& plan, const Beforehand& beforehand)
        : plan_(plan), catalogue_(plan.knowledge().catalogue), beforehand_(beforehand) {
        beforehand_.fact_places = known_places(plan.topology(), beforehand.fact_places);
    }

    std::vector<Hypothesis> run() {
        for (const PlanBlock& block : plan_.blocks) {
            for (const FaultSpec& fault : catalogue_.faults) {
                if (fault.kind == block.kind->id && finds_a_place(plan_, block, fault))
                    add_fault(block, fault);
            }
        }
        add(HypothesisKind::nothing_wrong, {}, catalogue_.nothing_wrong_rate, catalogue_.nothing_wrong_rate);
        const double none_share = catalogue_.none_of_these_share;
        add(HypothesisKind::none_of_these, {}, none_share, total_ * none_share / (1.0 - none_share));
        for (Hypothesis& hypothesis : hypotheses_)
            hypothesis.prior /= total_;
        return std::move(hypotheses_);
    }

  private:
    void add(HypothesisKind kind, std::vector<FaultInstance> faults, double shipped, double weight) {
        hypotheses_.push_back({kind, std::move(faults), weight, shipped});
        total_ += weight;
    }

    void add_fault(const PlanBlock& block, const FaultSpec& fault) {
        const FaultInstance instance{fault.id, block.id};
        const auto& replaced = beforehand_.replaced;
        const bool was_replaced = std::find(replaced.begin(), replaced.end(), block.id) != replaced.end();
        if (fault.refit) {
            if (was_replaced)
                add(HypothesisKind::fault, {instance}, fault.rate,
                    refit_rate(instance, catalogue_, beforehand_) * catalogue_.nothing_wrong_rate);
            return;
        }
        const auto factor = beforehand_.rate_factors.find(fault.id);
        const double weight = intake_weight(instance, catalogue_, beforehand_, place_of(plan_, block)) *
                              (was_replaced ? catalogue_.worked_on_factor : 1.0) *
                              (factor == beforehand_.rate_factors.end() ? 1.0 : factor->second);
        double tied_share = 0.0;
        for (const Cause& cause : fault.causes)
            tied_share += add_tied(block, fault, cause, weight);
        add(HypothesisKind::fault, {instance}, fault.rate, weight * std::max(0.0, 1.0 - tied_share));
    }

    // Adds the pairs; returns the share of the cause's cases that they take, 0 where nothing is in reach.
    double add_tied(const PlanBlock& block, const FaultSpec& fault, const Cause& cause, double weight) {
        const FaultSpec* effect = catalogue_.find(cause.fault);
        std::vector<const PlanBlock*> within;
        for (const PlanBlock& other : plan_.blocks) {
            if (effect->kind == other.kind->id && &other != &block &&
                reaches(plan_, block, other, cause.reach) && finds_a_place(plan_, other, *effect))
                within.push_back(&other);
        }
        for (const PlanBlock* other : within) {
            const double share = cause.share / static_cast<double>(within.size());
            add(HypothesisKind::fault, {{fault.id, block.id}, {effect->id, other->id}}, fault.rate * share,
                weight * share);
        }
        return within.empty() ? 0.0 : cause.share;
    }

    const MachinePlan& plan_;
    const FaultCatalogue& catalogue_;
    Beforehand beforehand_;  // with the places of facts that this machine has
    std::vector<Hypothesis> hypotheses_;
    double total_ = 0.0;
};

}  // namespace

std::vector<Hypothesis> make_hypotheses(const MachinePlan& plan, const Beforehand& beforehand) {
    return HypothesisMaker(plan, beforehand).run();
}

double fact_probability(const IntakeFact& fact, const std::vector<FaultInstance>& faults,
                        const FaultCatalogue& catalogue) {
    constexpr double highest = 0.9;  // nobody tells everything
    double probability = fact.share;
    for (const FaultInstance& fault : faults) {
        const auto& multipliers = catalogue.find(fault.fault)->multipliers;
        if (const auto found = multipliers.find(fact.id); found != multipliers.end())
            probability *= found->second;
    }
    return std::min(highest, probability);
}

double intake_weight(const FaultInstance& fault, const FaultCatalogue& catalogue,
                     const Beforehand& beforehand, const std::string& place) {
    constexpr double counts_elsewhere = 0.3;
    const FaultSpec& spec = *catalogue.find(fault.fault);
    const auto& [facts, denied] = std::tie(beforehand.facts, beforehand.denied);
    double weight = spec.rate;
    for (const auto& [fact, factor] : spec.multipliers) {
        if (std::find(facts.begin(), facts.end(), fact) == facts.end())
            continue;
        const auto places = beforehand.fact_places.find(fact);
        const bool elsewhere =
            places != beforehand.fact_places.end() && !place.empty() && !places->second.empty() &&
            std::find(places->second.begin(), places->second.end(), place) == places->second.end();
        weight *= elsewhere ? 1.0 + counts_elsewhere * (factor - 1.0) : factor;
    }
    for (const IntakeFact& fact : catalogue.facts) {
        if (std::find(denied.begin(), denied.end(), fact.id) != denied.end())
            weight *= (1.0 - fact_probability(fact, {fault}, catalogue)) / (1.0 - fact.share);
    }
    return weight;
}

double refit_rate(const FaultInstance& fault, const FaultCatalogue& catalogue, const Beforehand& beforehand) {
    constexpr double highest = 0.9;  // some such work goes well
    const FaultSpec& spec = *catalogue.find(fault.fault);
    const auto origin = beforehand.origins.find(fault.block);
    if (origin == beforehand.origins.end())
        return spec.rate;
    const auto factor = spec.origin_factors.find(origin->second);
    return factor == spec.origin_factors.end() ? spec.rate : std::min(highest, spec.rate * factor->second);
}

double second_fault_share(const Beforehand& beforehand, const FaultCatalogue& catalogue) {
    double share = 0.0;
    for (const IntakeFact& fact : catalogue.facts) {
        if (std::find(beforehand.facts.begin(), beforehand.facts.end(), fact.id) != beforehand.facts.end())
            share = std::max(share, fact.second_fault);
    }
    return share;
}

std::vector<FaultInstance> faults_now(const Hypothesis& hypothesis, const FaultCatalogue& catalogue) {
    const auto is_refit = [&](const FaultInstance& fault) { return catalogue.find(fault.fault)->refit; };
    std::vector<FaultInstance> there;
    for (const FaultInstance& fault : hypothesis.faults) {
        const bool gone =
            !is_refit(fault) &&
            std::any_of(hypothesis.faults.begin(), hypothesis.faults.end(), [&](const FaultInstance& other) {
                return other.block == fault.block && is_refit(other);
            });
        if (!gone)
            there.push_back(fault);
    }
    return there;
}

const FaultInstance* fault_at(const Hypothesis& hypothesis, const std::string& block) {
    const auto found = std::find_if(hypothesis.faults.rbegin(), hypothesis.faults.rend(),
                                    [&](const FaultInstance& fault) { return fault.block == block; });
    return found == hypothesis.faults.rend() ? nullptr : &*found;
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
    for (const FaultInstance& fault : faults_now(hypothesis, plan.knowledge().catalogue))
        title += (title.empty() ? "" : ", and ") + fault_title(plan.knowledge(), plan.topology(), fault);
    return title;
}

}  // namespace eh
