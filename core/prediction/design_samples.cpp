// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/design_samples.h"

#include <algorithm>
#include <cassert>
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

// The share of so many places that a share comes to: shuffled_ranks() below it.
double share_of_places(double share, std::size_t places) {
    const double below = std::ceil(share * static_cast<double>(places) - 0.5);
    return std::clamp(below / static_cast<double>(places), 0.0, 1.0);
}

std::size_t with_empty_pack(const DesignShares& drawn, std::size_t count) {
    return static_cast<std::size_t>(std::lround(drawn.pack_empty * static_cast<double>(count)));
}

// How often a design comes out like this one among `count` that are spread with the shares, relative to how
// often it is met.
double drawn_to_met(const DesignSample& design, const ByHabit<double>& met, const DesignShares& drawn,
                    std::size_t count) {
    const std::size_t empty = with_empty_pack(drawn, count);
    const std::size_t places = design.pack_empty ? empty : count - empty;
    if (places == 0)
        return 0.0;
    const double met_state = design.pack_empty ? empty_pack_share : 1.0 - empty_pack_share;
    double often = static_cast<double>(places) / static_cast<double>(count) / met_state;
    for (std::size_t h = 0; h < habit_count; ++h) {
        // What comes out as it is met is left alone, however few places there are.
        if (drawn.habits[h] == met[h])
            continue;
        const double share = share_of_places(drawn.habits[h], places);
        often *= design.habits[h] ? share / met[h] : (1.0 - share) / (1.0 - met[h]);
    }
    return often;
}

// Some with each of the shares, taken in turns, weighed by how often any of these draws them.
std::vector<DesignSample> spread_over(const ByHabit<double>& met, const std::vector<DesignShares>& drawn,
                                      std::size_t count, std::uint64_t seed) {
    std::vector<std::vector<DesignSample>> parts;
    for (std::size_t p = 0; p < drawn.size(); ++p) {
        const std::size_t size = count * (p + 1) / drawn.size() - count * p / drawn.size();
        parts.push_back(spread_designs(met, drawn[p], size, seed + p));
    }
    std::vector<DesignSample> all;
    all.reserve(count);
    for (std::size_t turn = 0; all.size() < count; ++turn) {
        for (const auto& part : parts) {
            if (turn < part.size())
                all.push_back(part[turn]);
        }
    }
    for (DesignSample& design : all) {
        double often = 0.0;
        for (std::size_t p = 0; p < drawn.size(); ++p)
            often += drawn_to_met(design, met, drawn[p], parts[p].size()) *
                     static_cast<double>(parts[p].size()) / static_cast<double>(count);
        design.weight = 1.0 / often;
    }
    return all;
}

}  // namespace

DesignShares shares_met(const ByHabit<double>& met) {
    return {met, 0.5};
}

std::vector<DesignSample> spread_designs(const ByHabit<double>& met, const DesignShares& drawn,
                                         std::size_t count, std::uint64_t seed) {
    std::vector<DesignSample> designs(count);
    Random random(seed);
    const std::size_t empty_packs = with_empty_pack(drawn, count);
    for (std::size_t d = 0; d < count; ++d) {
        DesignSample& design = designs[d];
        design.parts = d;
        // Spread over the sequence, so that both states of the pack are met early.
        design.pack_empty = (d + 1) * empty_packs / count != d * empty_packs / count;
        design.pack_charge = evenly(d / 2);
    }
    for (const bool empty : {true, false}) {
        std::vector<DesignSample*> of_state;
        for (DesignSample& design : designs) {
            if (design.pack_empty == empty)
                of_state.push_back(&design);
        }
        for (std::size_t h = 0; h < habit_count; ++h) {
            const std::vector<double> ranks = shuffled_ranks(of_state.size(), random);
            for (std::size_t d = 0; d < of_state.size(); ++d)
                of_state[d]->habits[h] = ranks[d] < drawn.habits[h];
        }
    }
    for (DesignSample& design : designs)
        design.weight = 1.0 / drawn_to_met(design, met, drawn, count);
    return designs;
}

std::vector<DesignSample> spread_in_blocks(const ByHabit<double>& met, const std::vector<DesignShares>& drawn,
                                           std::size_t block, std::size_t count, std::uint64_t seed) {
    assert(!drawn.empty());
    std::vector<DesignSample> all;
    all.reserve(count + block);
    for (std::uint64_t b = 0; all.size() < count; ++b) {
        for (DesignSample design : spread_over(met, drawn, block, seed + b * seeds_apart)) {
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
