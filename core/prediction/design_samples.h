// SPDX-License-Identifier: GPL-3.0-or-later
// Which designs of machine a prediction is made of: nobody knows the habits of the machine's maker, nor how
// full its pack is, so that several are simulated.
#pragma once

#include <cstdint>
#include <vector>

#include "core/machine/model/design_variety.h"

namespace eh {

// One design, shared by all faults that are simulated in it.
struct DesignSample {
    ByHabit<bool> habits{};
    bool pack_empty = false;
    double pack_charge = 0.5;  // quantile (0..1) of how far a pack that is not empty is charged
    std::uint64_t parts = 0;   // which of the draws of part values
    // How much more often such a machine is met than it is among the samples, up to a factor of all.
    double weight = 1.0;
};

// How many designs are behind what a machine shows: those that every machine is drawn in, or all there are.
enum class Depth { few_designs, many_designs };

// How often designs are drawn: with a habit, and with an empty pack.
struct DesignShares {
    ByHabit<double> habits{};
    double pack_empty = 0.5;
    friend bool operator==(const DesignShares&, const DesignShares&) = default;
};

// As machines are met, with these shares of habits; but for the pack, both states of which are drawn alike:
// either hides much.
DesignShares shares_met(const ByHabit<double>& met);

// So many designs drawn with these shares, every one of which is met in about its share (Latin hypercube;
// McKay, Beckman and Conover 1979); which habits meet is left to chance, but always the same for a seed.
// `weight` makes up for drawing one oftener than it is met (importance sampling). Requires shares within
// 0..1, and beyond 0 and 1 where the share met is.
std::vector<DesignSample> spread_designs(const ByHabit<double>& met, const DesignShares& drawn,
                                         std::size_t count, std::uint64_t seed);

// The same in blocks of `block` designs, each of which is spread by itself: the first of `count` are as good
// as they can be, and more are added without drawing those anew. `count` is rounded up to whole blocks. With
// several shares each block is drawn in equal parts with each of them, and a design weighs by how often any
// of them draws it (the balance heuristic of multiple importance sampling; Veach and Guibas 1995). Requires
// one or more of them.
std::vector<DesignSample> spread_in_blocks(const ByHabit<double>& met, const std::vector<DesignShares>& drawn,
                                           std::size_t block, std::size_t count, std::uint64_t seed);

// A design and its neighbours: each differs in one habit or in the state of the pack, and in nothing else; so
// what the readings say of that one is told from all the rest. The design itself is the first, then follow
// the habits in their order, then the state of the pack. All weigh the same.
std::vector<DesignSample> neighbours(const DesignSample& design);

}  // namespace eh
