// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/parties.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

#include "core/machine/model/fault_reach.h"
#include "core/machine/model/source_pieces.h"

namespace eh {
namespace {

// The faults of a hypothesis that no work has put right.
std::vector<FaultInstance> outstanding(const Hypothesis& hypothesis, const BenchConfiguration& now,
                                       const FaultCatalogue& catalogue) {
    std::vector<FaultInstance> left;
    for (const FaultInstance& fault : hypothesis.faults) {
        if (still_there(fault.block, *catalogue.find(fault.fault), now))
            left.push_back(fault);
    }
    return left;
}

}  // namespace

Parties make_parties(const Ranking& ranking, const PredictionTable& table, const BenchConfiguration& now,
                     const BenchCosts& costs) {
    const auto& hypotheses = table.hypotheses();
    const FaultCatalogue& catalogue = table.plan().knowledge().catalogue;
    std::vector<Party> list;
    using Key = std::pair<std::string, Work>;
    const Kit& kit = table.plan().knowledge().kit;
    std::map<Key, std::size_t> of_work;  // by part and kind of work; "" / "?" for the other kinds
    // An adapter and the lead that is fixed to it are changed together.
    const auto key_of = [&](HypothesisKind kind, const std::string& block, Work work) {
        return kind == HypothesisKind::none_of_these ? Key("?", Work::none)
                                                     : Key(changed_with(kit, block).front(), work);
    };
    const auto key_of_fault = [&](const FaultInstance& fault) {
        return key_of(HypothesisKind::fault, fault.block, work_for(fault, catalogue));
    };
    const auto count = [&](HypothesisKind kind, const FaultInstance& fault, double probability) {
        const Work work = kind == HypothesisKind::fault ? work_for(fault, catalogue) : Work::none;
        const auto [place, fresh] = of_work.emplace(key_of(kind, fault.block, work), list.size());
        if (fresh)
            list.push_back({fault.block, work, kind, fault});
        list[place->second].suspicion += probability;
    };
    std::vector<std::vector<FaultInstance>> left(hypotheses.size());
    // Most probable first, so that a party's fault is its leading one.
    for (const Suspicion& suspicion : ranking.suspicions) {
        const Hypothesis& hypothesis = hypotheses[suspicion.hypothesis];
        auto& faults = left[suspicion.hypothesis];
        faults = outstanding(hypothesis, now, catalogue);
        std::set<Key> counted;  // a part that is at fault in two ways is one part
        for (const FaultInstance& fault : faults) {
            if (counted.insert(key_of_fault(fault)).second)
                count(HypothesisKind::fault, fault, suspicion.probability);
        }
        // A machine whose faults are all put right has nothing wrong any more.
        if (faults.empty())
            count(hypothesis.kind == HypothesisKind::none_of_these ? hypothesis.kind
                                                                   : HypothesisKind::nothing_wrong,
                  {}, suspicion.probability);
    }
    std::vector<std::size_t> order(list.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t a, std::size_t b) { return list[a].suspicion > list[b].suspicion; });
    Parties parties;
    for (const std::size_t old : order) {
        of_work[key_of(list[old].kind, list[old].block, list[old].work)] = parties.list.size();
        Party party = std::move(list[old]);
        constexpr double explain_minutes = 3.0;
        if (party.kind == HypothesisKind::nothing_wrong)
            party.repair_minutes = explain_minutes;
        else if (party.kind == HypothesisKind::fault)
            party.repair_minutes = repair_minutes(party.fault, now, table.plan(), costs);
        parties.list.push_back(std::move(party));
    }
    parties.probability.assign(parties.list.size(), 0.0);
    parties.of_hypothesis.assign(hypotheses.size(), 0);
    parties.p_hypothesis.assign(hypotheses.size(), 0.0);
    for (const Suspicion& suspicion : ranking.suspicions) {
        const std::size_t h = suspicion.hypothesis;
        std::size_t party = parties.list.size();
        for (const FaultInstance& fault : left[h])
            party = std::min(party, of_work.at(key_of_fault(fault)));
        if (left[h].empty())
            party = of_work.at(key_of(hypotheses[h].kind, "", Work::none));
        parties.of_hypothesis[h] = party;
        parties.p_hypothesis[h] = suspicion.probability;
        parties.probability[party] += suspicion.probability;
    }
    return parties;
}

double repair_now_minutes(const std::vector<double>& probability, const Parties& parties,
                          const BenchCosts& costs) {
    // What the repair that is right costs is paid in any case; a wrong one comes on top of it.
    double right_minutes = 0.0;
    const double total = std::accumulate(probability.begin(), probability.end(), 0.0);
    for (std::size_t g = 0; g < probability.size(); ++g) {
        if (std::isfinite(parties.list[g].repair_minutes))
            right_minutes += probability[g] * parties.list[g].repair_minutes;
    }
    double wasted_minutes = std::numeric_limits<double>::infinity();
    for (std::size_t g = 0; g < probability.size(); ++g)
        wasted_minutes = std::min(wasted_minutes, (total - probability[g]) * (parties.list[g].repair_minutes +
                                                                              costs.failed_repair_minutes));
    return right_minutes + wasted_minutes;
}

const Party& first_to_repair(const Parties& parties) {
    constexpr double near_share = 0.5;
    const auto repairable = [](const Party& party) {
        return party.kind == HypothesisKind::fault && std::isfinite(party.repair_minutes);
    };
    const Party* first = &parties.list.front();
    if (!repairable(*first))
        return *first;
    const double least = near_share * first->suspicion;
    for (const Party& party : parties.list) {
        if (repairable(party) && party.suspicion >= least &&
            party.suspicion / party.repair_minutes > first->suspicion / first->repair_minutes)
            first = &party;
    }
    return *first;
}

bool is_second_of_its_part(const Parties& parties, const Party& party) {
    const auto first = std::find_if(parties.list.begin(), parties.list.end(),
                                    [&](const Party& other) { return other.block == party.block; });
    return &*first != &party;
}

double minutes_kept(const Parties& parties, const BenchConfiguration& now, const BenchConfiguration& to,
                    const MachinePlan& plan, const BenchCosts& costs) {
    if (to.case_open == now.case_open && to.board_out == now.board_out && to.handled == now.handled)
        return 0.0;
    double minutes = 0.0;
    for (std::size_t p = 0; p < parties.list.size(); ++p) {
        const Party& party = parties.list[p];
        if (party.kind == HypothesisKind::fault)
            minutes += parties.probability[p] *
                       (party.repair_minutes - repair_minutes(party.fault, to, plan, costs));
    }
    return minutes;
}

bool work_has_put_all_right(const Parties& parties, const BenchConfiguration& now, const BenchCosts& costs) {
    const Party& top = parties.list.front();
    return (!now.handled.empty() || now.power_was_cut) && top.kind == HypothesisKind::nothing_wrong &&
           top.suspicion >= costs.repair_due_probability;
}

}  // namespace eh
