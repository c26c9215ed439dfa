// SPDX-License-Identifier: GPL-3.0-or-later
// Ceramic capacitors on a rail: what rating it needs, what is left under its volts, what is lost when one of
// several is left off, and which of the drawer may take its place.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/base/result.h"
#include "core/parts/stock.h"

namespace eh {

// Share of the capacitance that is left at a share of the rated volts, lowest and highest of the parts of a
// class (data/rework/bias_bands.json); shipped bands are estimates.
struct BiasBand {
    std::string dielectric;  // X5R, X7R, C0G
    std::string package;     // 0402 ...; empty: any
    struct Point {
        double volts_share = 0.0;
        double least = 1.0;
        double most = 1.0;
    };
    std::vector<Point> points;  // volts_share rising from 0
};

// Reads the bands; refused with file and field.
Result<std::vector<BiasBand>> parse_bias_bands(const std::string& text, const std::string& file);

// A maker's curve as it was entered: volts and share left, volts rising.
using BiasCurve = std::vector<std::pair<double, double>>;
// "0 V 1; 5 V 0.8; 12 V 45%", points parted by ; or a new line. Refuses volts that do not rise and shares
// above 1.2.
Result<BiasCurve> parse_bias_curve(std::string_view text);

struct ShareLeft {
    double least = 1.0;
    double most = 1.0;
    bool estimated = true;  // from a shipped band, not an entered curve
};

// What is left of a capacitor of that class at `volts`; above its rating the rating's share. Classes without
// a band give 0.2 to 1: not known.
ShareLeft share_left(const std::vector<BiasBand>& bands, const std::string& dielectric,
                     const std::string& package, double rated_volts, double volts);
// By an entered curve; clamped to its ends.
ShareLeft share_left(const BiasCurve& curve, double volts);

// Rated volts that a ceramic on a rail of at most `highest_volts` must have, and those that are sensible.
// Common practice: a quarter above at least; twice for what is left of the capacitance.
struct RatingNeed {
    double at_least = 0.0;
    double better = 0.0;
};
RatingNeed rating_need(double highest_volts);

// One of `in_parallel` alike capacitors is left off.
struct LeftOff {
    double capacitance_share = 0.0;    // of what the rail had: (n - 1) / n
    double ripple_factor = 0.0;        // of the current that each remaining one takes: n / (n - 1)
    double ripple_volts_factor = 0.0;  // of the rail's ripple, where the capacitance sets it
    std::string says;
};
// Requires in_parallel >= 1; with one nothing remains and the sentence says so.
LeftOff leave_one_off(int in_parallel);

struct CapacitorNeed {
    double farads = 0.0;       // of the original
    double rated_volts = 0.0;  // of the original; 0: not known
    std::string dielectric;    // may be empty
    std::string package;       // that the pads take
    double rail_volts = 0.0;   // highest that the rail carries
};

struct CapacitorChoice {
    std::size_t part = 0;       // index in the stock
    double farads_least = 0.0;  // left at the rail's volts
    double farads_most = 0.0;
    double share_of_original = 0.0;  // middle of what is left, against the original's
    bool rated = false;              // rating at least what the rail needs
    bool same_size = false;
    bool sound = false;  // rated, fits and leaves 0.8 to 3 times what the original had
    std::string says;
};

// Capacitors of the stock (count > 0, between half and ten times the nominal value), best first: sound before
// not, nearest to the original's effective capacitance. Refuses rails outside 0 to 100 V and values outside
// 1 pF to 10 mF.
Result<std::vector<CapacitorChoice>> choose_capacitors(const Stock& stock, const std::vector<BiasBand>& bands,
                                                       const CapacitorNeed& need);

}  // namespace eh
