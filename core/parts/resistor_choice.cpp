// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/resistor_choice.h"

#include <algorithm>
#include <cmath>
#include <tuple>

#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double unknown_tolerance = 0.01;
constexpr double least_ohms = 1e-3;
constexpr double most_ohms = 1e9;
constexpr double within_reach = 0.3;  // farther off than this is no choice

ResistorChoice judged(ResistorChoice choice, double wanted, double tolerance, double allowed) {
    choice.deviation = choice.ohms / wanted - 1.0;
    choice.worst = std::max(std::abs((1.0 + choice.deviation) * (1.0 + tolerance) - 1.0),
                            std::abs((1.0 + choice.deviation) * (1.0 - tolerance) - 1.0));
    choice.good_enough = choice.worst <= allowed * (1.0 + 1e-9);
    return choice;
}

struct AtHand {
    std::size_t index;
    double ohms;
    double tolerance;
    int count;
};

}  // namespace

RoleDemand demand_of(ResistorRole role) {
    switch (role) {
        case ResistorRole::identification:
            return {role, "Identification (ID, Rd, Rp)", 0.05,
                    "A comparator sorts its volts into classes: beyond 5 % the wrong charger is seen."};
        case ResistorRole::current_sense:
            return {
                role, "Current sense", 0.01,
                "Limits and the battery's counting follow it: 1 %, and the same ohms, never two guesses."};
        case ResistorRole::divider:
            return {role, "Divider (feedback, input sense)", 0.02, "Sets volts: an error of both arms adds."};
        case ResistorRole::pull_up:
            return {role, "Pull-up or pull-down", 0.3,
                    "Only holds a level: a third more or less does no harm."};
        case ResistorRole::link:
            return {role, "Damping or series resistor", 0.2, "Takes edges off; 20 % does no harm."};
    }
    return {};
}

Result<std::vector<ResistorChoice>> choose_resistors(const Stock& stock, double wanted, ResistorRole role,
                                                     std::size_t most) {
    if (!(wanted >= least_ohms && wanted <= most_ohms))
        return refused("a resistor has between 1 mΩ and 1 GΩ", "wanted value");
    std::vector<AtHand> at_hand;
    for (std::size_t i = 0; i < stock.parts.size(); ++i) {
        const StockPart& part = stock.parts[i];
        if (part.kind == PartKind::resistor && part.count > 0 && part.value && *part.value > 0.0)
            at_hand.push_back({i, *part.value, part.tolerance.value_or(unknown_tolerance), part.count});
    }
    if (at_hand.empty())
        return Error{ErrorKind::not_found, "no resistor is in stock; enter some, with their values", "stock"};
    std::sort(at_hand.begin(), at_hand.end(),
              [](const AtHand& a, const AtHand& b) { return a.ohms < b.ohms; });
    const double allowed = demand_of(role).tolerance;
    std::vector<ResistorChoice> choices;
    for (const AtHand& one : at_hand)
        if (std::abs(one.ohms / wanted - 1.0) <= within_reach)
            choices.push_back(
                judged({Joined::alone, {one.index}, one.ohms, 0, 0, false}, wanted, one.tolerance, allowed));
    // For each first part the best partner stands where the sum crosses the wanted value: a search in the
    // sorted list, so that large stocks stay quick.
    const auto pair_up = [&](Joined joined, const auto& partner_of, const auto& together) {
        for (const AtHand& first : at_hand) {
            const double partner = partner_of(first.ohms);
            if (!(partner > 0.0))
                continue;
            auto place = std::lower_bound(at_hand.begin(), at_hand.end(), partner,
                                          [](const AtHand& a, double ohms) { return a.ohms < ohms; });
            for (auto second : {place == at_hand.begin() ? at_hand.end() : std::prev(place), place}) {
                if (second == at_hand.end() || second->ohms < first.ohms ||
                    (second->index == first.index && first.count < 2))
                    continue;
                const double ohms = together(first.ohms, second->ohms);
                if (std::abs(ohms / wanted - 1.0) <= within_reach)
                    choices.push_back(judged({joined, {first.index, second->index}, ohms, 0, 0, false},
                                             wanted, std::max(first.tolerance, second->tolerance), allowed));
            }
        }
    };
    pair_up(
        Joined::in_series, [&](double ohms) { return wanted - ohms; },
        [](double a, double b) { return a + b; });
    pair_up(
        Joined::in_parallel,
        [&](double ohms) { return ohms > wanted ? wanted * ohms / (ohms - wanted) : 0.0; },
        [](double a, double b) { return a * b / (a + b); });
    std::stable_sort(choices.begin(), choices.end(), [](const ResistorChoice& a, const ResistorChoice& b) {
        return std::tuple(!a.good_enough, a.parts.size(), std::abs(a.deviation), a.worst) <
               std::tuple(!b.good_enough, b.parts.size(), std::abs(b.deviation), b.worst);
    });
    if (choices.size() > most)
        choices.resize(most);
    return choices;
}

}  // namespace eh
