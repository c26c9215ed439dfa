// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/generating_model.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace eh {
namespace {

constexpr double highest_share = 0.9;
constexpr double triple_share = 1.0 / 3.0;
constexpr const char* unknown_prefix = "unknown_";

// Between 1/factor and factor, evenly on a log scale.
double moved(Random& random, double factor) {
    return std::pow(factor, 2.0 * random.uniform() - 1.0);
}

Protection another(Protection protection, Random& random) {
    constexpr std::array all{Protection::foldback, Protection::hiccup, Protection::latched};
    const auto own = std::find(all.begin(), all.end(), protection) - all.begin();
    return all[static_cast<std::size_t>((own + 1 + random.below(2)) % 3)];
}

bool is_unknown(const FaultInstance& fault) {
    return fault.fault.rfind(unknown_prefix, 0) == 0;
}

}  // namespace

Knowledge perturbed(const Knowledge& knowledge, const Perturbation& perturbation, std::uint64_t seed) {
    Random random(seed);
    Knowledge moved_knowledge = knowledge;
    for (FaultSpec& fault : moved_knowledge.catalogue.faults) {
        fault.rate = std::min(1.0, fault.rate * moved(random, perturbation.rate_factor));
        for (Cause& cause : fault.causes)
            cause.share = std::min(highest_share, cause.share * moved(random, perturbation.rate_factor));
    }
    for (double& share : moved_knowledge.variety.habit_shares) {
        const double moved_odds = share / (1.0 - share) * moved(random, perturbation.rate_factor);
        share = share < 1.0 ? moved_odds / (1.0 + moved_odds) : share;
    }
    for (ChargerSpec& charger : moved_knowledge.kit.chargers) {
        if (perturbation.other_protection)
            charger.protection = another(charger.protection, random);
    }
    return moved_knowledge;
}

MachineSource::MachineSource(const MachinePlan& plan, const Perturbation& perturbation, std::uint64_t seed)
    : plan_(plan), perturbation_(perturbation), random_(seed), hypotheses_(make_hypotheses(plan, {})) {}

const Hypothesis& MachineSource::drawn(const std::vector<double>& weights) {
    double total = 0.0;
    for (const double weight : weights)
        total += weight;
    double left = random_.uniform() * total;
    std::size_t chosen = 0;
    for (std::size_t h = 0; h < weights.size(); ++h) {
        if (weights[h] <= 0.0)
            continue;
        chosen = h;
        left -= weights[h];
        if (left < 0.0)
            break;
    }
    return hypotheses_[chosen];
}

std::vector<FaultInstance> MachineSource::untied(const std::vector<std::string>& facts) {
    const std::size_t count = random_.uniform() < triple_share ? 3 : 2;
    std::vector<FaultInstance> faults;
    while (faults.size() < count) {
        std::vector<double> weights;
        for (const Hypothesis& hypothesis : hypotheses_) {
            const bool free = hypothesis.faults.size() == 1 &&
                              std::none_of(faults.begin(), faults.end(), [&](const FaultInstance& fault) {
                                  return fault.block == hypothesis.faults.front().block;
                              });
            weights.push_back(
                free ? intake_weight(hypothesis.faults.front(), plan_.knowledge().catalogue, {facts, {}})
                     : 0.0);
        }
        faults.push_back(drawn(weights).faults.front());
    }
    return faults;
}

std::vector<std::string> MachineSource::facts_with(const std::vector<FaultInstance>& faults) {
    std::vector<std::string> facts;
    for (const IntakeFact& fact : plan_.knowledge().catalogue.facts) {
        if (random_.uniform() < fact_probability(fact, faults, plan_.knowledge().catalogue))
            facts.push_back(fact.id);
    }
    return facts;
}

DrawnMachine MachineSource::next() {
    DrawnMachine machine;
    const double kind = random_.uniform();
    // An unknown effect comes alone: beside a known fault there would be something to find.
    const bool alone = perturbation_.unknown_effects;
    const bool tied = !alone && kind < perturbation_.tied_share;
    if (!alone && !tied && kind < perturbation_.tied_share + perturbation_.untied_share) {
        machine.facts = {random_.uniform() < 0.5 ? "liquid" : "earlier_repair"};
        machine.faults = untied(machine.facts);
    } else {
        std::vector<double> weights;
        for (const Hypothesis& hypothesis : hypotheses_) {
            const bool fits = hypothesis.kind != HypothesisKind::none_of_these &&
                              (hypothesis.faults.size() > 1) == tied &&
                              (!perturbation_.unknown_effects ||
                               (!hypothesis.faults.empty() && is_unknown(hypothesis.faults.front())));
            weights.push_back(fits ? hypothesis.prior : 0.0);
        }
        machine.faults = drawn(weights).faults;
        machine.facts = facts_with(machine.faults);
    }
    machine.seed = random_.next();
    return machine;
}

namespace {

FaultSpec unknown_fault(const BlockKind& kind, const std::string& what, Effect effect) {
    FaultSpec fault;
    fault.id = unknown_prefix + what + "_" + kind.id;
    fault.kind = kind.id;
    fault.title = "has an effect that the catalogue does not hold (" + what + ")";
    fault.rate = 0.01;
    fault.effects = {std::move(effect)};
    fault.remedies = {{Work::replace, 0.0, 0.0}};
    return fault;
}

Effect shunt_between(const std::string& pin, const std::string& to, double ohms) {
    Effect effect;
    effect.type = EffectType::shunt;
    effect.pin = pin;
    effect.to = to;
    effect.ohms = {ohms, 2.0};
    return effect;
}

}  // namespace

Knowledge with_unknown_effects(const Knowledge& knowledge, const Topology& topology, std::uint64_t seed) {
    Random random(seed);
    Knowledge strange = knowledge;
    auto& faults = strange.catalogue.faults;
    std::set<std::string> kinds;
    for (const Block& block : topology.blocks)
        kinds.insert(block.kind);
    for (const std::string& id : kinds) {
        const BlockKind& kind = *knowledge.find_kind(id);
        constexpr double leak_between_ohms = 40.0;
        constexpr double leaky_ohms = 60.0;
        constexpr double drift_low = 0.55;
        constexpr double drift_span = 0.25;
        for (std::size_t a = 0; a + 1 < kind.pins.size(); ++a) {
            const std::size_t b =
                a + 1 + static_cast<std::size_t>(random.below(static_cast<int>(kind.pins.size() - a - 1)));
            faults.push_back(unknown_fault(kind, "between_" + kind.pins[a] + "_" + kind.pins[b],
                                           shunt_between(kind.pins[a], kind.pins[b], leak_between_ohms)));
        }
        faults.push_back(unknown_fault(kind, "leaks_at_" + kind.pins.back(),
                                       shunt_between(kind.pins.back(), "gnd", leaky_ohms)));
        if (kind.params.count("volts") != 0 && kind.role == BlockRole::plain) {
            Effect drift;
            drift.type = EffectType::param;
            drift.name = "volts";
            drift.value = kind.params.at("volts") * (drift_low + drift_span * random.uniform());
            faults.push_back(unknown_fault(kind, "drifted", drift));
        }
    }
    return strange;
}

}  // namespace eh
