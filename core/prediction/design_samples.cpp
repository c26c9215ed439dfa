// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/design_samples.h"

#include <algorithm>
#include <cmath>

#include "core/base/random.h"
#include "core/machine/simulation/machine_model.h"
#include "core/prediction/sample_spread.h"

namespace eh {
namespace {

// The middles of as many stretches of 0..1 as there are places, in an order of chance.
std::vector<double> shuffled_ranks(std::size_t places, Random& random) {
    std::vector<double> ranks;
    ranks.reserve(places);
    for (std::size_t rank = 0; rank < places; ++rank)
        ranks.push_back((static_cast<double>(rank) + 0.5) / static_cast<double>(places));
    for (std::size_t i = places; i > 1; --i)
        std::swap(ranks[i - 1], ranks[static_cast<std::size_t>(random.below(static_cast<int>(i)))]);
    return ranks;
}

// Between the seeds of two blocks: odd and wide, so that no other seed of a job comes near.
constexpr std::uint64_t seeds_apart = 0x9e3779b97f4a7c15U;

double ratio(bool has, double met, double drawn) {
    return has ? met / drawn : (1.0 - met) / (1.0 - drawn);
}

}  // namespace

DesignShares shares_met(const ByHabit<double>& met) {
    return {met, 0.5};
}

std::vector<DesignSample> spread_designs(const ByHabit<double>& met, const DesignShares& drawn,
                                         std::size_t count, std::uint64_t seed) {
    std::vector<DesignSample> designs(count);
    Random random(seed);
    const auto with_empty_pack =
        static_cast<std::size_t>(std::lround(drawn.pack_empty * static_cast<double>(count)));
    for (std::size_t d = 0; d < count; ++d) {
        DesignSample& design = designs[d];
        design.parts = d;
        // Spread over the sequence, so that both states of the pack are met early.
        design.pack_empty = (d + 1) * with_empty_pack / count != d * with_empty_pack / count;
        design.pack_charge = evenly(d / 2);
        design.weight = ratio(design.pack_empty, empty_pack_share,
                              static_cast<double>(with_empty_pack) / static_cast<double>(count));
    }
    for (const bool empty : {true, false}) {
        std::vector<DesignSample*> of_state;
        for (DesignSample& design : designs) {
            if (design.pack_empty == empty)
                of_state.push_back(&design);
        }
        for (std::size_t h = 0; h < habit_count; ++h) {
            const std::vector<double> ranks = shuffled_ranks(of_state.size(), random);
            for (std::size_t d = 0; d < of_state.size(); ++d) {
                of_state[d]->habits[h] = ranks[d] < drawn.habits[h];
                of_state[d]->weight *= ratio(of_state[d]->habits[h], met[h], drawn.habits[h]);
            }
        }
    }
    return designs;
}

std::vector<DesignSample> spread_in_blocks(const ByHabit<double>& met, const DesignShares& drawn,
                                           std::size_t block, std::size_t count, std::uint64_t seed) {
    std::vector<DesignSample> all;
    all.reserve(count + block);
    for (std::uint64_t b = 0; all.size() < count; ++b) {
        for (DesignSample design : spread_designs(met, drawn, block, seed + b * seeds_apart)) {
            design.parts = all.size();
            design.pack_charge = evenly(all.size() / 2);
            all.push_back(design);
        }
    }
    return all;
}

std::vector<DesignSample> neighbours(const DesignSample& design) {
    std::vector<DesignSample> list(1, design);
    for (std::size_t h = 0; h < habit_count; ++h) {
        list.push_back(design);
        list.back().habits[h] = !design.habits[h];
    }
    list.push_back(design);
    list.back().pack_empty = !design.pack_empty;
    for (DesignSample& one : list)
        one.weight = 1.0;
    return list;
}

}  // namespace eh
