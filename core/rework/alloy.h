// SPDX-License-Identifier: GPL-3.0-or-later
// Solder alloys (data/rework/alloys.json) and what becomes of a joint where two of them meet.
//
// Compositions are shares by mass, 0 to 1; temperatures degrees Celsius.
// Not for: alloys outside tin with lead, silver, copper and bismuth; mixtures with more than 60 % of either
// lead or bismuth are outside the shipped tables and refused.
#pragma once

#include <array>
#include <string>
#include <utility>
#include <vector>

#include "core/base/result.h"

namespace eh {

enum class Metal { tin, lead, silver, copper, bismuth };
inline constexpr int metal_count = 5;
// Its symbol.
std::string to_text(Metal metal);

// Share by mass of each metal, in the order of Metal; sums to 1.
using Composition = std::array<double, metal_count>;

struct Alloy {
    std::string id;
    std::string title;
    Composition shares{};
    double solidus_c = 0.0;
    double liquidus_c = 0.0;
    std::string gains;   // what its school likes it for
    std::string costs;   // what is traded away
    std::string source;  // of the temperatures
};

// Where the liquid of two metals begins to freeze: liquidus against the share of the second metal.
struct BinaryLiquidus {
    Metal solute = Metal::lead;                     // in tin
    std::vector<std::pair<double, double>> points;  // share of the solute of the two, °C; shares rising
};

// Lowest melting mixture of a set of metals: where the last liquid freezes.
struct Eutectic {
    std::vector<Metal> metals;  // in the order of Metal
    double celsius = 0.0;
};

struct AlloyBook {
    std::vector<Alloy> alloys;
    std::vector<BinaryLiquidus> liquidus;
    std::vector<Eutectic> eutectics;

    // nullptr where there is no alloy of this id.
    [[nodiscard]] const Alloy* find(const std::string& id) const;
};

// Refuses shares that do not sum to 1, a liquidus below its solidus, temperatures outside 60 to 400 °C,
// tables that do not rise, and ids that stand twice, with file and field.
Result<AlloyBook> parse_alloys(const std::string& text, const std::string& file);

struct Mixture {
    Composition shares{};
    double solidus_c = 0.0;   // the last liquid freezes here: the eutectic of the metals present
    double liquidus_c = 0.0;  // all is liquid from here
    std::string says;         // what it means for the joint
};

// Least share of a metal that counts as present; below it a joint is taken as free of that metal.
inline constexpr double trace_share = 0.0004;

// The joint where `added` meets what is left of `left`. `left_share` is the share by mass of the old solder
// in the mixture, 0 to 1 (refused outside). Bismuth with lead is refused with what to do: their ternary melts
// at 96 °C. Pure alloys give their own temperatures.
//
// The solidus is that of the eutectic of the metals present (Scheil: the last liquid of an uneven joint has
// its composition). The liquidus is read from the table of the chief solute in tin, lowered by the other
// solutes as each alone lowers it (dilute solutions, van 't Hoff); never below the solidus. Within some 10 K.
Result<Mixture> mix(const AlloyBook& book, const Alloy& left, const Alloy& added, double left_share);

// Liquidus of tin with that share of one other metal (share of the two), by monotone cubic interpolation of
// the table. Requires a table for the metal; shares outside the table are clamped.
double binary_liquidus_c(const AlloyBook& book, Metal solute, double share);

}  // namespace eh
