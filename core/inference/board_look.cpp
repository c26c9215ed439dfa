// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/board_look.h"

#include <algorithm>
#include <set>

namespace eh {
namespace {

constexpr auto as_sound = static_cast<std::size_t>(Look::sound);

// Blocks with a fault, those on the board only, each once.
std::set<int> faulty_on_board(const MachinePlan& plan, const std::vector<FaultInstance>& faults) {
    std::set<int> blocks;
    for (const FaultInstance& fault : faults) {
        const int block = plan.find_block(fault.block);
        if (block >= 0 && is_on_board(plan.blocks[static_cast<std::size_t>(block)]))
            blocks.insert(block);
    }
    return blocks;
}

double found_probability(const LookShares& shares) {
    return found_looking_over * (1.0 - shares[as_sound]);
}

}  // namespace

bool is_on_board(const PlanBlock& block) {
    return !block.is_outside() && !block.is_instrument() && !block.kind->seen_from_outside;
}

double board_look_probability(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                              const std::vector<SeenPart>& found, const BenchConfiguration& configuration) {
    double probability = 1.0;
    std::set<int> said;
    for (const SeenPart& one : found) {
        const int block = plan.find_block(one.part);
        if (block < 0)
            continue;
        said.insert(block);
        const LookShares shares = look_shares(plan, faults, one.part, configuration);
        probability *= found_looking_over * shares[static_cast<std::size_t>(one.seen)];
    }
    for (const int block : faulty_on_board(plan, faults)) {
        if (said.count(block) == 0)
            probability *=
                1.0 - found_probability(look_shares(
                          plan, faults, plan.blocks[static_cast<std::size_t>(block)].id, configuration));
    }
    return probability;
}

std::vector<double> board_look_shares(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                                      const BenchConfiguration& configuration) {
    std::vector<double> shares(1 + plan.blocks.size(), 0.0);
    double left = 1.0;
    for (const int block : faulty_on_board(plan, faults)) {
        const double found = found_probability(
            look_shares(plan, faults, plan.blocks[static_cast<std::size_t>(block)].id, configuration));
        shares[1 + static_cast<std::size_t>(block)] = left * found;
        left *= 1.0 - found;
    }
    shares.front() = left;
    return shares;
}

}  // namespace eh
